#include "app/sheet/sheet_panel.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QListWidget>
#include <QPushButton>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include "app/controls/background_progress.h"
#include "core/textures/sheet_layout.h"

namespace juvenor::app {
namespace {

constexpr int kFootHeight = 30;
// What most maps are written with.
constexpr int kUsualPixels = 4096;

QPushButton* footButton(const QString& text, const QString& name, const QString& tip) {
  auto* out = new QPushButton(text);
  out->setObjectName(name);
  out->setProperty("narrow", true);
  out->setToolTip(tip);
  out->setFixedHeight(22);
  return out;
}

}  // namespace

SheetPanel::SheetPanel(Session& session, Easel& easel)
    : session_(session), easel_(easel), view_(new SheetView(session, easel)) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  column->addWidget(view_, 1);
  column->addWidget(buildFoot());
  column->addWidget(new BackgroundProgress(laying_, "laying the sheet"));
  connect(view_, &SheetView::pictureDropped, this, &SheetPanel::pictureDropped);
  connect(&session_, &Session::opened, this, [this] {
    laying_.giveUp();
    laidOf_.reset();
    view_->setSheet(nullptr, {});
    refresh();
  });
  connect(&session_, &Session::left, this, [this] {
    laying_.giveUp();
    laidOf_.reset();
    view_->setSheet(nullptr, {});
  });
  connect(&session_, &Session::documentChanged, this, &SheetPanel::refresh);
  connect(&session_, &Session::uvSetChanged, this, &SheetPanel::refresh);
}

QWidget* SheetPanel::buildFoot() {
  auto* foot = new QWidget;
  foot->setObjectName("sheet foot");
  foot->setMinimumHeight(kFootHeight);
  auto* row = new QHBoxLayout(foot);
  row->setContentsMargins(6, 3, 6, 3);
  row->setSpacing(4);
  sets_ = new QComboBox;
  sets_->setObjectName("uv set");
  sets_->setAccessibleName(tr("UV set"));
  sets_->setToolTip(tr("Which of the sculpt's UV sets is laid out, baked and brought by"));
  sets_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  sets_->setMinimumContentsLength(5);
  row->addWidget(sets_);
  connect(sets_, &QComboBox::activated, this, [this](int at) { session_.setUvSet(static_cast<size_t>(at)); });
  tiles_ = new QListWidget;
  tiles_->setObjectName("tiles");
  tiles_->setAccessibleName(tr("Tiles"));
  tiles_->setToolTip(tr("The tiles anything lies in; choose one to look at it"));
  tiles_->setFlow(QListView::LeftToRight);
  tiles_->setFixedHeight(24);
  tiles_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  tiles_->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  row->addWidget(tiles_, 1);
  connect(tiles_, &QListWidget::currentRowChanged, this, [this](int at) {
    const SheetPointer& sheet = view_->viewing().sheet;
    if (sheet && at >= 0 && static_cast<size_t>(at) < sheet->tiles.size())
      view_->setTile(sheet->tiles[static_cast<size_t>(at)]);
  });
  row->addStretch();
  unwrap_ =
      footButton(tr("Unwrap …"), "unwrap here", tr("Makes UVs for the sculpt; its file stays as it is"));
  connect(unwrap_, &QPushButton::clicked, this, &SheetPanel::unwrapWanted);
  row->addWidget(unwrap_);
  squares_ = footButton(
      tr("Squares"), "squares",
      tr("Numbered squares of equal size in the layout, over sheet and easel: where they are large or drawn "
         "out, a map is coarse or stretched"));
  squares_->setCheckable(true);
  connect(squares_, &QPushButton::toggled, this, &SheetPanel::setSquares);
  row->addWidget(squares_);
  density_ = footButton(
      tr("Density"), "density",
      tr("How many texels of a map of 4,096 pixels lie from point to point: dark is too few, light more "
         "than the points hold"));
  density_->setCheckable(true);
  connect(density_, &QPushButton::toggled, this, [this](bool on) { setDensity(on ? kUsualPixels : 0); });
  row->addWidget(density_);
  return foot;
}

void SheetPanel::showEvent(QShowEvent*) {
  refresh();
}

void SheetPanel::setSquares(bool on) {
  const QSignalBlocker quiet(squares_);
  squares_->setChecked(on);
  squaresWanted_ = on;
  // one lies over the other
  if (on && densityPixels_ > 0) setDensity(0);
  view_->setSquares(on);
  refresh();
}

void SheetPanel::setDensity(int pixels) {
  const QSignalBlocker quiet(density_);
  density_->setChecked(pixels > 0);
  densityPixels_ = pixels;
  if (pixels > 0 && squaresWanted_) setSquares(false);
  refresh();
  showDensity();
}

void SheetPanel::refresh() {
  if (!session_.isOpen()) return;
  const Sculpt& sculpt = *session_.document().sculpt;
  const QSignalBlocker quiet(sets_);
  sets_->clear();
  for (const UvSet& set : sculpt.uvSets) sets_->addItem(QString::fromStdString(set.name));
  sets_->setCurrentIndex(static_cast<int>(session_.uvSet()));
  sets_->setVisible(sculpt.uvSets.size() > 1);
  unwrap_->setVisible(sculpt.uvSets.empty());
  squares_->setVisible(!sculpt.uvSets.empty());
  density_->setVisible(!sculpt.uvSets.empty());
  if (wanted()) layOut();
}

// Beside the window; what is shown stays until the new one is there, unless it is of other points.
void SheetPanel::layOut() {
  const Document& d = session_.document();
  const size_t set = session_.uvSet();
  if (laidOf_ == d.sculpt && laidOn_ == d.surface && laidSet_ == set) return;
  laidOf_ = d.sculpt;
  laidOn_ = d.surface;
  laidSet_ = set;
  if (d.sculpt->uvSets.empty()) {
    laying_.giveUp();
    show(nullptr);
    return view_->setSheet(
        nullptr, tr("The sculpt has no UVs. Press Unwrap to make them: painting needs none, maps do."));
  }
  if (!view_->viewing().sheet || view_->viewing().sheet->skin != d.surface)
    view_->setSheet(nullptr, tr("Laying the skin out …"));
  const auto result = std::make_shared<SheetPointer>();
  laying_.start(
      tr("Laying the skin out"),
      [document = d, set, result](const Progress& p) -> Outcome {
        return caught([&]() -> Outcome {
          auto sheet = sheetOf(document, set, p);
          if (!sheet) return sheet.error();
          *result = std::move(*sheet);
          return Done{};
        });
      },
      [this, result](const Outcome& done) {
        if (done) return show(*result);
        laidOf_.reset();
        view_->setSheet(nullptr, isCancelled(done.error()) ? tr("Not laid out.")
                                                           : QString::fromStdString(done.error().message()));
      });
}

void SheetPanel::show(const SheetPointer& sheet) {
  view_->setSheet(sheet, {});
  showTiles();
  showDensity();
}

void SheetPanel::showTiles() {
  const QSignalBlocker quiet(tiles_);
  tiles_->clear();
  const SheetPointer& sheet = view_->viewing().sheet;
  tiles_->setVisible(sheet && sheet->tiles.size() > 1);
  if (!sheet) return;
  for (const int tile : sheet->tiles) tiles_->addItem(QString::number(tile));
  const auto now = std::ranges::find(sheet->tiles, view_->viewing().tile);
  if (now == sheet->tiles.end() && !sheet->tiles.empty()) view_->setTile(sheet->tiles.front());
  tiles_->setCurrentRow(now == sheet->tiles.end() ? 0 : static_cast<int>(now - sheet->tiles.begin()));
}

// Over both in false colour, with a sentence.
void SheetPanel::showDensity() {
  const SheetPointer sheet = view_->viewing().sheet;
  if (densityPixels_ == 0 || !sheet) {
    measuring_.giveUp();
    said_.clear();
    view_->setNote({});
    easel_.setShows(nullptr);
    return;
  }
  const auto result = std::make_shared<LayoutDensity>();
  measuring_.start(
      tr("Measuring the layout"),
      [sheet, pixels = densityPixels_, result](const Progress&) -> Outcome {
        return caught([&]() -> Outcome {
          *result = layoutDensity(*sheet, pixels);
          return Done{};
        });
      },
      [this, result](const Outcome& done) {
        if (!done) return session_.tell(done.error());
        easel_.setShows(std::make_shared<const ScalarField>(std::move(result->texels)),
                        OverlayLook::FalseColor);
        said_ = result->holdsAll > 0 ? tr("%L1 pixels hold all points.").arg(result->holdsAll)
                                     : tr("16,384 pixels do not hold all points.");
        const std::vector<float>& parts = result->parts;
        size_t thin = parts.size(), dense = parts.size();
        for (size_t p = 0; p < parts.size(); ++p) {
          if (!(parts[p] > 0)) continue;
          if (thin == parts.size() || parts[p] < parts[thin]) thin = p;
          if (dense == parts.size() || parts[p] > parts[dense]) dense = p;
        }
        const auto& names = session_.document().sculpt->parts;
        if (thin < names.size() && dense < names.size() && parts[thin] < 0.8f * parts[dense])
          said_ += " " + tr("“%1” gets %2 % of what “%3” gets.")
                             .arg(QString::fromStdString(names[thin]))
                             .arg(std::lround(100 * parts[thin] / parts[dense]))
                             .arg(QString::fromStdString(names[dense]));
        view_->setNote(said_);
      });
}

}  // namespace juvenor::app

#include "moc_sheet_panel.cpp"
