#include "app/easel/hand_bar.h"

#include <QEvent>
#include <QHBoxLayout>

#include "app/hands/hand_controls.h"

namespace juvenor::app {

HandBar::HandBar(QWidget* easel) : QFrame(easel), row_(new QHBoxLayout(this)) {
  setStyleSheet(
      "juvenor--app--HandBar { background: #434343; border: 1px solid #6d6d6d; border-radius: 4px; }");
  row_->setContentsMargins(8, 5, 8, 5);
  row_->setSpacing(0);
  hide();
}

void HandBar::add(HandControls* controls) {
  controls->hide();
  row_->addWidget(controls);
}

void HandBar::setControls(HandControls* controls) {
  if (shown_ != controls) {
    if (shown_) shown_->hide();
    shown_ = controls;
    if (shown_) shown_->show();
  }
  setVisible(shown_ != nullptr);
  layOut();
}

void HandBar::layOut() {
  if (!shown_) return;
  adjustSize();
  move((parentWidget()->width() - width()) / 2, parentWidget()->height() - height() - 14);
}

bool HandBar::event(QEvent* event) {
  const bool taken = QFrame::event(event);
  if (event->type() == QEvent::LayoutRequest) layOut();
  return taken;
}

}  // namespace juvenor::app

#include "moc_hand_bar.cpp"
