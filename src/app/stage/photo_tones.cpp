#include "app/stage/photo_tones.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPushButton>

#include "app/controls/labels.h"
#include "app/controls/value_slider.h"

namespace juvenor::app {
namespace {

constexpr int kRestMs = 200;

}  // namespace

PhotoTones::PhotoTones(Session& session, Easel& easel) : session_(session), easel_(easel) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(3);
  column->addWidget(quietLabel(tr("Its light and tones")));
  even_ = buildSlider(tr("Even light"), tr("How much of its broad light is divided out"), &SlideTone::even);
  highlights_ = buildSlider(tr("Less shine"), tr("How much of its highlights gives way to what is around"),
                            &SlideTone::highlights);
  match_ = buildSlider(tr("Match"), tr("How far its tones move to those of the skin"), &SlideTone::match);
  buildWorkedOut();
  pins_ = quietLabel(tr("Pins tell how far it is off"));
  pins_->setObjectName("pin differences");
  pins_->setToolTip(tr(
      "How far the photo is from the skin at its pins, as ΔE2000: 1 can just be seen, 10 is another tone"));
  column->addWidget(pins_);
  resting_.setSingleShot(true);
  resting_.setInterval(kRestMs);
  connect(&resting_, &QTimer::timeout, this, &PhotoTones::weighPins);
  connect(&easel_.slide(), &SlideHand::changed, this, &PhotoTones::show);
  connect(&session_, &Session::documentChanged, this, [this] { resting_.start(); });
  show();
}

ValueSlider* PhotoTones::buildSlider(const QString& name, const QString& tip, float SlideTone::*member) {
  auto* out = new ValueSlider(name, {0, 1, 100, "%", false, 0});
  out->setObjectName("photo " + name);
  out->setToolTip(tip);
  layout()->addWidget(out);
  connect(out, &ValueSlider::changed, this, [this, member](double v) {
    change([&](SlideTone& tone) { tone.*member = static_cast<float>(v); }, false);
  });
  connect(out, &ValueSlider::settled, this, [this] { change([](SlideTone&) {}, true); });
  return out;
}

QPushButton* PhotoTones::buildButton(QHBoxLayout& row, const QString& name, const QString& text,
                                     const QString& tip) {
  auto* out = new QPushButton(text);
  out->setObjectName(name);
  out->setToolTip(tip);
  out->setStyleSheet("padding: 3px 4px; font-size: 11px;");
  row.addWidget(out, 1);
  return out;
}

void PhotoTones::buildWorkedOut() {
  auto* row = new QHBoxLayout;
  row->setSpacing(4);
  solve_ = buildButton(*row, "photo solve", tr("Solve"),
                       tr("Finds from four pins or more where the photo was taken, and looks from there"));
  byForm_ =
      buildButton(*row, "photo light", tr("By form"),
                  tr("Evens the light by the form it fell on, cast shadows too: fits it over the sculpt "
                     "where the slide lies"));
  toSkin_ =
      buildButton(*row, "photo match", tr("To skin"), tr("Takes the tones of the skin beneath to match to"));
  where_ = buildButton(*row, "photo match where", tr("To …"),
                       tr("Takes the tones of one zone to match to, or those where a layer's mask shows"));
  static_cast<QVBoxLayout*>(layout())->addLayout(row);
  connect(solve_, &QPushButton::clicked, this, [this] {
    workOut(tr("Solve camera"),
            [](const Document&, const Slide& s, const Progress&) { return withCameraSolved(s); });
  });
  connect(byForm_, &QPushButton::clicked, this, [this] {
    workOut(tr("Even the light"), [](const Document& d, const Slide& s, const Progress& p) {
      Slide whole = s;
      whole.tone.even = std::max(whole.tone.even, 1.f);
      return withLightFitted(d, whole, p);
    });
  });
  connect(toSkin_, &QPushButton::clicked, this, [this] { matchTo({}); });
  connect(where_, &QPushButton::clicked, this, &PhotoTones::chooseWhere);
}

void PhotoTones::matchTo(const TonesWanted& wanted) {
  workOut(tr("Match tones"), [wanted](const Document& d, const Slide& s, const Progress& p) {
    return withTonesMatched(d, s, wanted, p);
  });
}

// The zones of the work, and the layers whose mask leaves something out.
void PhotoTones::chooseWhere() {
  if (!session_.isOpen()) return;
  QMenu menu;
  menu.setObjectName("match to");
  for (const LayerPointer& layer : session_.document().layers) {
    const QString name = QString::fromStdString(layer->name);
    if (const ZoneSet* set = layer->source->zones()) {
      menu.addSection(name);
      for (const HueZone& zone : set->zones)
        menu.addAction(QString::fromStdString(zone.name), this,
                       [this, wanted = TonesWanted{layer->id, zone.name}] { matchTo(wanted); });
    }
  }
  menu.addSection(tr("Where a mask shows"));
  for (const LayerPointer& layer : session_.document().layers)
    if (layer->mask || !layer->terms.empty())
      menu.addAction(QString::fromStdString(layer->name), this,
                     [this, wanted = TonesWanted{layer->id, {}}] { matchTo(wanted); });
  if (menu.actions().size() == 1) menu.addAction(tr("There is no zone and no mask yet"))->setEnabled(false);
  menu.exec(where_->mapToGlobal(QPoint(0, where_->height())));
}

namespace {

// What was worked out of a slide as it hung before, put into it as it hangs now: pins set meanwhile stay.
Slide merged(Slide now, const Slide& before, const Slide& after) {
  const auto take = [&](auto member) {
    if (!(after.*member == before.*member)) now.*member = after.*member;
  };
  take(&Slide::camera);
  take(&Slide::middle);
  take(&Slide::half);
  take(&Slide::turn);
  take(&Slide::pins);
  take(&Slide::tone);
  return now;
}

}  // namespace

// What is worked out beside the window, of the slide as it hangs.
void PhotoTones::workOut(const QString& name, const Work& work) {
  const Slide* slide = easel_.slide().slide();
  if (!slide) return session_.say(tr("Take a slide in hand first."), true);
  if (session_.isBusy()) return;
  session_.settleStrokes();
  const auto result = std::make_shared<std::optional<Slide>>();
  const Slide before = *slide;
  session_.background().start(
      name,
      [d = session_.document(), s = *slide, work, result](const Progress& p) -> Outcome {
        auto next = caught([&] { return work(d, s, p); });
        if (!next) return next.error();
        *result = std::move(*next);
        return Done{};
      },
      [this, name, before, result](const Outcome& done) {
        if (!done) return session_.tell(done.error());
        session_.settleStrokes();
        const auto& slides = session_.document().slides;
        const auto now = std::ranges::find(slides, before.id, &Slide::id);
        if (now == slides.end()) return session_.say(tr("The slide is not there any more."), true);
        const Slide next = merged(*now, before, **result);
        const bool moved = !(next.camera == uncut(easel_.viewing().camera));
        if (!session_.apply(withSlide(session_.document(), next), name)) return;
        if (moved) emit turned(next.id);
      });
}

void PhotoTones::change(const std::function<void(SlideTone&)>& by, bool settled) {
  easel_.slide().changeTone(by);
  if (settled) easel_.slide().keep(tr("Tone slide"));
}

void PhotoTones::show() {
  const Slide* slide = easel_.slide().slide();
  for (QWidget* w :
       std::initializer_list<QWidget*>{even_, highlights_, match_, solve_, byForm_, toSkin_, where_})
    w->setEnabled(slide != nullptr);
  if (slide) {
    even_->show(static_cast<double>(slide->tone.even));
    highlights_->show(static_cast<double>(slide->tone.highlights));
    match_->show(static_cast<double>(slide->tone.match));
  }
  resting_.start();
}

void PhotoTones::weighPins() {
  const Slide* slide = easel_.slide().slide();
  if (!slide || slide->pins.empty() || !isVisible()) {
    weighing_.giveUp();
    weighed_.reset();
    return tellPins({});
  }
  const LayerStack& layers = session_.document().layers;
  if (weighed_ == *slide && weighedLayers_.are(layers)) return;
  weighed_ = *slide;
  weighedLayers_ = SeenLayers(layers);
  const auto result = std::make_shared<std::vector<std::optional<PinDifference>>>();
  weighing_.start(
      tr("Weighing the pins"),
      [d = session_.document(), s = *slide, result](const Progress& p) -> Outcome {
        auto pins = caught([&] { return pinDifferences(d, s, p); });
        if (!pins) return pins.error();
        *result = std::move(*pins);
        return Done{};
      },
      [this, result](const Outcome& done) {
        tellPins(done ? *result : std::vector<std::optional<PinDifference>>());
      });
}

void PhotoTones::tellPins(const std::vector<std::optional<PinDifference>>& pins) {
  PinDifference mean;
  int count = 0;
  QStringList words;
  for (const auto& pin : pins) {
    words << (pin ? tr("ΔE %1 → %2").arg(pin->photo, 0, 'f', 1).arg(pin->toned, 0, 'f', 1) : QString());
    if (!pin) continue;
    mean.photo += pin->photo;
    mean.toned += pin->toned;
    ++count;
  }
  easel_.slide().setPinWords(words);
  pins_->setText(count == 0 ? tr("Pins tell how far it is off")
                            : tr("Pins: ΔE %1, toned %2")
                                  .arg(mean.photo / count, 0, 'f', 1)
                                  .arg(mean.toned / count, 0, 'f', 1));
}

}  // namespace juvenor::app

#include "moc_photo_tones.cpp"
