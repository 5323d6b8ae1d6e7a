// One of the two sculpts of carrying over: it turns with the other, shows pins with their numbers, and takes
// new ones where it is pressed. Its pictures are made beside the window.
#pragma once

#include <QImage>
#include <QWidget>

#include "app/session/background.h"
#include "core/carry/fit_by_pins.h"
#include "core/document/document.h"
#include "core/view/camera.h"

namespace juvenor::app {

/// How both are looked at: lengths as parts of each one's own size.
struct CarryLook {
  Eigen::Quaternionf turn = Eigen::Quaternionf::Identity();
  float nearer = 1;           ///< of the distance at which all of it is seen
  Vec3 shift = Vec3::Zero();  ///< of the target, in sizes of the sculpt
};

class CarryView : public QWidget {
  Q_OBJECT
 public:
  explicit CarryView(QWidget* parent = nullptr);

  /// Null: there is nothing yet, `why` says so in its place.
  void setDocument(std::shared_ptr<const Document> document, const QString& why = {});
  void setLook(const CarryLook& look);
  void setDoubt(bool doubt);
  /// A mark for each pin that has a place here, with its number.
  struct Mark {
    int number;
    Vec3 place;
    bool whole;  ///< it has its partner
  };
  void setMarks(std::vector<Mark> marks);
  /// Whether what is shown is drawn from what was set last.
  bool settled() const { return shown_ == wanted_; }
  QSize sizeHint() const override { return {430, 360}; }

 signals:
  void looked(const juvenor::app::CarryLook& look);
  /// A place of the skin, in the scene of the document.
  void placed(const juvenor::Vec3& place);

 protected:
  void paintEvent(QPaintEvent*) override;
  void resizeEvent(QResizeEvent*) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;

 private:
  Camera camera() const;
  void lookThrough(const Camera& camera);
  void draw();

  std::shared_ptr<const Document> document_;
  QString why_;
  CarryLook look_;
  bool doubt_ = false;
  std::vector<Mark> marks_;
  QImage picture_;
  uint64_t wanted_ = 0, shown_ = 0;  ///< counters of pictures
  bool drawing_ = false;
  QPointF pressed_, last_;
  bool dragged_ = false;
  Background background_;
};

}  // namespace juvenor::app
