#include "app/strata/draw_row.h"

#include <QPainterPath>
#include <cmath>

#include "app/controls/channel_grid.h"
#include "app/session/words.h"
#include "app/strata/strata.h"
#include "app/style/style.h"
#include "core/layers/nesting.h"

namespace juvenor::app {
namespace {

constexpr int kSign = 13;
constexpr QColor kLine(0x8c, 0x8c, 0x8c), kBright(0xf0, 0xf0, 0xf0), kQuiet(0xdc, 0xdc, 0xdc);

// What goes beyond colour, at the right end of a line.
std::vector<Channel> marked(ChannelSet channels) {
  std::vector<Channel> out;
  for (size_t c = 0; c < kChannelCount; ++c)
    if (const auto channel = static_cast<Channel>(c); channel != Channel::Color && channels.has(channel))
      out.push_back(channel);
  return out;
}

int signsWidth(ChannelSet channels) {
  return static_cast<int>(marked(channels).size()) * kSign;
}

void drawSigns(QPainter& p, ChannelSet channels, const QRect& line) {
  int x = line.right() - signsWidth(channels) + 2;
  for (const Channel c : marked(channels)) {
    drawChannelSign(p, c, QRectF(x, line.center().y() - 4.5, 11, 11), kQuiet);
    x += kSign;
  }
}

// The hook a clipped layer hangs by, and the line down from the group it lies in.
void drawTies(QPainter& p, const Layer& layer, const StrataRow& row) {
  const QRect& r = row.rect;
  p.setPen(QPen(kLine, 1));
  p.setBrush(Qt::NoBrush);
  for (int d = 0; d < row.depth; ++d) {
    const int x = r.left() - kStandsIn * d - 3;
    p.drawLine(x, r.top() - 1, x, r.bottom() + 2);
  }
  if (!layer.clipped) return;
  const double x = r.left() + 3, y = r.center().y();
  QPainterPath hook;
  hook.moveTo(x + 7, y);
  hook.lineTo(x + 3, y);
  hook.quadTo(x, y, x, y + 4);
  hook.lineTo(x, r.bottom() + 2);
  p.setPen(QPen(kQuiet, 1.4));
  p.drawPath(hook);
}

void drawFold(QPainter& p, const StrataRow& row, bool folded) {
  const QRectF at = foldRect(row);
  QPainterPath triangle;
  const QPointF c = at.center();
  if (folded) {
    triangle.moveTo(c + QPointF(-3, -4.5));
    triangle.lineTo(c + QPointF(4, 0));
    triangle.lineTo(c + QPointF(-3, 4.5));
  } else {
    triangle.moveTo(c + QPointF(-4.5, -3));
    triangle.lineTo(c + QPointF(4.5, -3));
    triangle.lineTo(c + QPointF(0, 4));
  }
  triangle.closeSubpath();
  p.fillPath(triangle, kQuiet);
}

void drawPicture(QPainter& p, const QRectF& at, const QImage& picture) {
  QPainterPath circle;
  circle.addEllipse(at);
  p.save();
  p.setClipPath(circle);
  p.fillPath(circle, QColor(0x2c, 0x2c, 0x2c));
  p.drawImage(at, picture);
  p.restore();
}

// What a row says of a layer under its name.
QStringList factsOf(const Document& document, const Layer& layer, const RowLook& look) {
  QStringList out;
  if (look.troubled) out << Strata::tr("not shown");
  if (look.noted) out << Strata::tr("note");
  // the usual way to blend goes without saying: the line is short
  if (layer.blend != BlendMode::Normal) out << told(blendModeLabel(layer.blend));
  const std::string remark = layer.source->remark();
  if (isGroup(layer)) {
    const size_t at = placeOf(document, layer.id), count = at - firstOf(document.layers, at);
    out << (count == 1 ? Strata::tr("1 layer") : Strata::tr("%1 layers").arg(count));
    if (!remark.empty()) out << told(remark);
  } else {
    out << (remark.empty() ? told(layer.source->kind().label).toLower() : QString::fromUtf8(remark));
  }
  if (layer.mask || !layer.terms.empty() || layer.maskFrom != 0)
    out << (layer.maskOff ? Strata::tr("mask off") : Strata::tr("mask"));
  if (layer.keepsCover) out << Strata::tr("where painted");
  if (layer.locked) out << Strata::tr("locked");
  return out;
}

void drawOpacity(QPainter& p, const StrataRow& row, const RowLook& look) {
  const QRect o = opacityRect(row);
  p.drawText(QRect(row.rect.right() - 66, row.rect.top() + (look.dense ? -1 : 1), 58, look.dense ? 19 : 16),
             Qt::AlignRight | Qt::AlignVCenter, QString("%1 %").arg(std::lround(100 * look.opacity)));
  const double y = look.dense ? row.rect.bottom() - 4.5 : o.center().y() - 1.5;
  p.setPen(Qt::NoPen);
  p.setBrush(look::kWell);
  p.drawRoundedRect(QRectF(o.left(), y, o.width(), 3), 1.5, 1.5);
  p.setBrush(Qt::white);
  p.drawRoundedRect(QRectF(o.left(), y, o.width() * static_cast<double>(look.opacity), 3), 1.5, 1.5);
}

}  // namespace

QRect dotRect(const StrataRow& row) {
  return {row.rect.left() + 6, row.rect.top(), 18, row.rect.height()};
}

QRect foldRect(const StrataRow& row) {
  return {row.rect.left() - 11, row.rect.top(), 13, row.rect.height()};
}

QRect opacityRect(const StrataRow& row) {
  const bool dense = row.rect.height() < rowHeight(false);
  return {row.rect.right() - 66, row.rect.top() + (dense ? 2 : 16), 58, dense ? 20 : 16};
}

void drawRow(QPainter& p, const Document& document, const StrataRow& row, const RowLook& look) {
  const LayerPointer layer = layerOf(document, row.layer);
  if (!layer) return;
  const QRect& r = row.rect;
  if (look.active || look.chosen) {
    p.setPen(Qt::NoPen);
    p.setBrush(look.active ? look::kSelected : QColor(0x64, 0x64, 0x64));
    p.drawRoundedRect(r, 3, 3);
  }
  if (look.active) {
    p.setBrush(look::kAccent);
    p.drawRoundedRect(QRectF(r.left(), r.top() + 4, 3, r.height() - 8), 1.5, 1.5);
  }
  drawTies(p, *layer, row);
  const bool group = isGroup(*layer);
  if (group) drawFold(p, row, layer->folded);
  p.setOpacity(layer->visible && look.shown ? 1 : 0.55);
  p.setPen(QPen(kBright, 1.6));
  p.setBrush(layer->visible ? QBrush(kBright) : Qt::NoBrush);
  p.drawEllipse(QPointF(r.left() + 15, r.center().y() + 0.5), 4.5, 4.5);
  if (!look.dense) drawPicture(p, QRectF(r.left() + 26, r.center().y() - 12, 26, 26), look.picture);
  // the layers that belong to the stage one is at stand out
  p.setPen(look.atStage ? look::kAccent : QColor(Qt::white));
  const int from = look.dense ? 28 : 60;
  const ChannelSet channels = layer->source->channels();
  QRect text(r.left() + from, r.top() + (look.dense ? 0 : 1), r.width() - from - 74,
             look.dense ? r.height() : 16);
  QFont name = p.font();
  const QFont usual = name;
  if (group) name.setWeight(QFont::DemiBold);
  p.setFont(name);
  const int forName = text.width() - (look.dense ? signsWidth(channels) : 0);
  p.drawText(text, Qt::AlignVCenter,
             p.fontMetrics().elidedText(QString::fromStdString(layer->name), Qt::ElideRight, forName));
  QFont small = usual;
  small.setPixelSize(11);
  p.setFont(small);
  p.setPen(look.troubled ? look::kWarning : kQuiet);
  if (look.dense) {
    drawSigns(p, channels, text);
  } else {
    text.translate(0, 16);
    drawSigns(p, channels, text);
    p.drawText(text, Qt::AlignVCenter,
               p.fontMetrics().elidedText(factsOf(document, *layer, look).join(" · "), Qt::ElideRight,
                                          text.width() - signsWidth(channels)));
  }
  drawOpacity(p, row, look);
  p.setFont(usual);
  p.setOpacity(1);
}

}  // namespace juvenor::app
