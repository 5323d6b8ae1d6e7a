#include "app/hands/hand_controls.h"

#include <QHBoxLayout>
#include <QPushButton>

#include "app/controls/stamp_menu.h"
#include "app/session/words.h"

namespace juvenor::app {

HandControls::HandControls(const QString& name, int spacing) : row_(new QHBoxLayout(this)) {
  setObjectName(name);
  row_->setContentsMargins(0, 0, 0, 0);
  row_->setSpacing(spacing);
}

QPushButton* HandControls::addButton(const QString& name, const QString& text, const QString& tip) {
  auto* b = new QPushButton(text);
  b->setObjectName(name);
  b->setToolTip(tip);
  b->setFocusPolicy(Qt::NoFocus);
  row_->addWidget(b);
  return b;
}

QPushButton* HandControls::addSwitch(const QString& name, const QString& text, const QString& tip) {
  QPushButton* b = addButton(name, text, tip);
  b->setCheckable(true);
  return b;
}

void HandControls::addPicture() {
  picture_ = addButton("hand picture", {}, tr("Chooses another picture: one that ships, or a file"));
  picture_->setIconSize({24, 24});
  connect(picture_, &QPushButton::clicked, this, &HandControls::pictureWanted);
}

void HandControls::showPicture(const StampPointer& stamp) {
  picture_->setText(stamp ? told(stamp->name()) : tr("Choose a picture …"));
  picture_->setIcon(stamp ? stampIcon(*stamp) : QIcon());
}

void HandControls::showName(const QString& name) {
  picture_->setText(picture_->fontMetrics().elidedText(name, Qt::ElideMiddle, 110));
  picture_->setIcon(QIcon());
}

}  // namespace juvenor::app

#include "moc_hand_controls.cpp"
