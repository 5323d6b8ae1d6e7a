#include "app/easel/split_line.h"

#include <algorithm>
#include <cmath>

#include "app/style/style.h"
#include "core/document/edits/edit_checkpoints.h"
#include "core/layers/composite/composite.h"

namespace juvenor::app {
namespace {

constexpr double kNearLine = 8, kGripAt = 0.82;  // pixels beside the line; of the easel's height

Result<std::shared_ptr<const ComparedSkin>> skinKept(const Document& document, uint32_t checkpoint,
                                                     const Progress& progress) {
  const auto then = asKept(document, checkpoint);
  if (!then) return then.error();
  auto skin = skinOf(then->layers, *then->maps, then->bare, progress);
  if (!skin) return skin.error();
  auto out = std::make_shared<ComparedSkin>();
  out->surface = then->surface;
  out->relief = reliefNormals(then->surface, skin->get<Channel::Relief>(), kLevel, then->reliefStep);
  out->skin = std::move(*skin);
  return std::shared_ptr<const ComparedSkin>(std::move(out));
}

}  // namespace

SplitLine::SplitLine(Session& session) : session_(session) {
  connect(&session_, &Session::opened, this, [this] { compare(0); });
  connect(&session_, &Session::documentChanged, this, [this] {
    if (checkpoint_ == 0) return;
    const Checkpoint* kept = checkpointOf(session_.document(), checkpoint_);
    if (!kept) return compare(0);
    name_ = QString::fromStdString(kept->name);
    if (!of_.are(kept->layers)) workOut();
  });
}

void SplitLine::compare(uint32_t checkpoint) {
  if (checkpoint == checkpoint_) return;
  checkpoint_ = checkpoint;
  compared_.reset();
  flipped_ = false;
  if (const Checkpoint* kept = session_.isOpen() ? checkpointOf(session_.document(), checkpoint) : nullptr) {
    name_ = QString::fromStdString(kept->name);
    workOut();
  } else {
    checkpoint_ = 0;
    work_.giveUp();
  }
  emit changed();
}

void SplitLine::workOut() {
  of_ = SeenLayers(checkpointOf(session_.document(), checkpoint_)->layers);
  const auto made = std::make_shared<std::shared_ptr<const ComparedSkin>>();
  work_.start(
      tr("Compositing the checkpoint"),
      [document = session_.document(), id = checkpoint_, made](const Progress& progress) -> Outcome {
        auto skin = skinKept(document, id, progress);
        if (!skin) return skin.error();
        *made = std::move(*skin);
        return Done{};
      },
      [this, made](const Outcome& done) {
        if (!done) {
          session_.tell(done.error());
          return compare(0);
        }
        compared_ = *made;
        emit changed();
      });
}

void SplitLine::flip(bool whole) {
  if (!shown() || whole == flipped_) return;
  flipped_ = whole;
  emit changed();
}

double SplitLine::x(const QSize& easel) const {
  return flipped_ ? easel.width() : at_ * easel.width();
}

void SplitLine::tell(Viewing& viewing) const {
  viewing.compared = compared_;
  viewing.comparedUpTo =
      flipped_ ? viewing.size.width : static_cast<int>(std::lround(at_ * viewing.size.width));
}

bool SplitLine::press(const QPointF& position, const QSize& easel) {
  return shown() && !flipped_ && std::abs(position.x() - x(easel)) < kNearLine;
}

void SplitLine::drag(const QPointF& position, const QSize& easel) {
  at_ = std::clamp(position.x() / std::max(1, easel.width()), 0.02, 0.98);
  emit changed();
}

void SplitLine::draw(QPainter& painter, const QSize& easel) const {
  if (!shown()) return;
  const double line = x(easel);
  const auto label = [&](const QString& text, double right, double left) {
    const QRectF box = painter.fontMetrics().boundingRect(text).adjusted(-6, -3, 6, 3);
    QRectF at(0, 0, box.width(), box.height());
    at.moveTop(40);
    right >= 0 ? at.moveRight(right) : at.moveLeft(left);
    painter.setPen(Qt::NoPen);
    painter.setBrush(QColor(0x2e, 0x2e, 0x2e, 220));
    painter.drawRoundedRect(at, 3, 3);
    painter.setPen(look::kText);
    painter.drawText(at, Qt::AlignCenter, text);
  };
  if (flipped_) return label(name_, -1, 12);
  painter.setPen(QPen(QColor(0, 0, 0, 150), 3));
  painter.drawLine(QPointF(line, 0), QPointF(line, easel.height()));
  painter.setPen(QPen(QColor(0xf0, 0xf0, 0xf0), 1));
  painter.drawLine(QPointF(line, 0), QPointF(line, easel.height()));
  const QPointF grip(line, kGripAt * easel.height());
  painter.setBrush(look::kRaised);
  painter.drawRoundedRect(QRectF(grip.x() - 9, grip.y() - 12, 18, 24), 4, 4);
  for (const double side : {-1.0, 1.0})
    painter.drawPolyline(QPolygonF(
        {grip + QPointF(side * 2.5, -4), grip + QPointF(side * 6, 0), grip + QPointF(side * 2.5, 4)}));
  label(name_, line - 8, 0);
  label(tr("Now"), -1, line + 8);
}

}  // namespace juvenor::app

#include "moc_split_line.cpp"
