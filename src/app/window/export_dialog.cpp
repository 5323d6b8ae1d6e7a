#include "app/window/export_dialog.h"

#include <QButtonGroup>
#include <QCheckBox>
#include <QDialogButtonBox>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QRadioButton>
#include <algorithm>

#include "app/controls/ask_file.h"
#include "app/style/style.h"
#include "app/window/file_places.h"

namespace juvenor::app {
namespace {

struct Target {
  const char *ending, *name, *colors, *keeps;
};
constexpr Target kTargets[] = {
    {"ply", "PLY", "8-bit vertex colours, sRGB-encoded",
     "The other channels too, as float properties; everything else as it came"},
    {"obj", "OBJ", "Colours behind each vertex, 0 to 1, sRGB-encoded",
     "Vertices, order, polygons, parts and UVs as they came"},
    {"glb", "GLB", "COLOR_0, 16 bits, linear as glTF demands; _GLOSS, _RELIEF … of the other channels",
     "Triangles; a node a part; vertices are split where UVs part"},
};

// The document's own folder where that is there.
QString folderFor(const std::filesystem::path& saved) {
  const QString beside = QString::fromStdString(saved.parent_path().string());
  return !beside.isEmpty() && QFileInfo(beside).isDir() ? beside : documentsFolder();
}

}  // namespace

ExportDialog::ExportDialog(const Document& document, const QString& title, const std::filesystem::path& saved,
                           QWidget* parent)
    : QDialog(parent) {
  setWindowTitle(tr("Export coloured sculpt"));
  setMinimumWidth(560);
  auto* grid = new QGridLayout(this);
  grid->setContentsMargins(24, 20, 24, 18);
  grid->setHorizontalSpacing(18);
  grid->setVerticalSpacing(8);
  const Sculpt& s = *document.sculpt;
  auto* facts = new QLabel(tr("%1 vertices, %2 polygons, parts: %3, %4. The composite of all visible layers "
                              "becomes the colour of every vertex; normals go along.")
                               .arg(shortCount(s.vertices.size()), shortCount(s.polygonCount()))
                               .arg(s.parts.size())
                               .arg(s.uvSets.empty() ? tr("no UVs") : tr("with UVs")));
  facts->setWordWrap(true);
  grid->addWidget(facts, 0, 0, 1, 3);
  auto* group = new QButtonGroup(this);
  int row = 1;
  for (int i = 0; i < 3; ++i) {
    auto* choice = new QRadioButton(kTargets[i].name);
    choice->setChecked(i == 0);
    group->addButton(choice, i);
    auto* colors = new QLabel(tr(kTargets[i].colors));
    auto* keeps = new QLabel(tr(kTargets[i].keeps));
    keeps->setProperty("quiet", true);
    grid->addWidget(choice, row, 0);
    grid->addWidget(colors, row, 1, 1, 2);
    grid->addWidget(keeps, row + 1, 1, 1, 2);
    row += 2;
  }
  // the sculpt's own file may lie there: what is suggested is never a file that exists
  path_ = new QLineEdit(freeName(QDir(folderFor(saved)).filePath(title + "-coloured.ply")));
  suggested_ = path_->text();
  path_->setAccessibleName(tr("File"));
  auto* look = new QPushButton(tr("Browse …"));
  grid->addWidget(new QLabel(tr("File")), row, 0);
  grid->addWidget(path_, row, 1);
  grid->addWidget(look, row++, 2);
  relief_ = new QCheckBox(tr("Write a copy of the sculpt with the relief applied along its normals"));
  relief_->setObjectName("relief applied");
  relief_->setToolTip(
      tr("The same vertices, order and polygons, each moved by the height of the relief there"));
  const bool any = std::ranges::any_of(
      document.layers, [](const LayerPointer& l) { return l->source->channels().has(Channel::Relief); });
  relief_->setEnabled(any);
  grid->addWidget(relief_, row++, 1, 1, 2);
  points_ = new QCheckBox(tr("With the points that were added, as triangles"));
  points_->setObjectName("all points");
  points_->setToolTip(
      tr("Else what was painted between the vertices stays in the document, or goes out as texture maps"));
  points_->setEnabled(!document.refinements.empty());
  grid->addWidget(points_, row++, 1, 1, 2);
  parts_ = new QCheckBox(tr("With the parts that were made here"));
  parts_->setObjectName("made parts");
  parts_->setToolTip(tr("Else polygons go out in the parts of the sculpt's own file"));
  parts_->setEnabled(document.parts.any());
  grid->addWidget(parts_, row++, 1, 1, 2);
  auto* buttons = new QDialogButtonBox;
  buttons->addButton(tr("Export"), QDialogButtonBox::AcceptRole)->setObjectName("export");
  buttons->addButton(tr("Cancel"), QDialogButtonBox::RejectRole);
  grid->addWidget(buttons, row, 0, 1, 3);
  connect(group, &QButtonGroup::idClicked, this, &ExportDialog::choose);
  connect(look, &QPushButton::clicked, this, &ExportDialog::browse);
  connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
}

void ExportDialog::choose(int format) {
  const bool suggested = path_->text() == suggested_;
  format_ = format;
  path_->setText(suggested ? freeName(file()) : file());
  if (suggested) suggested_ = path_->text();
}

QString ExportDialog::file() const {
  const QString ending = kTargets[format_].ending;
  const QFileInfo info(path_->text());
  return info.suffix().toLower() == ending
             ? path_->text()
             : QDir(info.path()).filePath(info.completeBaseName() + "." + ending);
}

ColouredSetting ExportDialog::setting() const {
  return {.allPoints = points_->isChecked(),
          .withRelief = relief_->isChecked(),
          .madeParts = parts_->isChecked()};
}

void ExportDialog::browse() {
  // whether a file may be replaced is asked of the name that is written
  const QString chosen = QFileDialog::getSaveFileName(this, tr("Where to"), file(), {}, nullptr,
                                                      QFileDialog::DontConfirmOverwrite);
  if (!chosen.isEmpty()) path_->setText(chosen);
  path_->setText(file());
}

}  // namespace juvenor::app

#include "moc_export_dialog.cpp"
