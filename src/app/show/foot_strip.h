// A strip of small pictures at the easel's foot: the cameras that are kept, or the variants of the skin. A
// press goes there, a menu does the rest. The pictures are made beside the window when someone looks, and
// follow the work.
#pragma once

#include <QTimer>
#include <QWidget>

#include "app/easel/easel.h"
#include "app/engine/beside.h"

class QHBoxLayout;
class QLabel;
class QToolButton;

namespace juvenor::app {

class FootStrip : public QWidget {
  Q_OBJECT
 public:
  enum class Of { Cameras, Variants };
  FootStrip(Of of, Session& session, Easel& easel);

  /// Keeps the view, or which layers show, as one more.
  void keep();
  /// Goes to a camera, or shows a variant, by its number.
  void goTo(uint32_t id);
  /// Whether all pictures are of the work as it is.
  bool upToDate() const { return !later_.isActive() && waiting_ == 0; }

 protected:
  void showEvent(QShowEvent* event) override;
  void hideEvent(QHideEvent* event) override;

 private:
  struct Tile {
    uint32_t id = 0;
    std::string name;
    bool operator==(const Tile&) const = default;
  };
  struct Wanted {
    uint32_t id = 0;
    Document document;
    Camera camera;
  };
  struct Wish {
    std::vector<Wanted> pictures;
    uint64_t round = 0;
  };
  std::vector<Tile> tilesNow() const;
  void refresh();
  void mark();
  QToolButton* tileButton(const Tile& tile);
  void menu(uint32_t id, const QPoint& at);
  void apply(Result<Document> edited, const QString& name);
  void rename(uint32_t id);
  void wish();
  void make(const Wish& wish, const Progress& wanted);
  void take(uint32_t id, uint64_t round, const QImage& picture);

  const Of of_;
  Session& session_;
  Easel& easel_;
  QHBoxLayout* row_;
  QLabel* empty_;
  std::vector<Tile> shown_;
  std::vector<QToolButton*> buttons_;
  QTimer later_;
  uint64_t round_ = 0;
  size_t waiting_ = 0;  ///< pictures that are still to come
  Background reading_;  ///< of a panorama a camera wants
  Beside<Wish> maker_;  ///< last: nothing it tells must be gone
};

}  // namespace juvenor::app
