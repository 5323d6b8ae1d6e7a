#include "app/stage/map_list.h"

#include <QCheckBox>
#include <QGridLayout>
#include <QMenu>
#include <QToolButton>

#include "app/controls/labels.h"
#include "app/session/words.h"

namespace juvenor::app {
namespace {

constexpr int kPictureSide = 24, kDepthWide = 46;

struct Offered {
  const char *text, *name, *tip;
  bool ticked;
};
constexpr Offered kOffered[] = {
    {"colour", QT_TRANSLATE_NOOP("juvenor::app::MapList", "Colour"),
     QT_TRANSLATE_NOOP("juvenor::app::MapList", "The skin's colour without any light, sRGB"), true},
    {"roughness", QT_TRANSLATE_NOOP("juvenor::app::MapList", "Roughness"),
     QT_TRANSLATE_NOOP("juvenor::app::MapList", "1 − gloss: black is wet, white is dry"), true},
    {"metal", QT_TRANSLATE_NOOP("juvenor::app::MapList", "Metal"),
     QT_TRANSLATE_NOOP("juvenor::app::MapList", "White where it is metal"), false},
    {"emission", QT_TRANSLATE_NOOP("juvenor::app::MapList", "Emission"),
     QT_TRANSLATE_NOOP("juvenor::app::MapList", "The light it shines with: colour times glow, sRGB"), false},
    {"wander", QT_TRANSLATE_NOOP("juvenor::app::MapList", "Wander"),
     QT_TRANSLATE_NOOP("juvenor::app::MapList", "How far light wanders: black as in horn, white as in skin"),
     false},
    {"coat", QT_TRANSLATE_NOOP("juvenor::app::MapList", "Coat"),
     QT_TRANSLATE_NOOP("juvenor::app::MapList", "White under a clear wet film"), false},
    {"fuzz", QT_TRANSLATE_NOOP("juvenor::app::MapList", "Fuzz"),
     QT_TRANSLATE_NOOP("juvenor::app::MapList", "White under thick down"), false},
    {"normal", QT_TRANSLATE_NOOP("juvenor::app::MapList", "Normal"),
     QT_TRANSLATE_NOOP("juvenor::app::MapList",
                       "Relief, and all forms finer than the mesh, in tangent space"),
     true},
    {"height", QT_TRANSLATE_NOOP("juvenor::app::MapList", "Height"),
     QT_TRANSLATE_NOOP("juvenor::app::MapList", "Relief, and on another mesh how far the sculpt lies off it"),
     false},
    {"occlusion", QT_TRANSLATE_NOOP("juvenor::app::MapList", "Occlusion"),
     QT_TRANSLATE_NOOP("juvenor::app::MapList", "White where the form is closed in"), false},
    {"cavity", QT_TRANSLATE_NOOP("juvenor::app::MapList", "Cavity"),
     QT_TRANSLATE_NOOP("juvenor::app::MapList", "White in creases and pores of the form"), false},
    {"thickness", QT_TRANSLATE_NOOP("juvenor::app::MapList", "Thickness"),
     QT_TRANSLATE_NOOP("juvenor::app::MapList", "Black where light shines through"), false},
    {"melanin", QT_TRANSLATE_NOOP("juvenor::app::MapList", "Melanin"),
     QT_TRANSLATE_NOOP("juvenor::app::MapList", "Of the skin model, for renderers that shade skin by it"),
     false},
    {"blood", QT_TRANSLATE_NOOP("juvenor::app::MapList", "Blood"),
     QT_TRANSLATE_NOOP("juvenor::app::MapList", "Of the skin model, for renderers that shade skin by it"),
     false},
    {"parts", QT_TRANSLATE_NOOP("juvenor::app::MapList", "Parts"),
     QT_TRANSLATE_NOOP("juvenor::app::MapList", "A colour of its own for each part"), false},
    {"occlusion+roughness+metal", QT_TRANSLATE_NOOP("juvenor::app::MapList", "Three in one"),
     QT_TRANSLATE_NOOP("juvenor::app::MapList", "Occlusion in red, roughness in green, metal in blue"),
     false},
};

QString nameOf(MapDepth depth) {
  switch (depth) {
    case MapDepth::Whole8:
      return MapList::tr("8 bits");
    case MapDepth::Whole16:
      return MapList::tr("16 bits");
    case MapDepth::Half:
      return MapList::tr("half");
    default:
      return MapList::tr("float");
  }
}

}  // namespace

std::vector<TextureWish> MapList::offered(float diagonal) {
  std::vector<TextureWish> out;
  for (const Offered& o : kOffered)
    if (auto wish = textureWishFrom(o.text, diagonal)) out.push_back(std::move(*wish));
  return out;
}

MapList::MapList(QWidget* parent) : QWidget(parent), grid_(new QGridLayout(this)) {
  grid_->setContentsMargins(0, 0, 0, 0);
  grid_->setHorizontalSpacing(8);
  grid_->setVerticalSpacing(3);
  grid_->setColumnStretch(1, 1);
  for (const Offered& o : kOffered) build(o.text, tr(o.name), tr(o.tip), false).tick->setChecked(o.ticked);
  for (Row& row : rows_) connect(row.tick, &QCheckBox::toggled, this, &MapList::changed);
}

MapList::Row& MapList::build(const std::string& text, const QString& name, const QString& tip, bool added) {
  const TextureWish wish = *textureWishFrom(text, 1);
  const QString key = QString::fromStdString(text);
  Row& row = rows_.emplace_back(
      Row{text, new QCheckBox(name), new QToolButton, new QToolButton, usualDepth(format_, wish), added});
  row.tick->setObjectName("map " + key);
  row.tick->setToolTip(tr("%1; its file is called …_%2").arg(tip, QString::fromStdString(suffixOf(wish))));
  row.picture->setObjectName("preview " + key);
  row.picture->setAccessibleName(tr("Preview of %1").arg(name));
  row.picture->setToolTip(tr("A preview of it in the sheet"));
  row.picture->setProperty("narrow", true);
  row.picture->setFixedSize(kPictureSide + 4, kPictureSide + 4);
  row.picture->setIconSize({kPictureSide, kPictureSide});
  row.depth->setProperty("narrow", true);
  row.depth->setFixedWidth(kDepthWide);
  row.depth->setPopupMode(QToolButton::InstantPopup);
  row.depth->setObjectName("depth " + key);
  row.depth->setAccessibleName(tr("Depth of %1").arg(name));
  row.depth->setToolTip(added ? tr("How finely each value is kept; or take the line away")
                              : tr("How finely each value is kept"));
  row.depth->setMenu(new QMenu(row.depth));
  const int line = grid_->rowCount();
  grid_->addWidget(row.picture, line, 0);
  grid_->addWidget(row.tick, line, 1);
  grid_->addWidget(row.depth, line, 2, Qt::AlignRight);
  connect(row.picture, &QToolButton::clicked, this, [this, text, name] {
    if (const auto map = textureWishFrom(text, 1)) emit previewWanted(*map, name);
  });
  offerDepths(row);
  return row;
}

void MapList::add(const std::string& text, const QString& name) {
  const auto there = std::ranges::find(rows_, text, &Row::text);
  if (there != rows_.end()) return there->tick->setChecked(true);
  const QString tip = tr("A line of your own");
  Row& row = build(text, name, tip, true);
  row.tick->setChecked(true);
  connect(row.tick, &QCheckBox::toggled, this, &MapList::changed);
  emit changed();
}

void MapList::remove(const std::string& text) {
  const auto row = std::ranges::find(rows_, text, &Row::text);
  if (row == rows_.end()) return;
  for (QWidget* part : std::initializer_list<QWidget*>{row->tick, row->picture, row->depth}) {
    part->hide();
    part->deleteLater();
  }
  rows_.erase(row);
  // (what is left may have moved)
  for (Row& one : rows_) offerDepths(one);
  emit changed();
}

void MapList::forgetAdded() {
  std::vector<std::string> gone;
  for (const Row& row : rows_)
    if (row.added) gone.push_back(row.text);
  for (const std::string& text : gone) remove(text);
}

void MapList::offerDepths(Row& row) {
  QMenu* menu = row.depth->menu();
  menu->clear();
  for (const MapDepth depth : {MapDepth::Whole8, MapDepth::Whole16, MapDepth::Half, MapDepth::Float})
    if (canKeep(format_, depth))
      menu->addAction(nameOf(depth), this, [this, &row, depth] {
        row.kept = depth;
        row.depth->setText(nameOf(depth));
        emit changed();
      });
  if (row.added) {
    menu->addSeparator();
    menu->addAction(
        tr("Take the line away"), this, [this, text = row.text] { remove(text); }, Qt::QueuedConnection);
  }
  row.depth->setText(nameOf(row.kept));
}

void MapList::setFormat(MapFormat format) {
  format_ = format;
  for (Row& row : rows_) {
    if (!canKeep(format, row.kept)) row.kept = usualDepth(format, *textureWishFrom(row.text, 1));
    offerDepths(row);
  }
  emit changed();
}

std::vector<WishedMap> MapList::wished(float diagonal) const {
  std::vector<WishedMap> out;
  for (const Row& row : rows_)
    if (row.tick->isChecked())
      if (auto wish = textureWishFrom(row.text, diagonal)) out.push_back({std::move(*wish), row.kept});
  return out;
}

void MapList::tick(const std::vector<WishedMap>& maps) {
  for (Row& row : rows_) {
    const std::string own = textOf(*textureWishFrom(row.text, 1));
    const auto at = std::ranges::find_if(maps, [&](const WishedMap& m) { return textOf(m.map) == own; });
    row.tick->setChecked(at != maps.end());
    if (at != maps.end()) row.kept = at->depth;
    offerDepths(row);
  }
}

void MapList::showPictures(const std::vector<QImage>& pictures) {
  for (size_t i = 0; i < rows_.size(); ++i) {
    const QImage picture = i < pictures.size() ? pictures[i] : QImage();
    rows_[i].picture->setIcon(picture.isNull() ? QIcon() : QIcon(QPixmap::fromImage(picture)));
  }
}

}  // namespace juvenor::app

#include "moc_map_list.cpp"
