#include "app/show/show_page.h"

#include <QCheckBox>
#include <QColorDialog>
#include <QFileDialog>
#include <QFileInfo>
#include <QLabel>
#include <QMenu>
#include <QPainter>
#include <QPushButton>
#include <QSpinBox>
#include <QVBoxLayout>

#include "app/controls/ask_file.h"
#include "app/controls/choice_row.h"
#include "app/controls/labels.h"
#include "app/controls/value_slider.h"
#include "app/session/words.h"
#include "app/style/style.h"
#include "core/photo/picture_file.h"
#include "core/show/passes.h"

namespace juvenor::app {
namespace {

constexpr std::array<Motion, 4> kMotions{Motion::Sculpt, Motion::Light, Motion::Camera, Motion::Flight};
constexpr std::array<int, 4> kSpeeds{24, 25, 30, 60};
constexpr int kFilmSamples = 8;

QVBoxLayout* columnIn(QWidget* box) {
  auto* column = new QVBoxLayout(box);
  column->setContentsMargins(0, 4, 0, 0);
  column->setSpacing(4);
  return column;
}

QPushButton* wayButton(const QString& text, const QString& name, const QString& tip) {
  auto* b = new QPushButton(text);
  b->setObjectName(name);
  b->setToolTip(tip);
  return b;
}

QIcon swatchOf(const EncodedColor& color) {
  QPixmap out(48, 28);
  out.setDevicePixelRatio(2);
  out.fill(QColor::fromRgbF(color.r, color.g, color.b));
  return QIcon(out);
}

// Even sizes: films have no others.
QSpinBox* sizeBox(const QString& name, int value, const QString& tip) {
  auto* out = new QSpinBox;
  out->setObjectName(name);
  out->setRange(16, kLargestStill);
  out->setSingleStep(2);
  out->setSuffix(ShowPage::tr(" px"));
  out->setValue(value);
  out->setToolTip(tip);
  return out;
}

}  // namespace

ShowPage::ShowPage(Session& session, Easel& easel) : session_(session), easel_(easel) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(12, 6, 12, 8);
  column->setSpacing(5);
  column->addWidget(buildStrips());
  column->addWidget(buildLens());
  column->addWidget(buildBackdrop());
  column->addWidget(buildStill());
  column->addWidget(buildFinishing());
  column->addWidget(buildFilm());
  column->addWidget(buildMore());
  column->addStretch();
  connect(&easel_, &Easel::stillChanged, this, &ShowPage::refresh);
  connect(&session_, &Session::left, this, [this] {
    if (window_) window_->close();
  });
  refresh();
}

QWidget* ShowPage::buildStrips() {
  auto* box = new QWidget;
  auto* row = new QHBoxLayout(box);
  row->setContentsMargins(0, 0, 0, 0);
  auto* cameras = wayButton(tr("Cameras"), "show cameras",
                            tr("Views kept by name, in a strip at the easel's foot (Shift+C)"));
  auto* variants = wayButton(tr("Variants"), "show variants",
                             tr("Versions of the skin, in a strip at the easel's foot (Shift+G)"));
  row->addWidget(cameras);
  row->addWidget(variants);
  connect(cameras, &QPushButton::clicked, this, &ShowPage::camerasWanted);
  connect(variants, &QPushButton::clicked, this, &ShowPage::variantsWanted);
  return box;
}

QWidget* ShowPage::buildLens() {
  auto* box = new QWidget;
  auto* column = columnIn(box);
  column->addWidget(titleLabel(tr("Lens")));
  aperture_ = new ValueSlider(tr("Opening"), {0, 1, 100, tr("%"), false, 0});
  aperture_->setObjectName("aperture");
  aperture_->setToolTip(tr("How wide the lens is open: at none all is sharp, wide open little is"));
  column->addWidget(aperture_);
  auto* row = new QHBoxLayout;
  auto* press = wayButton(tr("What is sharp …"), "place focus", tr("Then press it on the skin"));
  row->addWidget(press);
  sharp_ = quietLabel({});
  sharp_->setObjectName("sharp says");
  row->addWidget(sharp_, 1);
  column->addLayout(row);
  connect(press, &QPushButton::clicked, &easel_, &Easel::placeFocus);
  connect(aperture_, &ValueSlider::changed, this, [this](double open) {
    Focus focus = easel_.focus();
    // even steps of the slider are even steps of the light
    focus.aperture = open > 0 ? static_cast<float>(22 * std::pow(1.2 / 22, open)) : 0;
    easel_.setFocusOf(focus);
  });
  return box;
}

QWidget* ShowPage::buildBackdrop() {
  auto* box = new QWidget;
  auto* column = columnIn(box);
  column->addWidget(titleLabel(tr("Backdrop")));
  backdrops_ = new QButtonGroup(this);
  column->addWidget(choiceRow(
      backdrops_, {tr("Plain"), tr("Fade"), tr("Photo"), tr("Around")},
      {tr("One tone"), tr("From one tone at the foot to another"), tr("A picture, as large as covers all"),
       tr("The surroundings the light comes from, blurred")},
      "backdrop"));
  auto* row = new QHBoxLayout;
  foot_ = wayButton(tr("Tone …"), "backdrop tone", tr("At the foot, or everywhere"));
  top_ = wayButton(tr("Top …"), "backdrop top", tr("At the top"));
  row->addWidget(foot_);
  row->addWidget(top_);
  column->addLayout(row);
  blur_ = new ValueSlider(tr("Blurred"), {0, 1, 100, tr("%"), false, 0});
  column->addWidget(blur_);
  ground_ = new QCheckBox(tr("A floor takes the shadow"));
  ground_->setObjectName("ground");
  column->addWidget(ground_);
  connect(backdrops_, &QButtonGroup::idClicked, this, [this](int kind) {
    if (static_cast<BackdropKind>(kind) == BackdropKind::Picture) return choosePicture();
    changeBackdrop([kind](Backdrop& b) { b.kind = static_cast<BackdropKind>(kind); });
  });
  connect(foot_, &QPushButton::clicked, this, [this] { chooseColor(false); });
  connect(top_, &QPushButton::clicked, this, [this] { chooseColor(true); });
  connect(blur_, &ValueSlider::changed, this,
          [this](double v) { changeBackdrop([v](Backdrop& b) { b.blur = static_cast<float>(v); }); });
  connect(ground_, &QCheckBox::clicked, this,
          [this](bool on) { changeBackdrop([on](Backdrop& b) { b.ground = on; }); });
  return box;
}

QWidget* ShowPage::buildStill() {
  auto* box = new QWidget;
  auto* column = columnIn(box);
  column->addWidget(titleLabel(tr("Still")));
  auto* row = new QHBoxLayout;
  width_ = sizeBox("still width", 1920, tr("Width"));
  height_ = sizeBox("still height", 1080, tr("Height"));
  row->addWidget(width_);
  row->addWidget(height_);
  auto* sizes = wayButton(tr("▾"), "still sizes", tr("Usual sizes"));
  sizes->setProperty("narrow", true);
  row->addWidget(sizes);
  column->addLayout(row);
  samples_ = new ValueSlider(tr("Samples"), {1, 1024, 1, QString(), true, 0});
  samples_->setObjectName("still samples");
  samples_->setToolTip(tr("Rays a pixel: more where what is blurred looks rough"));
  samples_->show(64);
  column->addWidget(samples_);
  depths_ = new QButtonGroup(this);
  column->addWidget(choiceRow(
      depths_, {tr("8 bits"), tr("16 bits")},
      {tr("Of PNG and TIFF; EXR keeps the light itself"), tr("Of PNG and TIFF; EXR keeps the light itself")},
      "still depth"));
  depths_->button(0)->setChecked(true);
  clear_ = new QCheckBox(tr("Clear behind the sculpt"));
  clear_->setObjectName("still clear");
  column->addWidget(clear_);
  auto* make =
      wayButton(tr("Make a still"), "make still", tr("It grows in a window of its own; painting goes on"));
  make->setProperty("wanted", true);
  column->addWidget(make);
  connect(make, &QPushButton::clicked, this, &ShowPage::makeStill);
  connect(sizes, &QPushButton::clicked, this, [this, sizes] {
    QMenu menu(this);
    const std::pair<QString, ViewSize> usual[] = {{tr("As the easel"), easel_.viewing().size},
                                                  {tr("1280 × 720"), {1280, 720}},
                                                  {tr("1920 × 1080"), {1920, 1080}},
                                                  {tr("3840 × 2160"), {3840, 2160}},
                                                  {tr("Square, 2048"), {2048, 2048}},
                                                  {tr("Upright, 2400 × 3000"), {2400, 3000}},
                                                  {tr("A print, 7016 × 4961 (A4 at 600 dpi)"), {7016, 4961}}};
    for (const auto& [name, size] : usual) menu.addAction(name, this, [this, size = size] { setSize(size); });
    menu.exec(sizes->mapToGlobal(QPoint(0, sizes->height())));
  });
  return box;
}

QWidget* ShowPage::buildFinishing() {
  auto* box = new QWidget;
  auto* column = columnIn(box);
  column->addWidget(titleLabel(tr("A little more")));
  const auto add = [&](const QString& label, const QString& tip) {
    auto* slider = new ValueSlider(label, {0, 1, 100, tr("%"), false, 0});
    slider->setToolTip(tip);
    column->addWidget(slider);
    return slider;
  };
  bloom_ = add(tr("Bloom"), tr("Light around what is bright"));
  vignette_ = add(tr("Vignette"), tr("Darker corners"));
  grain_ = add(tr("Grain"), tr("As of film"));
  return box;
}

QWidget* ShowPage::buildFilm() {
  auto* box = new QWidget;
  auto* column = columnIn(box);
  column->addWidget(titleLabel(tr("Film")));
  motions_ = new QButtonGroup(this);
  column->addWidget(
      choiceRow(motions_, {tr("Sculpt"), tr("Light"), tr("Eye"), tr("Flight")},
                {tr("The sculpt turns, as on a turntable"), tr("The light goes round it"),
                 tr("One goes round it; the light stands"), tr("From camera to camera, in their order")},
                "film motion"));
  motions_->button(0)->setChecked(true);
  seconds_ = new ValueSlider(tr("Lasts"), {1, 120, 1, tr("s"), true, 0});
  seconds_->setObjectName("film seconds");
  seconds_->show(8);
  column->addWidget(seconds_);
  speeds_ = new QButtonGroup(this);
  QStringList names, tips;
  for (const int speed : kSpeeds) {
    names << QString::number(speed);
    tips << tr("%1 pictures a second").arg(speed);
  }
  column->addWidget(choiceRow(speeds_, names, tips, "film speed"));
  speeds_->button(2)->setChecked(true);
  estimate_ = quietLabel({});
  estimate_->setObjectName("film says");
  column->addWidget(estimate_);
  auto* make =
      wayButton(tr("Make the film …"), "make film",
                tr("WebM (VP9), Matroska (AV1), or numbered pictures; as large as the still is set"));
  column->addWidget(make);
  connect(seconds_, &ValueSlider::changed, this, &ShowPage::tell);
  for (QButtonGroup* group : {motions_, speeds_})
    connect(group, &QButtonGroup::idClicked, this, &ShowPage::tell);
  connect(make, &QPushButton::clicked, this, [this] {
    const QString file = askSaveFile(this, tr("Make the film"), suggested("turn", "webm"),
                                     tr("Films (*.webm *.mkv *.png)"), {"webm", "mkv", "png"});
    if (!file.isEmpty()) makeFilm(file);
  });
  return box;
}

QWidget* ShowPage::buildMore() {
  auto* box = new QWidget;
  auto* column = columnIn(box);
  column->addWidget(titleLabel(tr("For others")));
  auto* sheet = wayButton(tr("Contact sheet …"), "make sheet",
                          tr("All cameras, checkpoints or variants side by side, with their names"));
  auto* passes = wayButton(tr("Passes …"), "make passes",
                           tr("The still taken apart, its light and what lies at each pixel, in one EXR"));
  column->addWidget(sheet);
  column->addWidget(passes);
  connect(sheet, &QPushButton::clicked, this, [this, sheet] {
    if (!session_.isOpen()) return;
    const Document& d = session_.document();
    QMenu menu(this);
    const auto add = [&](const QString& name, Of of, bool any) {
      QAction* action = menu.addAction(name, this, [this, of] {
        const QString file = askSaveFile(this, tr("Contact sheet"), suggested("sheet", "png"),
                                         tr("Pictures (*.png *.tif *.jpg)"), {"png", "tif", "jpg"});
        if (!file.isEmpty()) makeSheet(of, file);
      });
      action->setEnabled(any);
    };
    add(tr("All cameras"), Of::Cameras, !d.cameras.empty());
    add(tr("All checkpoints, as one looks now"), Of::Checkpoints, !d.checkpoints.empty());
    add(tr("All variants, as one looks now"), Of::Variants, !d.variants.empty());
    menu.exec(sheet->mapToGlobal(QPoint(0, sheet->height())));
  });
  connect(passes, &QPushButton::clicked, this, [this] {
    const QString file =
        askSaveFile(this, tr("Passes"), suggested("passes", "exr"), tr("Layers of light (*.exr)"), {"exr"});
    if (!file.isEmpty()) makePasses(file);
  });
  return box;
}

void ShowPage::changeBackdrop(const std::function<void(Backdrop&)>& change) {
  Backdrop backdrop = easel_.backdrop();
  change(backdrop);
  easel_.setBackdrop(backdrop);
}

void ShowPage::chooseColor(bool top) {
  const Backdrop& now = easel_.backdrop();
  const EncodedColor is = top ? now.top : now.color;
  const QColor color = QColorDialog::getColor(QColor::fromRgbF(is.r, is.g, is.b), this, tr("Backdrop"));
  if (!color.isValid()) return;
  changeBackdrop([&](Backdrop& b) {
    (top ? b.top : b.color) = {static_cast<float>(color.redF()), static_cast<float>(color.greenF()),
                               static_cast<float>(color.blueF())};
  });
}

void ShowPage::choosePicture() {
  const QString file = QFileDialog::getOpenFileName(this, tr("A picture for the backdrop"), {},
                                                    tr("Pictures (*.png *.jpg *.tif *.exr *.hdr)"));
  if (file.isEmpty()) return refresh();
  changeBackdrop([&](Backdrop& b) {
    b.kind = BackdropKind::Picture;
    b.picture = file.toStdString();
  });
}

void ShowPage::setSize(const ViewSize& size) {
  width_->setValue(size.width);
  height_->setValue(size.height);
}

void ShowPage::refresh() {
  const Focus& focus = easel_.focus();
  aperture_->show(focus.aperture > 0 ? std::log(focus.aperture / 22) / std::log(1.2 / 22) : 0);
  sharp_->setText(focus.aperture == 0 ? tr("all of it")
                  : focus.sharp       ? tr("f/%1, where pressed").arg(focus.aperture, 0, 'f', 1)
                                      : tr("f/%1, the middle").arg(focus.aperture, 0, 'f', 1));
  const Backdrop& backdrop = easel_.backdrop();
  if (QAbstractButton* kind = backdrops_->button(static_cast<int>(backdrop.kind))) kind->setChecked(true);
  foot_->setIcon(swatchOf(backdrop.color));
  top_->setIcon(swatchOf(backdrop.top));
  foot_->setEnabled(backdrop.kind == BackdropKind::Plain || backdrop.kind == BackdropKind::Gradient);
  top_->setEnabled(backdrop.kind == BackdropKind::Gradient);
  blur_->setEnabled(backdrop.kind == BackdropKind::Surroundings);
  blur_->show(backdrop.blur);
  ground_->setChecked(backdrop.ground);
  tell();
}

void ShowPage::tell() {
  FilmTime time = filmWish().time;
  const size_t cameras = session_.isOpen() ? session_.document().cameras.size() : 0;
  const Outcome ok = checkedTime(time, cameras);
  estimate_->setText(
      ok ? tr("%1 pictures, %2 × %3").arg(frameCount(time)).arg(width_->value()).arg(height_->value())
         : QString::fromStdString(ok.error().message()));
}

StillWindow::Wish ShowPage::stillWish() const {
  StillWindow::Wish out;
  if (session_.isOpen()) out.document = session_.document();
  out.still.look = easel_.look();
  out.still.size = {width_->value(), height_->value()};
  out.still.samples = static_cast<int>(std::lround(samples_->value()));
  out.finishing = {static_cast<float>(bloom_->value()), static_cast<float>(vignette_->value()),
                   static_cast<float>(grain_->value())};
  out.clear = clear_->isChecked();
  out.depth = depths_->checkedId() == 1 ? StillDepth::Bits16 : StillDepth::Bits8;
  return out;
}

FilmWish ShowPage::filmWish() const {
  FilmWish out;
  out.time.motion = kMotions[static_cast<size_t>(std::max(0, motions_->checkedId()))];
  out.time.seconds = static_cast<float>(seconds_->value());
  out.time.perSecond = kSpeeds[static_cast<size_t>(std::max(0, speeds_->checkedId()))];
  const StillWindow::Wish still = stillWish();
  out.still = still.still;
  out.still.samples = std::min(still.still.samples, kFilmSamples);
  // codecs take pairs of pixels
  out.still.size.width &= ~1;
  out.still.size.height &= ~1;
  out.finishing = still.finishing;
  return out;
}

StillWindow& ShowPage::grown() {
  if (!window_) window_ = new StillWindow(this->window());
  return *window_;
}

QString ShowPage::suggested(const QString& what, const QString& ending) const {
  return QString("%1-%2.%3").arg(session_.title(), what, ending);
}

void ShowPage::makeStill() {
  if (!session_.isOpen()) return;
  session_.settleStrokes();
  grown().makeStill(stillWish(), tr("Still"));
}

void ShowPage::makeFilm(const QString& file) {
  if (!session_.isOpen()) return;
  session_.settleStrokes();
  const auto wish = std::make_shared<FilmWish>(filmWish());
  const auto document = std::make_shared<const Document>(session_.document());
  if (const Outcome ok = checkedTime(wish->time, document->cameras.size()); !ok)
    return session_.tell(ok.error());
  grown().make(tr("Film"),
               tr("%1 pictures in %2").arg(frameCount(wish->time)).arg(QFileInfo(file).fileName()),
               [wish, document, file](const StillWindow::TakePicture& take, const Progress& p) -> Outcome {
                 for (const KeptCamera& camera : document->cameras) {
                   auto look = lookOf(camera);
                   if (!look) return look.error();
                   wish->cameras.push_back({camera.id, camera.name, std::move(*look)});
                 }
                 if (const Outcome ok = checkedFilm(*wish, file.toStdString()); !ok) return ok;
                 const auto scene = ShownScene::of(*document, wish->still.look.view == View::Skin);
                 if (!scene) return scene.error();
                 return juvenor::makeFilm(
                     **scene, *wish, file.toStdString(),
                     [&](int, std::span<const uint32_t> pixels) { take(wish->still.size, pixels); }, p);
               });
}

void ShowPage::makeSheet(Of of, const QString& file) {
  if (!session_.isOpen()) return;
  session_.settleStrokes();
  const auto document = std::make_shared<const Document>(session_.document());
  grown().make(tr("Contact sheet"), tr("Written to %1").arg(QFileInfo(file).fileName()),
               [document, of, look = easel_.look(), file](const StillWindow::TakePicture& take,
                                                          const Progress& p) -> Outcome {
                 const auto tiles = of == Of::Cameras       ? tilesOfCameras(*document)
                                    : of == Of::Checkpoints ? tilesOfCheckpoints(*document, look)
                                                            : tilesOfVariants(*document, look);
                 if (!tiles) return tiles.error();
                 ContactWish wish;
                 wish.font = labelFont();
                 const auto sheet = contactSheet(*tiles, wish, p);
                 if (!sheet) return sheet.error();
                 take(sheet->size, sheet->pixels);
                 return writePicture(file.toStdString(), sheet->size, sheet->pixels);
               });
}

void ShowPage::makePasses(const QString& file) {
  if (!session_.isOpen()) return;
  session_.settleStrokes();
  const auto wish = std::make_shared<const StillWindow::Wish>(stillWish());
  grown().make(tr("Passes"), tr("Written to %1").arg(QFileInfo(file).fileName()),
               [wish, file](const StillWindow::TakePicture&, const Progress& p) -> Outcome {
                 const auto scene = ShownScene::of(wish->document, wish->still.look.view == View::Skin);
                 if (!scene) return scene.error();
                 return writePasses(**scene, wish->still, file.toStdString(), p);
               });
}

}  // namespace juvenor::app

#include "moc_show_page.cpp"
