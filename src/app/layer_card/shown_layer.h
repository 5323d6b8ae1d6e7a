// The layer a page shows, by its number and its kind: what is set on the page reaches that layer or none,
// even when another one was chosen meanwhile, it was taken away, or a change before it was undone.
#pragma once

#include "app/session/session.h"

namespace juvenor::app {

class ShownLayer {
 public:
  explicit ShownLayer(Session& session) : session_(session) {}
  /// The page shows this one from now on.
  void set(const Layer& layer);
  /// As it is now; null when it is gone, or of another kind.
  LayerPointer now() const;
  uint32_t id() const { return id_; }

  using Edit = std::function<Result<Document>(const Document& document, const Layer& layer)>;
  /// Shows the edit on the easel, while something is dragged.
  void preview(const Edit& edit) const;
  /// Makes it a step. What is wrong is told to the artist; false then.
  bool keep(const QString& step, const Edit& edit) const;

 private:
  Session& session_;
  uint32_t id_ = 0;
  const SourceKind* kind_ = nullptr;
};

}  // namespace juvenor::app
