#include "app/layer_card/hair_page.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "app/controls/labels.h"
#include "core/color/hair_tone.h"
#include "core/layers/sources/hair.h"

namespace juvenor::app {

template <>
struct KindSettings<Hair> {
  static const Hair* of(const LayerSource& s) { return hairOf(s); }
  static SourcePointer source(Hair settings) { return hairSource(std::move(settings)); }
};

namespace {

constexpr int kLockHeight = 22, kLockWidth = 180, kFibresAPixel = 4;

int byteOf(float linear) {
  return static_cast<int>(std::lround(255 * std::clamp(encodeSrgb(linear), 0.f, 1.f)));
}

QImage lockOf(const Hair& hair) {
  QImage out(kLockWidth, 1, QImage::Format_RGB32);
  Draws draws(hair.seed, 11);
  for (int i = 0; i < kLockWidth; ++i) {
    Vec3 light = Vec3::Zero();
    for (int k = 0; k < kFibresAPixel; ++k) light += hairTone(fibreAbsorption(hair, draws)) / kFibresAPixel;
    out.setPixel(i, 0, qRgb(byteOf(light.x()), byteOf(light.y()), byteOf(light.z())));
  }
  return out;
}

}  // namespace

HairPage::HairPage(Session& session) : PatternPage(session) {
  setObjectName("hair page");
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(3);
  buildBeginning(column);
  buildLock(column);
  addMember<Hair>(column, "eumelanin");
  addMember<Hair>(column, "pheomelanin");
  addMember<Hair>(column, "grey");
  addSize(column, tr("Length"), tr("From the root to the tip"), {Unit::Length, 0.002, 0.2});
  addMembers<Hair>(column, "apart", "stray");
  addMember<Hair>(column, "shine");
  addMember<Hair>(column, "under");
  addDirection(column);
  buildEdges(column);
  addAgain(column, [](const LayerSource& s) { return changed<Hair>(s, [](Hair& next) { ++next.seed; }); });
}

void HairPage::buildBeginning(QVBoxLayout* column) {
  auto* row = new QHBoxLayout;
  row->setSpacing(3);
  auto* usual = new QComboBox;
  usual->setObjectName("usual hair");
  usual->setToolTip(tr("Hair to begin from; where it grows, its colour and how it is combed stay"));
  usual->addItem(tr("Begin from …"));
  for (const UsualHair& hair : usualHair()) {
    usual->addItem(told(hair.label));
    usual->setItemData(usual->count() - 1, told(hair.does), Qt::ToolTipRole);
  }
  auto* where = new QPushButton(tr("paint where"));
  where->setObjectName("paint where");
  where->setFlat(true);
  where->setToolTip(tr("Takes the mask in hand: hair grows where you paint, and goes where you erase"));
  row->addWidget(usual, 1);
  row->addWidget(where);
  column->addLayout(row);
  connect(where, &QPushButton::clicked, this, [this] { session_.tools().setTool(Tool::Mask); });
  connect(usual, &QComboBox::activated, this, [this, usual](int at) {
    if (at < 1) return;
    const UsualHair& hair = usualHair()[static_cast<size_t>(at - 1)];
    const float diagonal = session_.document().surface->bounds.diagonal();
    change(
        [&](const LayerSource& s) {
          return changed<Hair>(s, [&](Hair& next) { next = usualHairOn(hair, std::move(next), diagonal); });
        },
        told(hair.label));
    usual->setCurrentIndex(0);
  });
}

// A lock of it, fibre beside fibre, in the tone each has among many.
void HairPage::buildLock(QVBoxLayout* column) {
  auto* lock = new QLabel;
  lock->setObjectName("lock of hair");
  lock->setAccessibleName(tr("Colour of this hair"));
  lock->setToolTip(tr("What this hair looks like: its tone, and how many are grey"));
  lock->setFixedHeight(kLockHeight);
  lock->setScaledContents(true);
  column->addWidget(lock);
  whenShown([lock](const LayerSource& s) {
    if (const Hair* hair = hairOf(s)) lock->setPixmap(QPixmap::fromImage(lockOf(*hair)));
  });
}

void HairPage::buildEdges(QVBoxLayout* column) {
  auto* row = new QHBoxLayout;
  row->setSpacing(3);
  auto* edges = quietLabel({});
  row->addWidget(edges, 1);
  auto* draw = new QPushButton(tr("Draw"));
  draw->setObjectName("draw edge");
  draw->setToolTip(
      tr("Takes the comb in hand with Edge pressed: stroke along the edge of a lid, and lashes stand "
         "along it instead of all over the mask"));
  auto* clear = new QPushButton(tr("Clear"));
  clear->setObjectName("clear edges");
  clear->setToolTip(tr("Forgets every edge"));
  row->addWidget(draw);
  row->addWidget(clear);
  column->addLayout(row);
  addMember<Hair>(column, "edge-apart");
  connect(draw, &QPushButton::clicked, this, [this] {
    session_.tools().setTool(Tool::Comb);
    session_.tools().setDrawsEdges(true);
  });
  connect(clear, &QPushButton::clicked, this, [this] {
    change(
        [](const LayerSource& s) {
          Guides next = *s.guides();
          next.edges.clear();
          return s.withGuides(std::move(next));
        },
        tr("Clear the edges"));
  });
  whenShown([edges, clear](const LayerSource& s) {
    const auto count = s.guides() ? static_cast<int>(s.guides()->edges.size()) : 0;
    edges->setText(count == 0 ? tr("No edge") : count == 1 ? tr("1 edge") : tr("%1 edges").arg(count));
    clear->setEnabled(count > 0);
  });
}

}  // namespace juvenor::app

#include "moc_hair_page.cpp"
