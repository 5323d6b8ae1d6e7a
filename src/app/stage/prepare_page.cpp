#include "app/stage/prepare_page.h"

#include <QGridLayout>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/controls/labels.h"
#include "app/controls/value_slider.h"
#include "app/session/stages.h"
#include "app/session/words.h"
#include "app/stage/prepare_pictures.h"
#include "app/style/style.h"
#include "core/document/edits/edit_parts.h"
#include "core/render/light_ball.h"
#include "core/render/placement_picture.h"

namespace juvenor::app {
namespace {

constexpr int kEdge = PrepareRow::kPicture, kFineEdge = 2 * kEdge;
// Pixels of a tile's edge that a layout's density is told for.
constexpr float kTile = 4096;

QImage imageOf(const std::vector<uint32_t>& pixels, int edge) {
  return QImage(reinterpret_cast<const uchar*>(pixels.data()), edge, edge, edge * 4, QImage::Format_ARGB32)
      .copy();
}

QString millimetres(float length) {
  return shortLength(length, 1);
}

// The broadest thing that is no larger than that: what one wants when the finest is so large.
const FineThing& thingOf(float size) {
  const FineThing* best = kFineThings.data();
  for (const FineThing& t : kFineThings)
    if (t.millimetres <= 1.001f * size) best = &t;
  return *best;
}

// Nothing but the sky, or lamps and surroundings that tint nothing and leave the exposure as it is.
bool isNeutral(const Light& light) {
  return light.kind == LightKind::Overcast && light.exposure == 0 && light.depth == 1;
}

}  // namespace

PreparePage::PreparePage(Session& session, Easel& easel) : session_(session), easel_(easel) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(12, 6, 12, 8);
  column->setSpacing(6);
  column->addWidget(titleLabel(tr("Prepare")));
  column->addWidget(quietLabel(tr("Can the sculpt carry paint? What has a ring could be mended.")));
  stands_ = add(*column, "stands", tr("Stands"), tr("Turn …"),
                tr("What is up, what faces you, and how long its unit is"));
  points_ =
      add(*column, "points", tr("Points"), tr("Add …"), tr("Points as close as the finest thing wants them"));
  finest_ = new ValueSlider(tr("Finest"), {0.1, 60, 1, tr("mm"), true, 1});
  finest_->setObjectName("finest thing");
  finest_->setToolTip(tr("How large the finest thing is that you want to paint on this sculpt"));
  finest_->show(5);
  column->addWidget(finest_);
  parts_ = add(*column, "parts", tr("Parts"), tr("Apart"),
               tr("Every loose shell becomes a part that is filled, hidden and painted alone"));
  squares_ = add(*column, "squares", tr("UVs"), tr("Unwrap …"), tr("Painting needs none; texture maps do"));
  mirror_ = add(*column, "mirror", tr("Mirror"), tr("Take it"),
                tr("Strokes are mirrored in the plane the figure is symmetric about"));
  board_ =
      add(*column, "board", tr("Reference"), tr("Board"), tr("Pictures to look at and to take colours from"));
  light_ = add(*column, "light", tr("Light"), tr("Neutral"), tr("An overcast sky that tints nothing"));
  column->addWidget(buildBegin());
  column->addStretch();
  connect(stands_, &PrepareRow::mend, this, &PreparePage::placeWanted);
  connect(points_, &PrepareRow::mend, this, [this] {
    if (session_.isOpen())
      emit pointsWanted(spacingFor(static_cast<float>(finest_->value())) /
                        session_.document().placement.millimetres);
  });
  connect(parts_, &PrepareRow::mend, this, &PreparePage::takeApart);
  connect(squares_, &PrepareRow::mend, this, &PreparePage::unwrapWanted);
  connect(mirror_, &PrepareRow::mend, this, &PreparePage::takePlane);
  connect(board_, &PrepareRow::mend, this, &PreparePage::boardWanted);
  connect(light_, &PrepareRow::mend, this, [this] {
    Light neutral;
    neutral.dial = easel_.viewing().light.dial;
    easel_.setLight(neutral);
  });
  connect(finest_, &ValueSlider::changed, this, &PreparePage::tellPoints);
  connect(&easel_, &Easel::viewingChanged, this, &PreparePage::tellLight);
  connect(&session_, &Session::opened, this, [this] {
    found_.reset();
    of_.reset();
    tellRing();
  });
  connect(&session_, &Session::left, this, [this] { work_.giveUp(); });
  connect(&session_, &Session::uvSetChanged, this, &PreparePage::refresh);
}

PrepareRow* PreparePage::add(QLayout& column, const QString& name, const QString& title, const QString& act,
                             const QString& tip) {
  auto* row = new PrepareRow(name, title, act, tip);
  column.addWidget(row);
  return row;
}

// Four ways into the work: skin tones first, or one of the second steps where it comes first for a creature.
QWidget* PreparePage::buildBegin() {
  auto* box = new QWidget;
  auto* grid = new QGridLayout(box);
  grid->setContentsMargins(0, 4, 0, 0);
  grid->setSpacing(4);
  grid->addWidget(quietLabel(tr("Begin from")), 0, 0, 1, 2);
  struct Way {
    const char* name;
    QString words, tip;
    int stage;
  };
  const Way ways[] = {
      {"tones", tr("Skin tones"), tr("Base: a tone for every part"), kBaseStage},
      {"photo", tr("A photo"), tr("Photo: what a photo gives comes first, hue zones over it"), kPhotoStage},
      {"pattern", tr("A pattern"), tr("Pattern: scales or fine skin first, colours follow them"),
       kPatternStage},
      {"values", tr("Values"), tr("Base in greys: light and dark are right before any hue is"), kBaseStage}};
  int place = 0;
  for (const Way& way : ways) {
    auto* b = new QPushButton(way.words);
    b->setObjectName(QString("begin %1").arg(way.name));
    b->setToolTip(way.tip);
    grid->addWidget(b, 1 + place / 2, place % 2);
    const bool greys = QString(way.name) == "values";
    connect(b, &QPushButton::clicked, this, [this, stage = way.stage, greys] {
      if (!session_.isOpen()) return;
      enterStage(session_, stage);
      if (greys) easel_.setView(View::Value);
    });
    ++place;
  }
  return box;
}

void PreparePage::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  refresh();
}

void PreparePage::refresh() {
  if (!session_.isOpen() || !isVisible()) return;
  const Document& d = session_.document();
  const bool same = of_.lock() == d.surface && sculpt_.lock() == d.sculpt && placement_ == d.placement &&
                    plane_ == d.mirror && uvSet_ == session_.uvSet();
  if (!same) look();
  tell();
}

void PreparePage::look() {
  const Document d = session_.document();
  of_ = d.surface;
  sculpt_ = d.sculpt;
  placement_ = d.placement;
  plane_ = d.mirror;
  uvSet_ = session_.uvSet();
  struct Found {
    Readiness readiness;
    std::vector<uint32_t> stands;
  };
  auto found = std::make_shared<Found>();
  work_.start(
      tr("Looking at the sculpt"),
      [d, found, set = uvSet_](const Progress& p) -> Outcome {
        auto ready = readinessOf(d, set, p);
        if (!ready) return ready.error();
        found->readiness = std::move(*ready);
        const auto rays = d.maps->rays(p);
        if (!rays) return rays.error();
        found->stands = placementPicture(**rays, {}, {kFineEdge, kFineEdge}, 0xff2e2e2e);
        return Done{};
      },
      [this, found](const Outcome& done) {
        if (!done) return session_.tell(done.error());
        found_ = std::move(found->readiness);
        stands_->setPicture(imageOf(found->stands, kFineEdge));
        tell();
      });
}

void PreparePage::tell() {
  using State = PrepareRow::State;
  if (!session_.isOpen()) return;
  const auto by = [](bool well) { return well ? State::Well : State::Open; };
  const Document& d = session_.document();
  board_->show(by(!d.board.empty()),
               d.board.empty() ? tr("No picture yet to look at") : tr("%1 on the board").arg(d.board.size()));
  board_->setPicture(boardPicture(d.board, kEdge));
  tellLight();
  if (!found_) return;
  const Readiness& r = *found_;
  stands_->show(by(r.likelySize), r.likelySize ? tr("%1 tall").arg(millimetres(r.tall))
                                               : tr("%1 tall: is that so?").arg(millimetres(r.tall)));
  parts_->show(by(r.inParts()), r.inParts() ? tr("%1, each in one piece").arg(r.parts)
                                            : tr("%1 in %2 loose shells").arg(r.parts).arg(r.shells));
  parts_->setPicture(shellsPicture(r.shells, r.parts, kEdge));
  QString squares = tr("None; texture maps want some");
  if (r.layout) {
    const double density = static_cast<double>(r.layout->middle * kTile / d.placement.millimetres);
    squares = tr("%1 px a mm at 4,096").arg(density, 0, 'g', 3);
    if (r.layout->missing != 0)
      squares = tr("%1 faces have none").arg(r.layout->missing);
    else if (r.layout->outside != 0)
      squares = tr("Some lie outside every tile");
    else if (!r.laidOut())
      squares = tr("%1 % lie on each other").arg(std::lround(100 * r.doubled));
  }
  squares_->show(by(r.laidOut()), squares);
  squares_->setPicture(squaresPicture(r, kEdge));
  mirror_->show(by(r.mirrorReady()),
                !r.mirrors      ? tr("Its sides are not alike")
                : r.planeIsOurs ? tr("%1 % finds its other side").arg(std::lround(100 * r.plane.found))
                                : tr("Its own plane lies elsewhere"));
  mirror_->setPicture(mirrorPicture(r, kEdge));
  tellPoints();
}

void PreparePage::tellPoints() {
  if (!found_) return;
  const Readiness& r = *found_;
  const auto thing = static_cast<float>(finest_->value());
  const bool well = r.fineEnough(thing) && r.carries >= Carries::Broad;
  const QString name = told(thingOf(thing).label);
  QString said =
      tr("%1 want %2, you have %3").arg(name, millimetres(spacingFor(thing)), millimetres(r.spacing));
  if (r.fineEnough(thing) && r.carries == Carries::Nothing)
    said = tr("%1 points carry no paint").arg(shortCount(r.points));
  else if (r.fineEnough(thing) && r.carries == Carries::Coarse)
    said = tr("%1 points: paint is coarse").arg(shortCount(r.points));
  points_->show(well ? PrepareRow::State::Well : PrepareRow::State::Open, said);
  points_->setToolTip(tr("%1 points now, about %2 for that everywhere")
                          .arg(shortCount(r.points), shortCount(static_cast<size_t>(r.pointsFor(thing)))));
  points_->setPicture(pointsPicture(r.spacing, thing, kEdge));
  tellRing();
}

void PreparePage::tellRing() {
  if (const bool now = unmended(); std::exchange(told_, now) != now) emit unmendedChanged(now);
}

void PreparePage::tellLight() {
  const Light& light = easel_.viewing().light;
  if (!isVisible() || shown_ == light) return;
  shown_ = light;
  light_->show(isNeutral(light) ? PrepareRow::State::Well : PrepareRow::State::Open,
               isNeutral(light) ? tr("An overcast sky, neutral") : tr("It tints or darkens the skin"));
  light_->setPicture(imageOf(lightBall(light, kFineEdge), kFineEdge));
  tellRing();
}

bool PreparePage::unmended() const {
  const PrepareRow* rows[] = {stands_, points_, parts_, squares_, mirror_, board_, light_};
  return found_ &&
         std::ranges::any_of(rows, [](const PrepareRow* r) { return r->state() == PrepareRow::State::Open; });
}

void PreparePage::takeApart() {
  if (!session_.isOpen()) return;
  if (session_.document().sculpt->parts.size() > 1) return emit partsWanted();
  session_.edit(tr("Shells apart"),
                [](const Document& d, const Progress& p) { return withShellsApart(d, 0, p); });
}

void PreparePage::takePlane() {
  if (!session_.isOpen() || !found_) return;
  if (!found_->mirrors)
    return session_.say(
        tr("Less than three quarters of the figure finds its other side: paint each by itself."));
  session_.settleStrokes();
  session_.apply(withMirrorPlane(session_.document(), found_->plane.plane), tr("Fit mirror plane"));
}

}  // namespace juvenor::app

#include "moc_prepare_page.cpp"
