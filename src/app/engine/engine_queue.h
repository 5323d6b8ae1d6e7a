// What is asked of the engine, on its way from other threads to its own: commands in order, strokes that are
// finished on their way back, and what waits until which is done. All of it is guarded by one mutex.
#pragma once

#include <QString>
#include <atomic>
#include <chrono>
#include <condition_variable>
#include <deque>
#include <future>
#include <mutex>
#include <optional>
#include <variant>
#include <vector>

#include "app/engine/grower.h"
#include "app/engine/preparer.h"
#include "app/engine/spreader.h"
#include "app/engine/viewing.h"
#include "core/document/edits/paint_stroke.h"
#include "core/pen/pen_path.h"
#include "core/surface/maps/polygon_lines.h"

namespace juvenor::app {

/// The document with one more stroke on it.
struct FinishedStroke {
  Document document;
  QString name;
};

/// All a still is made from, copied.
struct Snapshot {
  Document document;
  ChannelFields skin;
  ReliefNormals relief;
  RaysPointer rays;
  std::vector<LitSample> lit;
  std::vector<OpenSample> open;
  std::vector<Lighting::Received::Pointer> received;
  LitBy by;
  std::shared_ptr<const PolygonLines> lines;
  FibreRaysPointer hair;
};

struct BeginStroke {
  StrokeSetting setting;
  PenPoint point;
  QString name;
  bool onSheet = false;  ///< its pixels are the sheet's
};
struct EndStroke {};
struct Prepared {};  ///< the preparer is done with something
using Snap = std::shared_ptr<std::promise<Snapshot>>;
using Command = std::variant<Document, Viewing, SheetViewing, BeginStroke, PenPoint, EndStroke, Prepared,
                             Preparer::Glimpses, Spreader::Done, Grower::Done, Snap>;

class EngineQueue {
 public:
  // ---- for any thread

  void post(Command command);
  /// Ends every turn from now on.
  void quit();
  bool quitting() const;
  /// Whether a command waits to be taken.
  bool pending() const { return pending_; }
  /// Strokes whose beginning was posted and not taken yet.
  int pensWaiting() const { return pensWaiting_; }
  std::vector<FinishedStroke> takeFinished();

  // ---- these wait

  /// Until all commands are carried out.
  void drain();
  /// Until no stroke is in the air.
  void awaitStrokes();
  /// Until the picture has come to rest.
  void awaitRest();

  // ---- for the engine's own thread

  /// Whether nothing came from a hand for a while, or somebody waits for the picture: what takes long and is
  /// stale with the next touch may begin.
  bool handRests() const;
  enum class Turn { Quit, Commands, Rest };
  /// Sleeps until there is something to do.
  Turn begin();
  /// The next command, if there is one.
  std::optional<Command> next();
  /// What is left when a turn is over: more; more once the hand rests; nothing until another command comes.
  enum class Left { More, Later, Nothing };
  void end(Left left);
  /// A stroke's beginning is being carried out.
  void noteStrokeTaken() { --pensWaiting_; }
  /// A stroke is over; nothing: it laid nothing, or was refused.
  void noteStrokeEnded(std::optional<FinishedStroke> stroke);
  /// Layers wait for what is worked out beside.
  void noteWaiting(bool waiting);
  /// Light is being spread through the skin.
  void noteSpreading(bool spreading) { spreading_ = spreading; }
  bool spreading() const { return spreading_; }
  /// Hair is being grown.
  void noteGrowing(bool growing) { growing_ = growing; }

 private:
  using Clock = std::chrono::system_clock;
  bool handRestsNow() const { return awaited_ > 0 || Clock::now() >= restsAt_; }

  mutable std::mutex mutex_;
  std::condition_variable wake_, idle_;
  std::deque<Command> commands_;
  bool quit_ = false, working_ = false, atRest_ = true, later_ = false;
  int awaited_ = 0;  ///< by so many the rest of the picture
  Clock::time_point restsAt_;
  std::vector<FinishedStroke> finished_;
  int strokesOut_ = 0;  ///< begun by the window and not yet over
  bool waiting_ = false;
  std::atomic<bool> pending_ = false, spreading_ = false, growing_ = false;
  std::atomic<int> pensWaiting_ = 0;
};

}  // namespace juvenor::app
