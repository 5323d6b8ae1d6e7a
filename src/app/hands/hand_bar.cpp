#include "app/hands/hand_bar.h"

#include <QHBoxLayout>
#include <QPushButton>

#include "app/brush_roll/stamp_menu.h"

namespace juvenor::app {

HandBar::HandBar(QWidget* easel) : QFrame(easel) {
  setFrameShape(QFrame::StyledPanel);
  setStyleSheet(
      "juvenor--app--HandBar { background: #434343; border: 1px solid #6d6d6d; border-radius: 4px; }");
  row_ = new QHBoxLayout(this);
  row_->setContentsMargins(8, 5, 8, 5);
  row_->setSpacing(8);
  picture_ = addButton("hand picture", {}, tr("Chooses another picture: one that ships, or a file"));
  picture_->setIconSize({24, 24});
  connect(picture_, &QPushButton::clicked, this, &HandBar::pictureWanted);
  hide();
}

QPushButton* HandBar::addButton(const QString& name, const QString& text, const QString& tip) {
  auto* b = new QPushButton(text);
  b->setObjectName(name);
  b->setToolTip(tip);
  b->setFocusPolicy(Qt::NoFocus);
  row_->addWidget(b);
  return b;
}

void HandBar::showPicture(const StampPointer& stamp) {
  picture_->setText(stamp ? QString::fromStdString(stamp->name()) : tr("Choose a picture …"));
  picture_->setIcon(stamp ? stampIcon(*stamp) : QIcon());
}

void HandBar::showName(const QString& name) {
  picture_->setText(picture_->fontMetrics().elidedText(name, Qt::ElideMiddle, 110));
  picture_->setIcon(QIcon());
}

void HandBar::layOut() {
  adjustSize();
  move((parentWidget()->width() - width()) / 2, parentWidget()->height() - height() - 14);
}

}  // namespace juvenor::app
