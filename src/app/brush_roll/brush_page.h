// All of a brush, one press below the strip: its tip, the stamp or the dots, what turns it and how much its
// dabs vary, and how far a mirrored side goes its own way.
#pragma once

#include <QFrame>

#include "app/brush_roll/brush_pictures.h"
#include "app/controls/value_slider.h"
#include "app/session/session.h"

class QButtonGroup;
class QCheckBox;
class QComboBox;
class QLabel;
class QPushButton;
class QVBoxLayout;

namespace juvenor::app {

class BrushPage : public QFrame {
  Q_OBJECT
 public:
  BrushPage(Session& session, QWidget* parent);
  void openAbove(const QWidget& widget);

 private:
  void buildTip(QVBoxLayout* column);
  void buildSpread(QVBoxLayout* column);
  ValueSlider* slider(QVBoxLayout* column, const QString& name, const QString& tip,
                      const ValueSlider::Scale& scale, std::function<float(const Brush&)> get,
                      std::function<void(Brush&, float)> set);
  void refresh();
  void change(const std::function<void(Brush&)>& change);
  void chooseStamp();
  void takeStamp(const StampPointer& stamp);

  Session& session_;
  QButtonGroup* tips_;
  QComboBox* turn_;
  QPushButton* stamp_;
  QCheckBox *ownColors_, *inverted_;
  std::vector<QWidget*> ofSpray_, ofStamp_;
  QPushButton* back_;
  struct Bound {
    ValueSlider* slider;
    std::function<float(const Brush&)> get;
  };
  std::vector<Bound> sliders_;
};

/// Dots a square centimetre of skin for a density in scene units, and the other way round.
double dotsPerSquareCentimetre(float density, float millimetres);
float densityOf(double dotsPerSquareCentimetre, float millimetres);

}  // namespace juvenor::app
