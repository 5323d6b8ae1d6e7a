#include "app/stage/maps_page.h"

#include <QButtonGroup>
#include <QCheckBox>
#include <QFileDialog>
#include <QFileInfo>
#include <QLabel>
#include <QMenu>
#include <QMessageBox>
#include <QProgressBar>
#include <QPushButton>
#include <QSettings>
#include <QVBoxLayout>
#include <algorithm>

#include "app/controls/choice_row.h"
#include "app/controls/labels.h"
#include "app/controls/value_slider.h"
#include "app/session/job.h"
#include "app/stage/map_list.h"
#include "app/stage/map_previews.h"
#include "app/style/style.h"
#include "core/sculpt/formats.h"
#include "core/textures/handed_scene.h"

namespace juvenor::app {
namespace {

constexpr int kSizes[] = {1024, 2048, 4096, 8192, 16384};
constexpr int kUsualSize = 2;

QString inPercent(double part) {
  return MapsPage::tr("%1 %").arg(100 * part, 0, 'f', part < 0.1 ? 1 : 0);
}

}  // namespace

MapsPage::MapsPage(Session& session) : session_(session) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(12, 6, 12, 8);
  column->setSpacing(5);
  auto* row = new QHBoxLayout;
  row->addWidget(new QLabel(tr("For")));
  for_ = new QPushButton(tr("The sculpt"));
  for_->setObjectName("maps for");
  for_->setToolTip(
      tr("Which mesh wears the maps: the sculpt itself, or a lighter mesh with UVs made for it"));
  row->addWidget(for_, 1);
  column->addLayout(row);
  facts_ = quietLabel({});
  facts_->setObjectName("map facts");
  column->addWidget(facts_);
  warning_ = new QLabel;
  warning_->setObjectName("map warning");
  warning_->setWordWrap(true);
  warning_->setStyleSheet(QString("color: %1;").arg(look::kWarning.name()));
  column->addWidget(warning_);
  list_ = new MapList;
  column->addWidget(list_);
  auto* more = new QPushButton(tr("Another line …"));
  more->setObjectName("another map");
  more->setToolTip(tr("A layer with its alpha, the mask of a layer, or up to four maps in one picture"));
  column->addWidget(more);
  connect(more, &QPushButton::clicked, this, &MapsPage::offerLines);
  connect(list_, &MapList::previewWanted, this, &MapsPage::preview);
  column->addWidget(buildFineness());
  column->addWidget(buildWays());
  estimate_ = quietLabel({});
  estimate_->setObjectName("map estimate");
  column->addWidget(estimate_);
  auto* buttons = new QHBoxLayout;
  write_ = new QPushButton(tr("Write the maps …"));
  write_->setObjectName("write maps");
  write_->setToolTip(tr("Into a folder; each file appears when it is whole"));
  again_ = new QPushButton(tr("As last"));
  again_->setObjectName("maps as last");
  again_->setToolTip(tr("The same maps into the same folder once more, in place of those there"));
  again_->setEnabled(false);
  buttons->addWidget(write_, 1);
  buttons->addWidget(again_);
  column->addLayout(buttons);
  auto* progress = new QWidget;
  auto* line = new QHBoxLayout(progress);
  line->setContentsMargins(0, 0, 0, 0);
  auto* bar = new QProgressBar;
  bar->setObjectName("maps progress");
  bar->setRange(0, 1000);
  bar->setFixedHeight(12);
  bar->setTextVisible(false);
  auto* cancel = new QPushButton(tr("cancel"));
  cancel->setObjectName("cancel maps progress");
  cancel->setToolTip(tr("Stops it; files that are whole stay"));
  line->addWidget(bar, 1);
  line->addWidget(cancel);
  progress->hide();
  column->addWidget(progress);
  connect(&work_, &Background::progressed, this, [this, progress, bar](double fraction) {
    progress->setVisible(fraction >= 0);
    bar->setValue(static_cast<int>(1000 * fraction));
    write_->setVisible(fraction < 0);
    again_->setVisible(fraction < 0);
  });
  connect(cancel, &QPushButton::clicked, &work_, [this] { work_.cancel(); });
  auto* bringing = new QPushButton(tr("Bring maps …"));
  bringing->setObjectName("bring maps");
  bringing->setToolTip(
      tr("Texture maps for the sculpt's UVs as a painted layer: colour, roughness, normal, height … by the "
         "names of their files; all tiles of a set come along"));
  column->addWidget(bringing);
  connect(bringing, &QPushButton::clicked, this, &MapsPage::chooseMaps);
  connect(&session_, &Session::uvSetChanged, this, [this] {
    measured_ = nullptr;
    refresh();
  });
  auto* coloured = new QPushButton(tr("Coloured sculpt …"));
  coloured->setObjectName("coloured sculpt");
  coloured->setToolTip(tr("The sculpt with a colour for each vertex: PLY, OBJ or GLB (Ctrl+E)"));
  column->addWidget(titleLabel(tr("Vertex colours")));
  column->addWidget(coloured);
  column->addStretch();
  connect(for_, &QPushButton::clicked, this, &MapsPage::chooseMesh);
  connect(list_, &MapList::changed, this, &MapsPage::tell);
  connect(write_, &QPushButton::clicked, this, &MapsPage::chooseFolder);
  connect(again_, &QPushButton::clicked, this, &MapsPage::again);
  connect(coloured, &QPushButton::clicked, this, &MapsPage::colouredWanted);
  connect(&session_, &Session::opened, this, [this] {
    for (Background* b : {&reading_, &looking_, &previewing_, &work_}) b->giveUp();
    list_->forgetAdded();
    mesh_.reset();
    measured_ = nullptr;
    layout_.reset();
    last_.reset();
    again_->setEnabled(false);
    list_->showPictures({});
  });
}

QWidget* MapsPage::buildFineness() {
  auto* box = new QWidget;
  auto* column = new QVBoxLayout(box);
  column->setContentsMargins(0, 4, 0, 0);
  column->setSpacing(4);
  column->addWidget(quietLabel(tr("Pixels a side")));
  sizes_ = new QButtonGroup(this);
  QStringList names, tips;
  for (const int size : kSizes) {
    names << tr("%1k").arg(size / 1024);
    tips << tr("%1 × %1 pixels").arg(size);
  }
  column->addWidget(choiceRow(sizes_, names, tips, "map size"));
  sizes_->button(kUsualSize)->setChecked(true);
  padding_ = new ValueSlider(tr("Padding"), {0, 64, 1, tr("px"), false, 0});
  padding_->setToolTip(
      tr("Pixels around the islands that take their border's colour, so that no seam shows"));
  padding_->show(16);
  column->addWidget(padding_);
  whole_ = new QCheckBox(tr("All of the background"));
  whole_->setObjectName("pad all");
  column->addWidget(whole_);
  looks_ = new ValueSlider(tr("Samples a texel"), {1, 16, 1, QString(), false, 0});
  looks_->setToolTip(tr(
      "Places looked at in each texel, of which it takes the mean: more where points are finer than texels"));
  looks_->show(4);
  column->addWidget(looks_);
  connect(sizes_, &QButtonGroup::idClicked, this, &MapsPage::tell);
  connect(whole_, &QCheckBox::toggled, this, [this](bool all) { padding_->setEnabled(!all); });
  return box;
}

QWidget* MapsPage::buildWays() {
  auto* box = new QWidget;
  auto* column = new QVBoxLayout(box);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(4);
  formats_ = new QButtonGroup(this);
  column->addWidget(choiceRow(
      formats_, {tr("PNG"), tr("TIFF"), tr("EXR")},
      {tr("8 or 16 bits"), tr("8 or 16 bits, or floats"), tr("Halves or floats, linear")}, "map format"));
  formats_->button(0)->setChecked(true);
  relief_ = new QCheckBox(tr("Normals of the relief alone"));
  relief_->setObjectName("normals of relief");
  relief_->setToolTip(tr("Else of everything that is finer than the mesh"));
  down_ = new QCheckBox(tr("Green goes down"));
  down_->setObjectName("green down");
  down_->setToolTip(tr("Which way the green of normal maps points; renderers differ, most take up"));
  column->addWidget(relief_);
  column->addWidget(down_);
  column->addWidget(quietLabel(tr("The mesh along with them")));
  meshes_ = new QButtonGroup(this);
  column->addWidget(
      choiceRow(meshes_, {tr("none"), tr("GLB"), tr("OBJ")},
                {tr("Pictures alone"), tr("One file with materials and pictures of 8 bits inside"),
                 tr("With a library of materials (MTL) that names the maps")},
                "maps mesh"));
  meshes_->button(0)->setChecked(true);
  scene_ = new QCheckBox(tr("With camera and lamps"));
  scene_->setObjectName("maps scene");
  scene_->setToolTip(tr("The GLB brings what one looks through now, and the lamps that are on"));
  scene_->setEnabled(false);
  column->addWidget(scene_);
  versions_ = new QCheckBox(tr("With the variants"));
  versions_->setObjectName("maps variants");
  versions_->setToolTip(tr("The GLB has materials for each variant, by its name (KHR_materials_variants)"));
  versions_->setEnabled(false);
  column->addWidget(versions_);
  connect(meshes_, &QButtonGroup::idClicked, this, [this](int file) {
    scene_->setEnabled(static_cast<MeshFile>(file) == MeshFile::Glb);
    versions_->setEnabled(scene_->isEnabled());
  });
  connect(formats_, &QButtonGroup::idClicked, this,
          [this](int format) { list_->setFormat(static_cast<MapFormat>(format)); });
  return box;
}

int MapsPage::pixels() const {
  return kSizes[std::max(0, sizes_->checkedId())];
}

void MapsPage::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  look();
}

void MapsPage::hideEvent(QHideEvent* event) {
  QWidget::hideEvent(event);
  looking_.giveUp();
}

void MapsPage::refresh() {
  if (isVisible() && (!measured_ || (!mesh_ && measured_ != session_.document().sculpt.get()))) look();
  tell();
}

void MapsPage::chooseMesh() {
  QMenu menu(this);
  menu.addAction(tr("The sculpt"), this, [this] { wearBy({}); });
  menu.addAction(tr("Another mesh …"), this, [this] {
    const QString file = QFileDialog::getOpenFileName(this, tr("A mesh with UVs"), {},
                                                      tr("Meshes (*.obj *.ply *.glb *.gltf)"));
    if (!file.isEmpty()) wearBy(file);
  });
  menu.exec(for_->mapToGlobal(QPoint(0, for_->height())));
}

void MapsPage::wearBy(const QString& file) {
  if (file.isEmpty()) {
    mesh_.reset();
    for_->setText(tr("The sculpt"));
    look();
    return;
  }
  const auto read = std::make_shared<std::shared_ptr<const Sculpt>>();
  reading_.start(
      tr("Reading the mesh"),
      [path = std::filesystem::path(file.toStdString()), read](const Progress& p) -> Outcome {
        auto mesh = readSculpt(path, p);
        if (!mesh) return mesh.error();
        if (mesh->uvSets.empty())
          return Error{"has no UVs, so it cannot wear maps", path.filename().string()};
        *read = std::make_shared<const Sculpt>(std::move(*mesh));
        return Done{};
      },
      [this, read, name = QFileInfo(file).fileName()](const Outcome& done) {
        if (!done) return session_.tell(done.error());
        mesh_ = *read;
        for_->setText(name);
        look();
      });
}

void MapsPage::look() {
  if (!session_.isOpen()) return;
  const Document document = session_.document();
  const auto mesh = mesh_ ? mesh_ : document.sculpt;
  measured_ = mesh.get();
  const size_t set = mesh_ ? 0 : session_.uvSet();
  layout_.reset();
  tell();
  if (mesh->uvSets.empty()) return;
  const auto layout = std::make_shared<UvLayout>();
  const auto pictures = std::make_shared<std::vector<QImage>>();
  looking_.start(
      tr("Looking at the UVs"),
      [document, mesh, layout, pictures, own = !mesh_, set](const Progress& p) -> Outcome {
        auto found = uvLayout(*mesh, set, [&](float f) { return report(p, 0.5f * f); });
        if (!found) return found.error();
        *layout = std::move(*found);
        if (!own) return Done{};
        auto made = previews(document, set, [&](float f) { return report(p, 0.5f + 0.5f * f); });
        if (!made) return made.error();
        *pictures = std::move(*made);
        return Done{};
      },
      [this, layout, pictures, mesh](const Outcome& done) {
        if (!done) return isCancelled(done.error()) ? void() : session_.tell(done.error());
        layout_ = std::move(*layout);
        if (!pictures->empty()) list_->showPictures(*pictures);
        tell();
      });
}

void MapsPage::tell() {
  const bool open = session_.isOpen();
  const Sculpt* mesh = !open ? nullptr : mesh_ ? mesh_.get() : session_.document().sculpt.get();
  const bool laidOut = mesh && !mesh->uvSets.empty();
  write_->setEnabled(laidOut && !list_->wished(1).empty());
  if (!open) return;
  if (!laidOut) {
    facts_->clear();
    estimate_->clear();
    warning_->show();
    warning_->setText(
        tr("The sculpt has no UVs: choose a mesh that has some, or make them with "
           "Sculpt ▸ Unwrap."));
    return;
  }
  const Document& d = session_.document();
  const int side = pixels();
  const auto maps = static_cast<double>(list_->wished(1).size());
  const double tiles = layout_ ? static_cast<double>(layout_->tiles.size()) : 1;
  double bytes = 0;
  for (const WishedMap& m : list_->wished(1))
    bytes += tiles * static_cast<double>(bytesOf({nullptr, roleOf(m.map), planesOf(m.map), m.depth}, side));
  estimate_->setText(tr("Pictures: %1, up to %2 MB").arg(maps * tiles).arg(bytes / 1e6, 0, 'f', 0));
  if (!layout_) {
    facts_->setText(tr("Looking at the UVs …"));
    warning_->hide();
    warning_->clear();
    return;
  }
  const double mm = static_cast<double>(d.placement.millimetres),
               middle = static_cast<double>(layout_->middle);
  facts_->setText(tr("%1 triangles, tiles: %2, %3 px a mm")
                      .arg(shortCount(layout_->triangles))
                      .arg(layout_->tiles.size())
                      .arg(middle * side / mm, 0, 'f', 1));
  QStringList said;
  double doubled = 0;
  for (const UvTile& t : layout_->tiles) doubled = std::max(doubled, static_cast<double>(t.doubled));
  if (layout_->missing > 0) said << tr("Polygons without UVs: %1.").arg(layout_->missing);
  if (layout_->outside > 0) said << tr("Triangles outside all tiles: %1.").arg(layout_->outside);
  if (doubled > 0.001)
    said << tr("%1 of a tile lies double: the polygon that comes first is the one that counts.")
                .arg(inPercent(doubled));
  const double pixelsAPoint =
      static_cast<double>(layout_->thin) * side * static_cast<double>(d.surface->spacing);
  if (pixelsAPoint < 1)
    said << tr("Points are finer than pixels: at %1 pixels a side some detail is lost.").arg(side);
  warning_->setText(said.join(' '));
  warning_->setVisible(!said.isEmpty());
}

HandOn MapsPage::wish() const {
  const Document& d = session_.document();
  HandOn out;
  out.name = session_.title().toStdString();
  std::ranges::replace(out.name, '/', '-');
  out.maps = list_->wished(d.surface->bounds.diagonal());
  out.format = static_cast<MapFormat>(formats_->checkedId());
  out.pixels = pixels();
  out.looks = static_cast<int>(looks_->value() + 0.5);
  out.padding = whole_->isChecked() ? kPadAll : static_cast<uint32_t>(padding_->value() + 0.5);
  out.greenUp = !down_->isChecked();
  out.normals = relief_->isChecked() ? NormalsFrom::Relief : NormalsFrom::Everything;
  out.by.mesh = mesh_;
  out.by.uvSet = mesh_ ? 0 : session_.uvSet();
  out.meshFile = static_cast<MeshFile>(meshes_->checkedId());
  out.variants = out.meshFile == MeshFile::Glb && versions_->isChecked();
  if (out.meshFile == MeshFile::Glb && scene_->isChecked() && viewing_) {
    const Viewing viewing = viewing_();
    const float aspect = static_cast<float>(viewing.size.width) / static_cast<float>(viewing.size.height);
    out.cameras = {handedCamera(viewing.camera, aspect, d.surface->bounds)};
    out.lamps = handedLamps(lightIn(viewing));
  }
  return out;
}

void MapsPage::chooseFolder() {
  QSettings settings;
  const QString folder = QFileDialog::getExistingDirectory(this, tr("A folder for the maps"),
                                                           settings.value("maps folder").toString());
  if (folder.isEmpty()) return;
  settings.setValue("maps folder", folder);
  write(folder);
}

void MapsPage::write(const QString& folder) {
  HandOn wanted = wish();
  wanted.folder = folder.toStdString();
  start(std::move(wanted));
}

void MapsPage::again() {
  if (!last_) return;
  HandOn wanted = *last_;
  wanted.force = true;
  start(std::move(wanted));
}

void MapsPage::start(HandOn wanted) {
  session_.settleStrokes();
  const auto result = std::make_shared<HandedOn>();
  work_.start(
      tr("Writing the maps"),
      [document = session_.document(), wanted, result](const Progress& p) -> Outcome {
        return caught([&]() -> Outcome {
          auto done = handOn(document, wanted, p);
          if (!done) return done.error();
          *result = std::move(*done);
          return Done{};
        });
      },
      [this, wanted, result](const Outcome& done) {
        if (!done) {
          if (done.error().what != "is there already") return session_.tell(done.error());
          const QString file = QFileInfo(QString::fromStdString(done.error().where)).fileName();
          QMessageBox ask(QMessageBox::Question, tr("Write the maps"),
                          tr("“%1” is there already. Write over it and the others of these maps?").arg(file),
                          QMessageBox::NoButton, this);
          auto* replace = ask.addButton(tr("Write over"), QMessageBox::AcceptRole);
          ask.addButton(QMessageBox::Cancel);
          ask.exec();
          if (ask.clickedButton() != replace) return;
          HandOn forced = wanted;
          forced.force = true;
          return start(std::move(forced));
        }
        last_ = wanted;
        again_->setEnabled(true);
        const QString folder = QString::fromStdString(wanted.folder.string());
        QString said = tr("Wrote files: %1, into %2.").arg(result->files.size()).arg(folder);
        if (result->missed > 0)
          said +=
              " " +
              tr("Of the texels, %1 found no skin within %2 mm and were filled from around.")
                  .arg(inPercent(static_cast<double>(result->missed) / static_cast<double>(result->covered)))
                  .arg(static_cast<double>(result->reach * session_.document().placement.millimetres), 0, 'g',
                       3);
        session_.say(said);
      });
}

}  // namespace juvenor::app

#include "moc_maps_page.cpp"
