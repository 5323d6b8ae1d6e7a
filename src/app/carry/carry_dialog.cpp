#include "app/carry/carry_dialog.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QGridLayout>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

#include "app/style/style.h"
#include "core/layers/prepared_layer.h"
#include "core/surface/build/placement.h"

namespace juvenor::app {
namespace {

constexpr int kAsFound = 0, kNew = 1, kFirstPart = 2;  // places in a row's list
constexpr int kPartsHigh = 120;

// Live layers are worked out afterwards, so that one sees soon what comes of it.
CarrySetting quickly(CarrySetting setting) {
  setting.grow = false;
  return setting;
}

QLabel* title(const QString& text) {
  auto* label = new QLabel(text);
  QFont bold = label->font();
  bold.setWeight(QFont::DemiBold);
  label->setFont(bold);
  return label;
}

}  // namespace

CarryDialog::CarryDialog(const Document& old, std::shared_ptr<const Sculpt> fresh, const QString& name,
                         QWidget* parent)
    : QDialog(parent), old_(std::make_shared<const Document>(old)), fresh_(std::move(fresh)) {
  setObjectName("carry");
  setWindowTitle(tr("Carry over to “%1”").arg(name));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(20, 16, 20, 16);
  column->setSpacing(8);
  column->addWidget(buildViews(), 1);
  column->addWidget(buildPins());
  column->addWidget(buildParts());
  says_ = new QLabel;
  says_->setObjectName("outcome");
  says_->setWordWrap(true);
  left_ = new QLabel;
  left_->setObjectName("left behind");
  left_->setWordWrap(true);
  progress_ = new QProgressBar;
  progress_->setRange(0, 1000);
  progress_->setTextVisible(false);
  progress_->setFixedHeight(6);
  QSizePolicy stays = progress_->sizePolicy();
  stays.setRetainSizeWhenHidden(true);
  progress_->setSizePolicy(stays);
  resize(1040, 720);
  column->addWidget(progress_);
  column->addWidget(says_);
  column->addWidget(left_);
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Cancel);
  again_ = buttons->addButton(tr("Fit again"), QDialogButtonBox::ActionRole);
  again_->setObjectName("fit again");
  accept_ = buttons->addButton(tr("Carry over"), QDialogButtonBox::AcceptRole);
  accept_->setObjectName("carry over");
  accept_->setDefault(true);
  column->addWidget(buttons);
  connect(again_, &QPushButton::clicked, this, &CarryDialog::work);
  connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  for (Background* work : {&background_, &growing_})
    connect(work, &Background::progressed, this,
            [this](double f) { progress_->setValue(f < 0 ? 0 : static_cast<int>(1000 * f)); });
  oldView_->setDocument(old_);
  showPins();
  work();
}

QWidget* CarryDialog::buildViews() {
  auto* box = new QWidget;
  auto* grid = new QGridLayout(box);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setSpacing(6);
  oldView_ = new CarryView;
  oldView_->setObjectName("old sculpt");
  freshView_ = new CarryView;
  freshView_->setObjectName("new sculpt");
  doubt_ = new QCheckBox(tr("Doubt"));
  doubt_->setObjectName("doubt");
  doubt_->setToolTip(tr("Grey where a place is sure, amber the less it is"));
  grid->addWidget(title(tr("As it is")), 0, 0);
  auto* head = new QHBoxLayout;
  head->addWidget(title(tr("On the new sculpt")), 1);
  head->addWidget(doubt_);
  grid->addLayout(head, 0, 1);
  grid->addWidget(oldView_, 1, 0);
  grid->addWidget(freshView_, 1, 1);
  grid->setRowStretch(1, 1);
  for (CarryView* view : {oldView_, freshView_}) {
    connect(view, &CarryView::looked, this, [this](const CarryLook& look) {
      look_ = look;
      oldView_->setLook(look);
      freshView_->setLook(look);
    });
    connect(view, &CarryView::placed, this, [this, view](const Vec3& at) { place(view == oldView_, at); });
  }
  connect(doubt_, &QCheckBox::toggled, freshView_, &CarryView::setDoubt);
  return box;
}

QWidget* CarryDialog::buildPins() {
  auto* box = new QWidget;
  auto* row = new QHBoxLayout(box);
  row->setContentsMargins(0, 0, 0, 0);
  waits_ = new QLabel;
  waits_->setObjectName("pins");
  waits_->setWordWrap(true);
  landmarks_ = new QPushButton(tr("Landmarks"));
  landmarks_->setObjectName("pins from landmarks");
  landmarks_->setToolTip(tr("A pin on each landmark of the old sculpt; press where it lies on the new one"));
  landmarks_->setEnabled(!old_->landmarks.empty());
  takeBack_ = new QPushButton(tr("Take back"));
  takeBack_->setObjectName("take pin back");
  takeBack_->setToolTip(tr("Takes the last pin back"));
  clear_ = new QPushButton(tr("No pins"));
  clear_->setObjectName("no pins");
  clear_->setToolTip(tr("Takes all pins away"));
  row->addWidget(waits_, 1);
  for (QPushButton* button : {landmarks_, takeBack_, clear_}) {
    button->setAutoDefault(false);
    row->addWidget(button);
  }
  const auto does = [this](QPushButton* button, void (CarryPins::*what)()) {
    connect(button, &QPushButton::clicked, this, [this, what] {
      (pins_.*what)();
      changed();
    });
  };
  does(takeBack_, &CarryPins::takeBack);
  does(clear_, &CarryPins::clear);
  connect(landmarks_, &QPushButton::clicked, this, [this] {
    pins_.addLandmarks(old_->landmarks);
    changed();
  });
  return box;
}

QWidget* CarryDialog::buildParts() {
  auto* box = new QWidget;
  auto* column = new QVBoxLayout(box);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(4);
  column->addWidget(title(tr("Parts: whose skin each takes")));
  auto* scroll = new QScrollArea;
  scroll->setWidgetResizable(true);
  scroll->setFrameShape(QFrame::NoFrame);
  scroll->setMaximumHeight(kPartsHigh);
  auto* inside = new QWidget;
  rows_ = new QVBoxLayout(inside);
  rows_->setContentsMargins(0, 0, 8, 0);
  rows_->setSpacing(4);
  for (const std::string& part : fresh_->parts) {
    auto* row = new QHBoxLayout;
    auto* label = new QLabel(QString::fromStdString(part));
    auto* choice = new QComboBox;
    choice->setObjectName("skin of " + QString::fromStdString(part));
    choice->addItem(tr("as found"));
    choice->addItem(tr("nobody's: it is new"));
    for (const std::string& from : old_->sculpt->parts) choice->addItem(QString::fromStdString(from));
    connect(choice, &QComboBox::activated, this, &CarryDialog::changed);
    choices_.push_back(choice);
    row->addWidget(label, 1);
    row->addWidget(choice, 1);
    rows_->addLayout(row);
  }
  rows_->addStretch();
  scroll->setWidget(inside);
  column->addWidget(scroll);
  auto* row = new QHBoxLayout;
  keepLost_ = new QCheckBox(tr("Keep parts the new sculpt has not, hidden"));
  keepLost_->setObjectName("keep lost parts");
  keepLost_->setChecked(true);
  checkpoints_ = new QCheckBox(tr("Checkpoints too"));
  checkpoints_->setObjectName("checkpoints too");
  checkpoints_->setChecked(true);
  checkpoints_->setEnabled(!old_->checkpoints.empty());
  for (QCheckBox* check : {keepLost_, checkpoints_}) {
    connect(check, &QCheckBox::clicked, this, &CarryDialog::changed);
    row->addWidget(check);
    row->addSpacing(16);
  }
  row->addStretch();
  column->addLayout(row);
  return box;
}

CarrySetting CarryDialog::setting() const {
  CarrySetting out;
  out.pins = pins_.pins();
  out.keepLost = keepLost_->isChecked();
  out.checkpoints = checkpoints_->isChecked();
  for (size_t p = 0; p < choices_.size(); ++p) {
    const int chosen = choices_[p]->currentIndex();
    if (chosen == kAsFound) continue;
    auto& from = out.parts[static_cast<uint32_t>(p)];
    if (chosen != kNew) from.insert(static_cast<uint32_t>(chosen - kFirstPart));
  }
  return out;
}

std::function<Result<Document>(const Document&, const Progress&)> CarryDialog::edit() const {
  return [made = result_, old = old_, fresh = fresh_, with = setting()](
             const Document& now, const Progress& p) -> Result<Document> {
    if (now.layers == old->layers && now.checkpoints == old->checkpoints && now.surface == old->surface) {
      // most of it was worked out while it was looked at
      const auto ready = prepared(made->document.layers, *made->document.maps, p);
      return ready ? Result<Document>(made->document) : ready.error();
    }
    auto again = carriedOver(now, fresh, with, p);
    if (!again) return again.error();
    return std::move(again->document);
  };
}

void CarryDialog::work() {
  const auto made = std::make_shared<CarriedOver>();
  const auto bare = std::make_shared<std::shared_ptr<const Document>>();
  growing_.giveUp();
  stale_ = false;
  result_ = nullptr;
  trouble_ = std::nullopt;
  background_.start(
      tr("Carry over"),
      [made, bare, old = old_, fresh = fresh_, with = quickly(setting()),
       shown = shown_](const Progress& p) -> Outcome {
        auto carried = carriedOver(*old, fresh, with, p);
        if (carried) {
          *made = std::move(*carried);
          return Done{};
        }
        if (shown || isCancelled(carried.error())) return carried.error();
        // so that pins can be put on it
        auto surface = buildSurface(*fresh, p);
        if (surface) *bare = std::make_shared<const Document>(newDocument(fresh, *surface, old->placement));
        return carried.error();
      },
      [this, made, bare](const Outcome& done) { take(done, made, *bare); });
  tell();
}

void CarryDialog::take(const Outcome& done, std::shared_ptr<CarriedOver> made,
                       std::shared_ptr<const Document> bare) {
  if (done) {
    result_ = made;
    shown_ = std::shared_ptr<const Document>(made, &made->document);
  } else {
    trouble_ = done.error();
    if (bare) shown_ = bare;
  }
  freshView_->setDocument(shown_, done ? QString() : QString::fromStdString(done.error().what));
  if (result_) grow();
  showPins();
  showParts();
  tell();
}

// What works itself out is not carried: it is worked out on the new form while one looks.
void CarryDialog::grow() {
  growing_.start(
      tr("Working the live layers out"),
      [shown = shown_](const Progress& p) -> Outcome {
        const auto ready = prepared(shown->layers, *shown->maps, p);
        return ready ? Outcome(Done{}) : ready.error();
      },
      [this](const Outcome&) {
        freshView_->setDocument(shown_);
        tell();
      });
}

Vec3 CarryDialog::standing(const Document& document, const Vec3& place, bool back) const {
  const Eigen::Matrix3f turn = turnOf(old_->placement) * turnOf(document.placement).transpose();
  return back ? Vec3(turn.transpose() * place) : Vec3(turn * place);
}

void CarryDialog::place(bool onOld, const Vec3& at) {
  if (!onOld && !shown_) return;
  pins_.place(onOld, onOld ? at : standing(*shown_, at, false));
  changed();
}

void CarryDialog::changed() {
  stale_ = true;
  showPins();
  tell();
}

void CarryDialog::showPins() {
  oldView_->setMarks(pins_.marks(true));
  auto marks = pins_.marks(false);
  if (shown_)
    for (auto& mark : marks) mark.place = standing(*shown_, mark.place, true);
  freshView_->setMarks(std::move(marks));
  const auto whole = static_cast<int>(pins_.pins().size());
  if (const int waits = pins_.waiting())
    waits_->setText(tr("Pin %1: press the same place on the new sculpt.").arg(waits));
  else if (whole == 0)
    waits_->setText(
        tr("Where shapes differ: press a place at the left, then the same at the right. Six to ten pins "
           "carry a head to another's proportions."));
  else
    waits_->setText(whole < 3 ? tr("%n pin(s): they shift all of it; three or more bend it.", "", whole)
                              : tr("%n pin(s)", "", whole));
  takeBack_->setEnabled(!pins_.pairs().empty());
  clear_->setEnabled(!pins_.pairs().empty());
}

void CarryDialog::showParts() {
  if (!result_) return;
  for (size_t p = 0; p < choices_.size() && p < result_->report.parts.size(); ++p) {
    QStringList from;
    for (const std::string& name : result_->report.parts[p].from) from << QString::fromStdString(name);
    choices_[p]->setItemText(kAsFound, from.isEmpty() ? tr("as found: nobody's, it is new")
                                                      : tr("as found: %1").arg(from.join(", ")));
  }
}

void CarryDialog::tell() {
  const bool runs = background_.running();
  progress_->setVisible(runs || growing_.running());
  again_->setEnabled(!runs && stale_);
  accept_->setEnabled(!runs && result_ && !stale_);
  says_->setStyleSheet({});
  QString left;
  if (runs) {
    says_->setText(tr("Looking where each place comes from …"));
  } else if (trouble_) {
    says_->setText(tr("Nothing was carried: the new sculpt %1.").arg(QString::fromStdString(trouble_->what)));
    says_->setStyleSheet(QString("color: %1").arg(look::kWarning.name()));
  } else if (stale_) {
    says_->setText(tr("Pins or parts have changed: fit again to see what comes of it."));
  } else if (result_) {
    const CarryReport& report = result_->report;
    const auto percent = [](float part) {
      return QString::number(100 * static_cast<double>(part), 'f', 1) + " %";
    };
    const QString how = report.samePolygons ? tr("The same polygons, all by number.")
                        : report.lay        ? tr("It lies on the sculpt before as it is.")
                                            : tr("It was brought to lie on the sculpt before.");
    says_->setText(tr("%1 points: %2 sure, %3 in doubt, %4 without any source, filled from around. %5")
                       .arg(shortCount(report.points), percent(report.sure), percent(report.doubtful),
                            percent(report.unknown), how) +
                   (growing_.running() ? " " + tr("Live layers are worked out anew …") : QString()));
    QStringList lines;
    for (const std::string& part : report.lost)
      lines << (keepLost_->isChecked() ? tr("“%1” is not in the new sculpt; it is kept, hidden")
                                       : tr("“%1” is not in the new sculpt, and goes"))
                   .arg(QString::fromStdString(part));
    for (const std::string& line : report.left) lines << QString::fromStdString(line);
    left = lines.join("\n");
  }
  left_->setText(left);
  left_->setVisible(!left.isEmpty());
}

}  // namespace juvenor::app

#include "moc_carry_dialog.cpp"
