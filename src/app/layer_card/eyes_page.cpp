#include "app/layer_card/eyes_page.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/controls/emptied.h"
#include "app/controls/labels.h"
#include "core/color/iris_tone.h"
#include "core/color/oklab.h"

namespace juvenor::app {

template <>
struct KindSettings<Eyes> {
  static const Eyes* of(const LayerSource& s) { return eyesOf(s); }
  static SourcePointer source(Eyes settings) { return eyeSource(std::move(settings)); }
};

namespace {

constexpr size_t kMostRings = 6;

EncodedColor toneOf(const IrisRing& ring) {
  const Oklab plain = toOklab(decode(irisColor(ring.melanin))), own = toOklab(decode(ring.color));
  const auto mixed = [&](float a, float b) { return a + ring.colored * (b - a); };
  return encode(fromOklab({mixed(plain.l, own.l), mixed(plain.a, own.a), mixed(plain.b, own.b)}));
}

}  // namespace

EyesPage::EyesPage(Session& session) : SettingsPage(session, "eyes") {
  setObjectName("eyes page");
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(3);
  buildBeginning(column);
  addMember<Eyes>(column, "iris");
  buildRings(column);
  addMembers<Eyes>(column, "uneven", "flecks");
  addColor(
      column, tr("Colour of flecks"), [](const LayerSource& s) { return eyesOf(s)->fleckColor; },
      [](const LayerSource& s, const EncodedColor& c) {
        return changed<Eyes>(s, [&](Eyes& next) { next.fleckColor = c; });
      },
      tr("Colour of flecks"));
  addMembers<Eyes>(column, "limbus", "recess");
  buildPupil(column);
  column->addWidget(quietLabel(tr("The white")));
  addColor(
      column, tr("White"), [](const LayerSource& s) { return eyesOf(s)->white; },
      [](const LayerSource& s, const EncodedColor& c) {
        return changed<Eyes>(s, [&](Eyes& next) { next.white = c; });
      },
      tr("White of eyes"));
  addMembers<Eyes>(column, "back", "vessel-width");
  addColor(
      column, tr("Colour of vessels"), [](const LayerSource& s) { return eyesOf(s)->vesselColor; },
      [](const LayerSource& s, const EncodedColor& c) {
        return changed<Eyes>(s, [&](Eyes& next) { next.vesselColor = c; });
      },
      tr("Colour of vessels"));
  addMembers<Eyes>(column, "wet-rim", "third-lid");
  addColor(
      column, tr("Colour of third lid"), [](const LayerSource& s) { return eyesOf(s)->lidColor; },
      [](const LayerSource& s, const EncodedColor& c) {
        return changed<Eyes>(s, [&](Eyes& next) { next.lidColor = c; });
      },
      tr("Colour of third lid"));
  addMembers<Eyes>(column, "gloss", "wander");
  auto* again = new QPushButton(tr("Throw anew"));
  again->setObjectName("other eyes");
  again->setToolTip(tr("Other fibres, spots and vessels of the same kind"));
  column->addWidget(again);
  connect(again, &QPushButton::clicked, this, [this] {
    change([](const LayerSource& s) { return changed<Eyes>(s, [](Eyes& next) { ++next.seed; }); },
           tr("Throw anew"));
  });
}

void EyesPage::buildBeginning(QVBoxLayout* column) {
  auto* row = new QHBoxLayout;
  row->setSpacing(3);
  auto* usual = new QComboBox;
  usual->setObjectName("usual eyes");
  usual->setToolTip(tr("Eyes to begin from; sizes and where they look stay"));
  usual->addItem(tr("Begin from …"));
  for (const UsualEye& eye : usualEyes()) {
    usual->addItem(told(eye.label));
    usual->setItemData(usual->count() - 1, told(eye.does), Qt::ToolTipRole);
  }
  auto* place = new QPushButton(tr("place"));
  place->setObjectName("place eyes");
  place->setFlat(true);
  place->setToolTip(tr("Takes the handles in hand: press on an eyeball to set an eye, drag to turn it"));
  row->addWidget(usual, 1);
  row->addWidget(place);
  column->addLayout(row);
  connect(place, &QPushButton::clicked, this, [this] { session_.tools().setTool(Tool::Zones); });
  connect(usual, &QComboBox::activated, this, [this, usual](int at) {
    if (at < 1) return;
    const UsualEye& eye = usualEyes()[static_cast<size_t>(at - 1)];
    change([&](const LayerSource& s) { return changed<Eyes>(s, [&](Eyes& next) { next = eye.of(next); }); },
           told(eye.label));
    usual->setCurrentIndex(0);
  });
}

void EyesPage::changeRings(const std::function<void(Eyes&)>& how, const QString& step) {
  change([&](const LayerSource& s) { return changed<Eyes>(s, how); }, step);
}

// A swatch a ring, from the pupil outward; below them what the chosen one is made of.
void EyesPage::buildRings(QVBoxLayout* column) {
  column->addWidget(quietLabel(tr("Rings from pupil to rim")));
  rings_ = new QHBoxLayout;
  rings_->setSpacing(3);
  column->addLayout(rings_);
  addSetting(column, tr("Melanin"), tr("Of this ring: 0 blue, 40 green to hazel, 100 nearly black"),
             {{},
              [this](const LayerSource& s) { return eyesOf(s)->rings[ring(*eyesOf(s))].melanin; },
              [this](const LayerSource& s, float v) {
                return changed<Eyes>(s, [&](Eyes& next) { next.rings[ring(next)].melanin = v; });
              }});
  addSetting(column, tr("Own colour"), tr("How far this ring is drawn toward a colour of its own"),
             {{},
              [this](const LayerSource& s) { return eyesOf(s)->rings[ring(*eyesOf(s))].colored; },
              [this](const LayerSource& s, float v) {
                return changed<Eyes>(s, [&](Eyes& next) { next.rings[ring(next)].colored = v; });
              }});
  addColor(
      column, tr("That colour"),
      [this](const LayerSource& s) { return eyesOf(s)->rings[ring(*eyesOf(s))].color; },
      [this](const LayerSource& s, const EncodedColor& c) {
        return changed<Eyes>(s, [&](Eyes& next) {
          IrisRing& chosen = next.rings[ring(next)];
          chosen.color = c;
          if (chosen.colored == 0) chosen.colored = 0.7f;
        });
      },
      tr("Colour of a ring"));
  whenShown([this](const LayerSource& s) {
    if (const Eyes* eyes = eyesOf(s)) showRings(*eyes);
  });
}

void EyesPage::showRings(const Eyes& eyes) {
  empty(*rings_);
  for (size_t i = 0; i < eyes.rings.size(); ++i) {
    auto* b = new QToolButton;
    b->setObjectName(QString("ring %1").arg(i + 1));
    b->setAccessibleName(tr("Ring %1").arg(i + 1));
    b->setToolTip(tr("Ring %1, counted from the pupil").arg(i + 1));
    showSwatch(b, toneOf(eyes.rings[i]), 1, i == ring(eyes));
    connect(b, &QToolButton::clicked, this, [this, i] {
      ring_ = i;
      if (const LayerPointer layer = layerOf(session_.document(), layer_.id())) show(*layer);
    });
    rings_->addWidget(b);
  }
  auto* more = new QPushButton("+");
  more->setObjectName("more rings");
  more->setFixedWidth(24);
  more->setStyleSheet("padding: 0;");
  more->setToolTip(tr("Another ring like the chosen one, outside of it"));
  more->setEnabled(eyes.rings.size() < kMostRings);
  connect(more, &QPushButton::clicked, this, [this] {
    changeRings(
        [this](Eyes& next) {
          const auto at = next.rings.begin() + static_cast<std::ptrdiff_t>(ring(next));
          next.rings.insert(at + 1, IrisRing(*at));
        },
        tr("Add a ring"));
  });
  auto* fewer = new QPushButton("−");
  fewer->setObjectName("fewer rings");
  fewer->setFixedWidth(24);
  fewer->setStyleSheet("padding: 0;");
  fewer->setToolTip(tr("Takes the chosen ring away"));
  fewer->setEnabled(eyes.rings.size() > 1);
  connect(fewer, &QPushButton::clicked, this, [this] {
    changeRings(
        [this](Eyes& next) {
          next.rings.erase(next.rings.begin() + static_cast<std::ptrdiff_t>(ring(next)));
        },
        tr("Remove a ring"));
  });
  rings_->addStretch();
  rings_->addWidget(fewer);
  rings_->addWidget(more);
}

void EyesPage::buildPupil(QVBoxLayout* column) {
  column->addWidget(quietLabel(tr("Pupil")));
  auto* shape = new QComboBox;
  shape->setObjectName("pupil shape");
  shape->setToolTip(tr("What the pupil's edge is like"));
  const QStringList names{tr("Round"), tr("Upright slit"), tr("Level slit"), tr("Keyhole"), tr("Drawn")};
  shape->addItems(names);
  column->addWidget(shape);
  addMembers<Eyes>(column, "pupil", "slit");
  connect(shape, &QComboBox::activated, this, [this](int at) {
    change(
        [&](const LayerSource& s) {
          return changed<Eyes>(s, [&](Eyes& next) {
            next.shape = static_cast<PupilShape>(at);
            // something to begin with: a flat diamond
            if (next.shape == PupilShape::Drawn && next.outline.empty())
              next.outline = {{1, 0}, {0, 0.5f}, {-1, 0}, {0, -0.5f}};
          });
        },
        tr("Shape of the pupil"));
  });
  whenShown([shape](const LayerSource& s) {
    if (const Eyes* eyes = eyesOf(s)) shape->setCurrentIndex(static_cast<int>(eyes->shape));
  });
}

}  // namespace juvenor::app

#include "moc_eyes_page.cpp"
