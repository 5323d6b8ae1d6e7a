// The channels as buttons, each with its value: press one to switch it on or off, drag across it to change
// its value, double click (or Enter) to type. Beside the mixer they say what the pen lays; on the layer's
// page what a fill or a stop of a ramp brings.
#pragma once

#include <QAbstractButton>
#include <array>

#include "core/layers/channels.h"

class QGridLayout;
class QLineEdit;
class QPushButton;

namespace juvenor::app {

/// A small sign for a channel within `place`.
void drawChannelSign(QPainter& painter, Channel channel, const QRectF& place, const QColor& ink);

/// How heights are written and how far one drags.
struct HeightScale {
  float millimetres = 1;  ///< of a scene unit
  float reach = 1;        ///< scene units either way
};

class ChannelButton : public QAbstractButton {
  Q_OBJECT
 public:
  explicit ChannelButton(Channel channel);
  Channel channel() const { return channel_; }
  float value() const { return value_; }
  void show(bool on, float value, const EncodedColor& color, const HeightScale& scale);

 signals:
  void valueChanged(float value);
  /// A drag, a key or typing came to its end.
  void settled();

 protected:
  QSize sizeHint() const override { return {110, 24}; }
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;

 private:
  bool hasValue() const { return channel_ != Channel::Color; }
  bool isHeight() const { return factsOf(channel_).rule == ChannelRule::Add; }
  void setValue(float value);
  void type();
  QString text() const;

  Channel channel_;
  float value_ = 0;
  EncodedColor color_;
  HeightScale scale_;
  QPointF pressed_;
  float from_ = 0;
  bool dragged_ = false;
  QLineEdit* edit_ = nullptr;
};

/// A button for each channel. Those that are seldom wanted stay folded away while they are off, until one
/// asks for them.
class ChannelGrid : public QWidget {
  Q_OBJECT
 public:
  /// `title`: in the first place, or null.
  explicit ChannelGrid(int columns, QWidget* title = nullptr);
  /// `values` has one for every channel that is no colour.
  void show(ChannelSet on, const EncodedColor& color, const std::array<float, kChannelCount>& values,
            const HeightScale& scale);

 signals:
  void toggled(Channel channel, bool on);
  void changed(Channel channel, float value);
  void settled();

 private:
  bool wanted(const ChannelButton& button) const;
  void layOut();

  int columns_;
  QWidget* title_;
  QGridLayout* grid_;
  std::array<ChannelButton*, kChannelCount> buttons_;
  QPushButton* more_;
};

}  // namespace juvenor::app
