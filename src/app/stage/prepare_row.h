// One thing a sculpt must have: its picture, a sentence with its number, a tick where it is well, and the
// button that mends it.
#pragma once

#include <QImage>
#include <QWidget>

class QLabel;
class QPushButton;

namespace juvenor::app {

class PrepareRow : public QWidget {
  Q_OBJECT
 public:
  enum class State { Unknown, Well, Open };
  static constexpr int kPicture = 36;

  /// `name`: the row's own, for who looks for it.
  PrepareRow(const QString& name, const QString& title, const QString& act, const QString& tip);
  void show(State state, const QString& sentence);
  /// As many pixels as `kPicture` on each side and for each pixel of the screen.
  void setPicture(const QImage& picture);
  State state() const { return state_; }

 signals:
  void mend();

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  State state_ = State::Unknown;
  QLabel *title_, *sentence_;
  QPushButton* act_;
  QImage picture_;
};

}  // namespace juvenor::app
