// The Prepare stage: whether the sculpt can carry paint. A row each for how it stands, its points against the
// finest thing wanted, parts, squares, mirror plane, reference and light; what is not well has a button.
#pragma once

#include <QWidget>

#include "app/easel/easel.h"
#include "app/stage/prepare_row.h"
#include "core/prepare/readiness.h"

namespace juvenor::app {

class ValueSlider;

class PreparePage : public QWidget {
  Q_OBJECT
 public:
  PreparePage(Session& session, Easel& easel);
  /// Looks at the sculpt again where it is another one by now.
  void refresh();
  /// Whether anything could be mended; false before it was looked at.
  bool unmended() const;

 signals:
  void unmendedChanged(bool unmended);
  void placeWanted();
  /// Points so far apart, scene units.
  void pointsWanted(float spacing);
  void partsWanted();
  void unwrapWanted();
  void boardWanted();

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  PrepareRow* add(QLayout& column, const QString& name, const QString& title, const QString& act,
                  const QString& tip);
  QWidget* buildBegin();
  void look();
  void tell();
  void tellPoints();
  void tellLight();
  void tellRing();
  void takeApart();
  void takePlane();

  Session& session_;
  Easel& easel_;
  PrepareRow *stands_, *points_, *parts_, *squares_, *mirror_, *board_, *light_;
  ValueSlider* finest_;
  std::optional<Readiness> found_;
  bool told_ = false;           ///< what was said of the ring
  std::optional<Light> shown_;  ///< the light that was told
  /// What was looked at.
  std::weak_ptr<const Surface> of_;
  std::weak_ptr<const Sculpt> sculpt_;
  Placement placement_;
  MirrorPlane plane_;
  size_t uvSet_ = 0;
  Background work_;
};

}  // namespace juvenor::app
