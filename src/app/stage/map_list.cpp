#include "app/stage/map_list.h"

#include <QCheckBox>
#include <QGridLayout>
#include <QLabel>
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

MapList::MapList(QWidget* parent) : QWidget(parent) {
  auto* grid = new QGridLayout(this);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setHorizontalSpacing(8);
  grid->setVerticalSpacing(3);
  grid->setColumnStretch(1, 1);
  const std::vector<TextureWish> wishes = offered(1);
  for (int i = 0; i < static_cast<int>(wishes.size()); ++i) {
    const Offered& o = kOffered[i];
    Row row{new QCheckBox(tr(o.name)), new QLabel, new QToolButton,
            usualDepth(format_, wishes[static_cast<size_t>(i)])};
    row.tick->setObjectName(QString("map ") + o.text);
    row.tick->setChecked(o.ticked);
    row.tick->setToolTip(
        tr("%1; its file is called …_%2")
            .arg(tr(o.tip), QString::fromStdString(suffixOf(wishes[static_cast<size_t>(i)]))));
    row.picture->setFixedSize(kPictureSide, kPictureSide);
    row.picture->setToolTip(row.tick->toolTip());
    row.depth->setProperty("narrow", true);
    row.depth->setFixedWidth(kDepthWide);
    row.depth->setPopupMode(QToolButton::InstantPopup);
    row.depth->setObjectName(QString("depth ") + o.text);
    row.depth->setAccessibleName(tr("Depth of %1").arg(tr(o.name)));
    row.depth->setToolTip(tr("How finely each value is kept"));
    row.depth->setMenu(new QMenu(row.depth));
    grid->addWidget(row.picture, i, 0);
    grid->addWidget(row.tick, i, 1);
    grid->addWidget(row.depth, i, 2, Qt::AlignRight);
    connect(row.tick, &QCheckBox::toggled, this, &MapList::changed);
    rows_.push_back(row);
  }
  for (Row& row : rows_) offerDepths(row);
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
  row.depth->setText(nameOf(row.kept));
}

void MapList::setFormat(MapFormat format) {
  format_ = format;
  const std::vector<TextureWish> wishes = offered(1);
  for (size_t i = 0; i < rows_.size(); ++i) {
    if (!canKeep(format, rows_[i].kept)) rows_[i].kept = usualDepth(format, wishes[i]);
    offerDepths(rows_[i]);
  }
  emit changed();
}

std::vector<WishedMap> MapList::wished(float diagonal) const {
  std::vector<WishedMap> out;
  const std::vector<TextureWish> wishes = offered(diagonal);
  for (size_t i = 0; i < rows_.size(); ++i)
    if (rows_[i].tick->isChecked()) out.push_back({wishes[i], rows_[i].kept});
  return out;
}

void MapList::tick(const std::vector<WishedMap>& maps) {
  const std::vector<TextureWish> wishes = offered(1);
  for (size_t i = 0; i < rows_.size(); ++i) {
    const auto at =
        std::ranges::find_if(maps, [&](const WishedMap& m) { return textOf(m.map) == textOf(wishes[i]); });
    rows_[i].tick->setChecked(at != maps.end());
    if (at != maps.end()) rows_[i].kept = at->depth;
    offerDepths(rows_[i]);
  }
}

void MapList::showPictures(const std::vector<QImage>& pictures) {
  for (size_t i = 0; i < rows_.size(); ++i) {
    const QImage picture = i < pictures.size() ? pictures[i] : QImage();
    rows_[i].picture->setPixmap(
        picture.isNull() ? QPixmap()
                         : QPixmap::fromImage(picture).scaled(rows_[i].picture->size(), Qt::KeepAspectRatio,
                                                              Qt::SmoothTransformation));
  }
}

}  // namespace juvenor::app

#include "moc_map_list.cpp"
