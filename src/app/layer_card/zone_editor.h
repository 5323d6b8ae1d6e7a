// The zones of a layer: which one is chosen, and what it does.
#pragma once

#include <QWidget>

#include "app/layer_card/shown_layer.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QVBoxLayout;

namespace juvenor::app {

class ColorField2D;
class ValueSlider;

class ZoneEditor : public QWidget {
  Q_OBJECT
 public:
  explicit ZoneEditor(Session& session);
  /// Shows the zones of the active layer.
  void refresh();

 private:
  void buildTint(QVBoxLayout* column);
  void addNumbers(QVBoxLayout* column);
  void edit(const std::function<void(ZoneSet&, HueZone&)>& change, const QString& step);
  ShownLayer::Edit zones() const;
  void previewed(const std::function<void(ZoneSet&, HueZone&)>& change);
  void finish();

  Session& session_;
  ShownLayer layer_;
  ZoneSet set_;
  bool showing_ = false;
  QComboBox *names_, *like_;
  QLineEdit* name_;
  QWidget *settings_, *tint_;
  QLabel* title_;
  QPushButton* place_;
  ColorField2D* hue_;
  struct Number {
    Member<HueZone> member;
    ValueSlider* slider;
  };
  std::vector<Number> numbers_;
  ValueSlider *chroma_, *melt_;
  QCheckBox *mirrored_, *plain_;
};

}  // namespace juvenor::app
