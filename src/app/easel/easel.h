// The 3D view: shows the engine's pictures, draws the brush ring over them, and turns pen, mouse and wheel
// into strokes and camera moves.
#pragma once

#include <QElapsedTimer>
#include <QTimer>
#include <QWidget>

#include "app/easel/channel_bar.h"
#include "app/easel/cut_bar.h"
#include "app/easel/hand_bar.h"
#include "app/easel/simulated_pen.h"
#include "app/easel/split_line.h"
#include "app/easel/value_bar.h"
#include "app/hands/axis_lock.h"
#include "app/hands/comb_hand.h"
#include "app/hands/cut_hand.h"
#include "app/hands/eye_hand.h"
#include "app/hands/graft_hand.h"
#include "app/hands/lasso_hand.h"
#include "app/hands/last_stroke.h"
#include "app/hands/mirror_hand.h"
#include "app/hands/place_hand.h"
#include "app/hands/slide_hand.h"
#include "app/hands/stamp_placing.h"
#include "app/hands/stencil_hand.h"
#include "app/hands/straight_line.h"
#include "app/hands/touch_hand.h"
#include "app/hands/zone_handles.h"
#include "app/session/session.h"

class QTabletEvent;

namespace juvenor::app {

class Easel : public QWidget {
  Q_OBJECT
 public:
  explicit Easel(Session& session);

  const Viewing& viewing() const { return viewing_; }
  void setView(View view);
  /// As the channel bar says.
  void showChannel();
  void setLight(const Light& light);
  /// Takes a lamp in hand: presses on the skin say where its highlight is to be, until that is done.
  void placeLamp(size_t lamp, const QString& name);
  /// Takes what is sharp in stills in hand: a press on the skin says it, until that is done.
  void placeFocus();
  const Focus& focus() const { return focus_; }
  void setFocusOf(const Focus& focus);
  const Backdrop& backdrop() const { return backdrop_; }
  void setBackdrop(const Backdrop& backdrop);
  /// The sculpt's polygon edges over the view.
  void setLines(bool on);
  /// How one looks at the work, for its file, and from it.
  Look look() const;
  void setLook(const Look& look);
  /// Whether the light goes with the view or stands still in the scene; what one sees now stays as it is.
  void setLightFollows(bool on);
  void setBackground(int grey);
  void frameAll();
  void framePart();
  void setCamera(const Camera& camera);
  /// Whether a hand is at it: painting, turning, dragging a zone.
  bool inUse() const { return drag_.kind != Drag::None; }
  /// Ends the drag that is under way, if any, as a release does.
  void endDrag();
  void look(Side side);
  void setParallel(bool parallel);
  /// Nothing nearer than so far in from the sculpt's foremost place (scene units) is seen, picked or painted
  /// on, and flesh that is cut open is looked through; no value shows all.
  void setCutAway(std::optional<float> depth);
  /// A quarter of the sculpt away, or nothing.
  void toggleCutAway();
  /// A map in place of the skin's colours; nothing shows them again.
  void setMap(const std::optional<MaskTerm>& map, OverlayLook look = OverlayLook::FalseColor);
  /// What shows through a layer, in grey over the skin; null takes it away.
  void setShows(std::shared_ptr<const ScalarField> shows, OverlayLook look = OverlayLook::Grey);
  /// A picture behind the sculpt, as large as fits; a null image takes it away.
  void setBehind(const QImage& picture);
  bool hasBehind() const { return !behindPicture_.isNull(); }
  ValueBar& valueBar() { return *valueBar_; }
  ChannelBar& channelBar() { return *channelBar_; }
  StampPlacing& stampPlacing() { return stamp_; }
  StencilHand& stencil() { return stencil_; }
  SlideHand& slide() { return slide_; }
  SplitLine& split() { return split_; }
  GraftHand& grafting() { return graft_; }
  CombHand& comb() { return comb_; }
  /// Lays the last stroke once more with what is in hand now.
  void repeatStroke();

  // ---- for the sheet, which is painted on with what is in hand here

  /// What hangs between the eye and the skin.
  BeforeSkin before() const {
    return {stencil_.stencil(viewing_), slide_.paint(), cutAwayBy(viewing_.camera)};
  }
  /// The hand in use when it is one that works along the skin, else null; whether any is.
  PatternHand* patternHand();
  bool holdsHand() const { return hand() != nullptr; }
  /// Whether a press at a place begins a stroke; a fill, or the choice of a part, is done at once.
  bool beginsStroke(const std::optional<Probe>& probe);
  void pickFrom(const Probe& probe, bool ownLayer);
  /// A stroke that was drawn elsewhere is the last one now.
  void setLastStroke(const LastStroke& stroke) { stroke_ = stroke; }
  /// A pen over the sheet: its ring shows here too.
  void showPenBeside(const std::optional<Probe>& probe);

  /// What stands between the pen and the skin right now; empty when nothing does.
  QString hindrance() const;
  const QImage& pictureNow() const { return image_; }
  SimulatedPen& simulatedPen() { return simulatedPen_; }
  /// Everything painted from now on is remembered, until recording is switched off.
  void setRecording(bool on);
  const PenRecording& recording() const { return recording_; }
  /// Paints recorded strokes with the tool in hand, as if a pen did.
  void replay(const PenRecording& recording);

 signals:
  void viewingChanged();
  /// Focus or backdrop: what stills are made with beside what one sees here.
  void stillChanged();
  void hindranceChanged();
  /// What lies under the pen; no value when it is off the sculpt.
  void probed(const std::optional<Probe>& probe);
  void cardWanted(const QPoint& globalPosition);
  /// A photo was dropped while the slide's tool is in hand.
  void photoDropped(const QString& file);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void tabletEvent(QTabletEvent* event) override;
  void leaveEvent(QEvent* event) override;
  void focusOutEvent(QFocusEvent* event) override;
  void hideEvent(QHideEvent* event) override;
  bool event(QEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void keyReleaseEvent(QKeyEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void dragEnterEvent(QDragEnterEvent* event) override;
  void dropEvent(QDropEvent* event) override;

 private:
  enum class Drag { None, Paint, Line, Pick, Hand, Turn, Pan, Split };
  /// The drag that is under way: what it does, which button of which device began it, whose it is. There is
  /// one, whatever else is pressed meanwhile, and it ends one way.
  struct DragInHand {
    Drag kind = Drag::None;
    Qt::MouseButton button = Qt::NoButton;
    bool pen = false;
    EaselHand* hand = nullptr;  ///< of Drag::Hand, and of a turn that turns what it holds
    QPointF pressed, last;
    bool moved = false;
    bool erasing = false;
  };

  Vec2 pixelAt(const QPointF& position) const;
  PenPoint penAt(const QPointF& position, float pressure) const;
  void pressed(Qt::MouseButton button, const PenPoint& point, const QPointF& position, bool pen, bool erasing,
               Qt::KeyboardModifiers modifiers);
  void dragged(const PenPoint& point, const QPointF& position, Qt::KeyboardModifiers modifiers);
  void turnOrPan(const QPointF& position);
  bool moveByKey(const QKeyEvent& event);
  void strokeTo(PenPoint point);
  EaselHand* handOf(Tool tool);
  EaselHand* hand() { return place_.active() ? &place_ : handOf(session_.tools().tool()); }
  const EaselHand* hand() const { return const_cast<Easel*>(this)->hand(); }
  void endStroke();
  bool drawsLine(Qt::KeyboardModifiers modifiers) const;
  StraightLine::End lineEnd() const;
  void layLine(bool erasing);
  void drawLine(QPainter& painter) const;
  void drawString(QPainter& painter) const;
  void post(bool moving);
  void press(const PenPoint& point, const QPointF& position, bool erasing, Qt::KeyboardModifiers modifiers);
  void paint(const PenPoint& point, bool erasing, Qt::KeyboardModifiers modifiers);
  void pick(const QPointF& position, bool ownLayer);
  void pickBehind(const QPointF& position);
  void hover(const QPointF& position);
  void drawHints(QPainter& painter) const;
  void layOutBehind();
  void showMasks();
  void showControls();
  void takePlace(const QString& says, const QString& missed, PlaceHand::Placed placed,
                 std::function<std::optional<Vec3>()> mark = {});
  void restOn();

  Session& session_;
  Viewing viewing_;
  Focus focus_;
  Backdrop backdrop_;
  QImage image_;
  DragInHand drag_;
  std::optional<Probe> probe_;
  std::optional<Probe> beside_;  ///< under a pen over the sheet
  std::weak_ptr<const Surface> probedSurface_;
  QElapsedTimer clock_;
  QTimer resting_;  ///< ticks while a pen is down: a spray goes on where it stands still
  PenPoint pen_;    ///< what it told last
  SimulatedPen simulatedPen_;
  ZoneHandles handles_;
  StampPlacing stamp_;
  StencilHand stencil_;
  SlideHand slide_;
  GraftHand graft_;
  SplitLine split_;
  CutHand cut_;
  CombHand comb_;
  TouchHand touch_;
  LassoHand lasso_;
  MirrorHand mirror_;
  EyeHand eyes_;
  PlaceHand place_;
  AxisLock axes_;
  StraightLine line_;
  bool axesHeld_ = false;
  LastStroke stroke_;  ///< the one in the air, or the last
  Vec2 stringEnd_ = Vec2::Zero();
  ValueBar* valueBar_;
  ChannelBar* channelBar_;
  HandBar* handBar_;
  CutBar* cutBar_;
  QImage behindPicture_;
  PenRecording recording_;
  bool recordingOn_ = false;
  bool framed_ = false, preparing_ = false;
};

}  // namespace juvenor::app
