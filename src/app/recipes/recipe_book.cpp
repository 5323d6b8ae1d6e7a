#include "app/recipes/recipe_book.h"

#include <QCheckBox>
#include <QDialogButtonBox>
#include <QFile>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMessageBox>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/controls/labels.h"
#include "app/session/job.h"
#include "app/session/words.h"
#include "app/style/style.h"
#include "core/photo/picture_file.h"
#include "core/recipe/recipe_folder.h"
#include "core/render/still.h"
#include "demo/recipes.h"

namespace juvenor::app {
namespace {

constexpr int kCard = 128;
constexpr ViewSize kPictureSize{320, 320};

// Its own picture, that which ships with it, or bands of its colours.
QIcon pictureOf(const Recipe& recipe, const QString& shipped) {
  QPixmap picture;
  if (!recipe.picture.empty())
    picture.loadFromData(reinterpret_cast<const uchar*>(recipe.picture.data()),
                         static_cast<uint>(recipe.picture.size()), "PNG");
  else if (!shipped.isEmpty())
    picture.load(":/recipes/" + shipped + ".png");
  if (picture.isNull()) {
    picture = QPixmap(kCard, kCard);
    picture.fill(look::kWell);
  }
  picture = picture.scaled(kCard, kCard, Qt::KeepAspectRatioByExpanding, Qt::SmoothTransformation);
  // a chosen one is as bright as the others: it is looked at
  QIcon out(picture);
  out.addPixmap(picture, QIcon::Selected);
  return out;
}

}  // namespace

RecipeBook::RecipeBook(Session& session, QWidget* parent) : QDialog(parent), session_(session) {
  setObjectName("recipe book");
  setWindowTitle(tr("Recipe book"));
  resize(820, 560);
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(16, 14, 16, 14);
  row->setSpacing(16);
  list_ = new QListWidget;
  list_->setObjectName("recipes");
  list_->setViewMode(QListView::IconMode);
  list_->setIconSize({kCard, kCard});
  list_->setGridSize({kCard + 20, kCard + 40});
  list_->setResizeMode(QListView::Adjust);
  list_->setMovement(QListView::Static);
  list_->setWordWrap(true);
  row->addWidget(list_, 1);
  row->addWidget(buildDetails());
  connect(list_, &QListWidget::currentRowChanged, this, &RecipeBook::showChosen);
  connect(list_, &QListWidget::itemDoubleClicked, this, &RecipeBook::lay);
  connect(&session_, &Session::documentChanged, this, &RecipeBook::showChosen);
  refresh();
}

QWidget* RecipeBook::buildDetails() {
  auto* box = new QWidget;
  box->setFixedWidth(260);
  auto* column = new QVBoxLayout(box);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(8);
  name_ = titleLabel({});
  about_ = new QLabel;
  about_->setWordWrap(true);
  layers_ = quietLabel({});
  onPart_ = new QCheckBox(tr("On the active part alone"));
  onPart_->setObjectName("recipe on part");
  addPoints_ = new QCheckBox(tr("Add points where it wants them"));
  addPoints_->setObjectName("recipe adds points");
  addPoints_->setToolTip(tr("Skin too coarse for its finest forms gets more points, up to eight million"));
  addPoints_->setChecked(true);
  const auto button = [this](const QString& name, const QString& text, const QString& tip, auto slot) {
    auto* b = new QPushButton(text);
    b->setObjectName(name);
    b->setToolTip(tip);
    connect(b, &QPushButton::clicked, this, slot);
    return b;
  };
  lay_ = button("lay recipe", tr("Lay it on the sculpt"),
                tr("Its layers come on top of their strata; sizes follow the head, places its landmarks"),
                &RecipeBook::lay);
  lay_->setDefault(true);
  says_ = quietLabel({});
  says_->setObjectName("recipe says");
  make_ = button("make recipe", tr("Make one from layers …"),
                 tr("Layers that work themselves out become a recipe of your own"), &RecipeBook::make);
  auto* taking = button("take recipe", tr("Take one in …"), tr("Copies a recipe's file into the book"),
                        &RecipeBook::take);
  remove_ = button("remove recipe", tr("Take it out"), tr("Puts a recipe of your own into the trash"),
                   &RecipeBook::remove);
  for (QWidget* w : {static_cast<QWidget*>(name_), static_cast<QWidget*>(about_),
                     static_cast<QWidget*>(layers_), static_cast<QWidget*>(says_)})
    column->addWidget(w);
  // what is said above is long or short; the buttons stay where they are
  column->addStretch();
  for (QWidget* w :
       {static_cast<QWidget*>(onPart_), static_cast<QWidget*>(addPoints_), static_cast<QWidget*>(lay_)})
    column->addWidget(w);
  column->addSpacing(12);
  for (QWidget* w : {make_, taking, remove_}) column->addWidget(w);
  return box;
}

void RecipeBook::refresh() {
  entries_.clear();
  list_->clear();
  for (const auto& [key, recipe] : demo::shippedRecipes()) {
    entries_.push_back({recipe, {}});
    list_->addItem(
        new QListWidgetItem(pictureOf(recipe, QString::fromUtf8(key)), QString::fromStdString(recipe.name)));
  }
  KeptRecipes kept = keptRecipes(recipeFolder());
  for (KeptRecipe& own : kept.recipes) {
    list_->addItem(new QListWidgetItem(pictureOf(own.recipe, {}), QString::fromStdString(own.recipe.name)));
    entries_.push_back({std::move(own.recipe), std::move(own.file)});
  }
  list_->setCurrentRow(0);
  if (!kept.unreadable.empty())
    say(tr("%1 file(s) in the book cannot be read: %2")
            .arg(kept.unreadable.size())
            .arg(QString::fromStdString(kept.unreadable.front().message())),
        true);
}

const RecipeBook::Entry* RecipeBook::chosen() const {
  const int row = list_->currentRow();
  return row >= 0 && row < static_cast<int>(entries_.size()) ? &entries_[static_cast<size_t>(row)] : nullptr;
}

void RecipeBook::say(const QString& text, bool trouble) {
  says_->setText(text);
  says_->setStyleSheet(trouble ? QString("color: %1").arg(look::kWarning.name()) : QString());
}

void RecipeBook::showChosen() {
  const Entry* entry = chosen();
  const bool open = session_.isOpen();
  lay_->setEnabled(entry && open);
  make_->setEnabled(open);
  remove_->setEnabled(entry && !entry->file.empty());
  if (!entry) return;
  if (sender() == list_) onPart_->setChecked(entry->recipe.forPart);
  name_->setText(QString::fromStdString(entry->recipe.name));
  about_->setText(QString::fromStdString(entry->recipe.about));
  QStringList names;
  for (const RecipeLayer& layer : entry->recipe.layers)
    names.prepend(QString::fromStdString(layer.layer->name) + " · " +
                  told(layer.layer->source->kind().label).toLower());
  layers_->setText(names.join("\n"));
  if (sender() == list_) say({});
}

void RecipeBook::lay() {
  const Entry* entry = chosen();
  if (!entry || !session_.isOpen()) return;
  LayingSetting setting;
  setting.addPoints = addPoints_->isChecked();
  if (onPart_->isChecked()) setting.parts = {session_.activePart()};
  const auto missing = std::make_shared<std::vector<std::string>>();
  const bool done = session_.edit(
      tr("Recipe: %1").arg(QString::fromStdString(entry->recipe.name)),
      [recipe = entry->recipe, setting, missing](const Document& d, const Progress& p) -> Result<Document> {
        auto laid = layRecipe(d, recipe, setting, [&](float f) { return report(p, 0.3f * f); });
        if (!laid) return laid.error();
        // what it measures and grows is there when it is laid, and not piece by piece afterwards
        const auto ready = prepared(laid->document.layers, *laid->document.maps,
                                    [&](float f) { return report(p, 0.3f + 0.7f * f); });
        if (!ready) return ready.error();
        *missing = std::move(laid->missing);
        return std::move(laid->document);
      });
  if (done) tellMissing(*missing);
}

void RecipeBook::tellMissing(const std::vector<std::string>& missing) {
  if (missing.empty()) return say(tr("Laid. Undo takes it away in one step."));
  QStringList lines{tr("Laid, but for what this sculpt has not:")};
  for (const std::string& m : missing) lines << "· " + QString::fromStdString(m);
  say(lines.join("\n"), true);
}

void RecipeBook::make() {
  RecipeLayers ask(session_.document(), this);
  if (ask.exec() != QDialog::Accepted) return;
  session_.settleStrokes();
  struct Made {
    TakenRecipe taken;
    std::filesystem::path file;
  };
  const auto made = runJobFor<Made>(this, tr("Making the recipe"),
                                    [document = session_.document(), ids = ask.layers(), name = ask.name(),
                                     about = ask.about()](const Progress&) -> Result<Made> {
                                      auto taken = takeRecipe(document, ids, name);
                                      if (!taken) return taken.error();
                                      taken->recipe.about = about;
                                      const auto pixels = portraitOf(document, kPictureSize);
                                      if (!pixels) return pixels.error();
                                      auto picture = encodePng(kPictureSize, *pixels);
                                      if (!picture) return picture.error();
                                      taken->recipe.picture = std::move(*picture);
                                      const auto file = keepRecipe(recipeFolder(), taken->recipe);
                                      if (!file) return file.error();
                                      return Made{std::move(*taken), *file};
                                    });
  if (!made) return say(QString::fromStdString(made.error().message()), true);
  refresh();
  for (size_t i = 0; i < entries_.size(); ++i)
    if (entries_[i].file == made->file) list_->setCurrentRow(static_cast<int>(i));
  QStringList lines{tr("Kept as %1.").arg(QString::fromStdString(made->file.filename().string()))};
  for (const std::string& left : made->taken.left) lines << "· " + QString::fromStdString(left);
  say(lines.join("\n"));
}

void RecipeBook::take() {
  const QString file = QFileDialog::getOpenFileName(
      this, tr("Take a recipe in"), {}, tr("Recipes (*%1)").arg(QString::fromUtf8(kRecipeEnding)));
  if (file.isEmpty()) return;
  const auto recipe = readRecipe(file.toStdString());
  if (!recipe) return say(QString::fromStdString(recipe.error().message()), true);
  const auto kept = keepRecipe(recipeFolder(), *recipe);
  if (!kept) return say(QString::fromStdString(kept.error().message()), true);
  refresh();
  for (size_t i = 0; i < entries_.size(); ++i)
    if (entries_[i].file == *kept) list_->setCurrentRow(static_cast<int>(i));
}

void RecipeBook::remove() {
  const Entry* entry = chosen();
  if (!entry || entry->file.empty()) return;
  const QString file = QString::fromStdString(entry->file.string());
  const QString name = QString::fromStdString(entry->recipe.name);
  if (QFile::moveToTrash(file)) {
    refresh();
    return say(tr("“%1” is in the trash.").arg(name));
  }
  // a disk without a trash
  QMessageBox box(QMessageBox::Question, "Juvenor", tr("Delete “%1” for good?").arg(name),
                  QMessageBox::NoButton, this);
  box.setInformativeText(tr("There is no trash where it lies."));
  auto* gone = box.addButton(tr("Delete"), QMessageBox::DestructiveRole);
  box.addButton(tr("Keep it"), QMessageBox::RejectRole);
  box.exec();
  if (box.clickedButton() != gone) return;
  std::error_code failed;
  std::filesystem::remove(file.toStdString(), failed);
  if (failed) return say(tr("It cannot be deleted: %1").arg(QString::fromStdString(failed.message())), true);
  refresh();
}

RecipeLayers::RecipeLayers(const Document& document, QWidget* parent) : QDialog(parent) {
  setObjectName("recipe layers");
  setWindowTitle(tr("A recipe from layers"));
  resize(420, 460);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(20, 16, 20, 14);
  column->setSpacing(8);
  name_ = new QLineEdit(tr("My skin"));
  name_->setObjectName("recipe name");
  name_->selectAll();
  about_ = new QLineEdit;
  about_->setPlaceholderText(tr("A line on what it is"));
  column->addWidget(quietLabel(tr("What it is called")));
  column->addWidget(name_);
  column->addWidget(about_);
  column->addWidget(
      quietLabel(tr("Layers that go in. What is painted by hand cannot: it belongs to this sculpt.")));
  list_ = new QListWidget;
  list_->setObjectName("layers of recipe");
  for (size_t i = document.layers.size(); i-- > 0;) {
    const Layer& layer = *document.layers[i];
    auto* item = new QListWidgetItem(QString::fromStdString(layer.name) + " · " +
                                     told(layer.source->kind().label).toLower());
    item->setData(Qt::UserRole, layer.id);
    const bool goes = !layer.source->fields();
    item->setFlags(goes ? Qt::ItemIsEnabled | Qt::ItemIsUserCheckable : Qt::NoItemFlags);
    item->setCheckState(goes && layer.visible ? Qt::Checked : Qt::Unchecked);
    list_->addItem(item);
  }
  column->addWidget(list_, 1);
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
  buttons->button(QDialogButtonBox::Ok)->setText(tr("Keep it in the book"));
  connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  column->addWidget(buttons);
}

std::vector<uint32_t> RecipeLayers::layers() const {
  std::vector<uint32_t> out;
  for (int i = 0; i < list_->count(); ++i)
    if (list_->item(i)->checkState() == Qt::Checked)
      out.push_back(list_->item(i)->data(Qt::UserRole).toUInt());
  return out;
}

std::string RecipeLayers::name() const {
  return name_->text().trimmed().toStdString();
}

std::string RecipeLayers::about() const {
  return about_->text().trimmed().toStdString();
}

}  // namespace juvenor::app

#include "moc_recipe_book.cpp"
