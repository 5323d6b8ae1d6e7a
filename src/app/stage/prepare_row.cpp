#include "app/stage/prepare_row.h"

#include <QGridLayout>
#include <QPainter>
#include <QPushButton>

#include "app/controls/labels.h"
#include "app/style/style.h"

namespace juvenor::app {
namespace {

constexpr int kMark = 14;

void drawMark(QPainter& p, PrepareRow::State state, const QRectF& at) {
  p.setBrush(Qt::NoBrush);
  if (state == PrepareRow::State::Well) {
    p.setPen(QPen(look::kAccent, 2, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    p.drawPolyline(QPolygonF{
        {at.left() + 2, at.center().y()}, {at.left() + 5, at.bottom() - 3}, {at.right() - 1, at.top() + 2}});
  } else if (state == PrepareRow::State::Open) {
    p.setPen(QPen(look::kQuiet, 1.4));
    p.drawEllipse(at.center(), 3.5, 3.5);
  }
}

}  // namespace

PrepareRow::PrepareRow(const QString& name, const QString& title, const QString& act, const QString& tip) {
  setObjectName("prepare " + name);
  auto* grid = new QGridLayout(this);
  grid->setContentsMargins(kPicture + 8, 0, 0, 0);
  grid->setHorizontalSpacing(4);
  grid->setVerticalSpacing(1);
  title_ = new QLabel(title);
  QFont bold = title_->font();
  bold.setWeight(QFont::DemiBold);
  title_->setFont(bold);
  title_->setContentsMargins(kMark + 3, 0, 0, 0);
  grid->addWidget(title_, 0, 0);
  act_ = new QPushButton(act);
  act_->setObjectName("mend " + name);
  act_->setToolTip(tip);
  act_->setAccessibleName(tr("%1: %2").arg(title, act));
  act_->setStyleSheet("padding: 2px 6px; font-size: 11px;");
  grid->addWidget(act_, 0, 1);
  grid->setColumnStretch(0, 1);
  sentence_ = quietLabel(tr("looking …"));
  // two lines, so that what is told later moves nothing
  sentence_->setMinimumHeight(2 * sentence_->fontMetrics().lineSpacing());
  sentence_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
  grid->addWidget(sentence_, 1, 0, 1, 2);
  connect(act_, &QPushButton::clicked, this, &PrepareRow::mend);
}

void PrepareRow::show(State state, const QString& sentence) {
  state_ = state;
  sentence_->setText(sentence);
  title_->setAccessibleDescription(state == State::Well   ? tr("well")
                                   : state == State::Open ? tr("could be mended")
                                                          : QString());
  update();
}

void PrepareRow::setPicture(const QImage& picture) {
  picture_ = picture;
  update();
}

void PrepareRow::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const QRectF frame(0, 1, kPicture, kPicture);
  p.fillRect(frame, look::kWell);
  if (!picture_.isNull()) p.drawImage(frame, picture_);
  const QRect title = title_->geometry();
  drawMark(p, state_, QRectF(title.left(), title.center().y() - kMark / 2.0, kMark, kMark));
}

}  // namespace juvenor::app

#include "moc_prepare_row.cpp"
