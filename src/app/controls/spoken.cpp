#include "app/controls/spoken.h"

#include <QAbstractButton>
#include <QAccessibleWidget>

namespace juvenor::app {
namespace {

// Hangs on the widget it speaks for.
class Speaker : public QObject {
 public:
  Speaker(QWidget* widget, Spoken what) : QObject(widget), spoken(std::move(what)) {
    setObjectName("speaker");
  }
  static Speaker* of(const QObject* widget) {
    for (QObject* child : widget->children())
      if (auto* speaker = dynamic_cast<Speaker*>(child)) return speaker;
    return nullptr;
  }
  Spoken spoken;
};

class SpokenControl : public QAccessibleWidget, public QAccessibleValueInterface {
 public:
  explicit SpokenControl(QWidget* widget) : QAccessibleWidget(widget) {}

  QAccessible::Role role() const override { return spoken() ? spoken()->role : QAccessibleWidget::role(); }
  QString text(QAccessible::Text which) const override {
    return which == QAccessible::Value && spoken() ? spoken()->words() : QAccessibleWidget::text(which);
  }
  QAccessible::State state() const override {
    QAccessible::State out = QAccessibleWidget::state();
    if (const auto* b = button()) {
      out.checkable = b->isCheckable();
      out.checked = b->isChecked();
    }
    return out;
  }
  void* interface_cast(QAccessible::InterfaceType type) override {
    if (type == QAccessible::ValueInterface && spoken() && spoken()->number)
      return static_cast<QAccessibleValueInterface*>(this);
    return QAccessibleWidget::interface_cast(type);
  }

  QStringList actionNames() const override {
    QStringList out = QAccessibleWidget::actionNames();
    if (button()) out.prepend(pressAction());
    return out;
  }
  void doAction(const QString& name) override {
    if (name == pressAction() && button())
      button()->click();
    else
      QAccessibleWidget::doAction(name);
  }

  QVariant currentValue() const override { return spoken()->number(); }
  void setCurrentValue(const QVariant& value) override {
    if (spoken()->set && widget()->isEnabled()) spoken()->set(value.toDouble());
  }
  QVariant minimumValue() const override { return spoken()->range().first; }
  QVariant maximumValue() const override { return spoken()->range().second; }
  QVariant minimumStepSize() const override {
    const auto [low, high] = spoken()->range();
    return (high - low) / 100;
  }

 private:
  const Spoken* spoken() const {
    const Speaker* speaker = object() ? Speaker::of(object()) : nullptr;
    return speaker ? &speaker->spoken : nullptr;
  }
  QAbstractButton* button() const { return qobject_cast<QAbstractButton*>(object()); }
};

QAccessibleInterface* controlOf(const QString&, QObject* object) {
  auto* widget = qobject_cast<QWidget*>(object);
  return widget && Speaker::of(widget) ? new SpokenControl(widget) : nullptr;
}

}  // namespace

void speak(QWidget* widget, Spoken spoken) {
  static const bool installed = [] {
    QAccessible::installFactory(controlOf);
    return true;
  }();
  (void)installed;
  if (Speaker* before = Speaker::of(widget))
    before->spoken = std::move(spoken);
  else
    new Speaker(widget, std::move(spoken));
  // who asked before was told of a plain widget, and that is remembered
  if (QAccessibleInterface* known = QAccessible::queryAccessibleInterface(widget))
    QAccessible::deleteAccessibleInterface(QAccessible::uniqueId(known));
}

void tellValue(QWidget* widget) {
  if (!QAccessible::isActive()) return;
  const Speaker* speaker = Speaker::of(widget);
  if (!speaker) return;
  QAccessibleValueChangeEvent event(widget, speaker->spoken.number ? QVariant(speaker->spoken.number())
                                                                   : QVariant(speaker->spoken.words()));
  QAccessible::updateAccessibility(&event);
}

}  // namespace juvenor::app
