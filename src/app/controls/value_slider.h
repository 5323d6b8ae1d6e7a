// A slider with its name on the left and its value on the right; the value can be dragged, stepped with the
// arrow keys or typed after a double click or Enter.
#pragma once

#include <QWidget>
#include <functional>

class QLineEdit;

namespace juvenor::app {

class ValueSlider : public QWidget {
  Q_OBJECT
 public:
  /// How a value is written and read: unit behind the number, and a factor from value to number (100 for per
  /// cent).
  struct Scale {
    double low = 0, high = 1;
    double factor = 100;
    QString unit = "%";
    bool logarithmic = false;
    int decimals = 0;
  };
  ValueSlider(const QString& label, const Scale& scale, QWidget* parent = nullptr);

  double value() const { return value_; }
  /// Shows a value without telling anyone.
  void show(double value);
  void setScale(const Scale& scale);
  void setLabel(const QString& label);

 signals:
  void changed(double value);
  /// A drag, a key or typing came to its end; `changed` told the value before.
  void settled();

 protected:
  QSize sizeHint() const override { return {112, 38}; }
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  double place() const;
  void setPlace(double place);
  void type();
  QString typed();
  QString figures() const;
  QString text() const;

  QString label_;
  Scale scale_;
  double value_ = 0;
  QLineEdit* edit_ = nullptr;
  bool dragged_ = false, onTrack_ = false;
  QPointF pressed_;
};

}  // namespace juvenor::app
