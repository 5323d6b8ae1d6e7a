// What any thread may read off the engine's picture without waiting for it: the engine publishes a new one
// with every change, and who reads keeps the one he has.
#pragma once

#include <memory>
#include <mutex>
#include <optional>

#include "app/engine/viewing.h"
#include "core/document/document.h"
#include "core/layers/composite/composite.h"

namespace juvenor::app {

/// What the skin is under the pen, and where.
struct Probe {
  SurfacePoint point;
  uint32_t sample = 0;
  EncodedColor composite;
  std::array<float, kChannelCount> number{};  ///< of the channels beside colour: 0…1, heights in scene units
  std::optional<EncodedColor> layer;          ///< of the active layer, when it has any there
};

/// The picture as it is now.
struct Reading {
  Document document;
  PreparedStack stack;
  ChannelFields skin;
  std::vector<ChannelSet> stale;  ///< of each chunk the channels that are older than the stack
  RaysPointer rays;
  Viewing viewing;
  SheetViewing sheet;
};

class Readings {
 public:
  void publish(Reading reading);
  /// Nothing is there to be read any more.
  void clear();

  /// Whether there is one of this document's surface.
  bool shows(const Document& document) const { return of(document) != nullptr; }
  /// What lies at a pixel of the picture; nothing while that is one of another surface than the document's.
  std::optional<Probe> probe(const Document& document, const Vec2& pixel) const;
  /// The same of the sheet.
  std::optional<Probe> probeSheet(const Document& document, const Vec2& pixel) const;
  RaysPointer rays() const;
  /// The skin's colours as they are composited; null before there are any. What is not seen may be older.
  std::shared_ptr<const ColorField> skinNow() const;
  /// The whole composite; of its channels those that layers bring. Works out what is not there yet.
  ChannelFields skin() const;

 private:
  std::shared_ptr<const Reading> now() const;
  std::shared_ptr<const Reading> of(const Document& document) const;

  mutable std::mutex mutex_;
  std::shared_ptr<const Reading> now_;
};

}  // namespace juvenor::app
