#include "app/stage/graft_box.h"

#include <QFileDialog>
#include <QGridLayout>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QToolButton>
#include <algorithm>

#include "app/controls/emptied.h"
#include "app/controls/labels.h"
#include "app/controls/stamp_menu.h"
#include "core/document/edits/lay_graft.h"
#include "core/graft/graft_file.h"

namespace juvenor::app {
namespace {

constexpr int kShownGrafts = 3, kMostGrafts = 24, kGraftEdge = 52;

QImage pictureOf(const Graft& graft) {
  return stampIcon(*stampOf(graft).stamp).pixmap(56, 56).toImage();
}

}  // namespace

void takeInHand(Session& session, const Graft& graft) {
  const GraftStamp made = stampOf(graft);
  Tools& tools = session.tools();
  Brush brush = tools.brush();
  brush.stamp = {made.stamp, made.channels.has(Channel::Color), false};
  brush.radius = radiusOf(graft, session.document());
  brush.opacity = brush.flow = 1;
  brush.hardness = 1;
  tools.setBrush(brush);
  for (size_t c = 0; c < kChannelCount; ++c)
    tools.setLaid(static_cast<Channel>(c), made.channels.has(static_cast<Channel>(c)));
  if (made.channels.has(Channel::Gloss)) tools.setNumber(Channel::Gloss, 1);
  if (made.channels.has(Channel::Relief))
    tools.setNumber(Channel::Relief, made.height / session.document().placement.millimetres);
  tools.setTool(Tool::Stamp);
}

GraftBox::GraftBox(Session& session, Easel& easel) : session_(session) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(3);
  column->addWidget(quietLabel(tr("Grafts, from skin to skin")));
  row_ = new QGridLayout;
  row_->setSpacing(4);
  column->addLayout(row_);
  empty_ = quietLabel(tr("Take colour and relief off any skin; it can be laid on any other."));
  column->addWidget(empty_);
  auto* buttons = new QHBoxLayout;
  buttons->setSpacing(4);
  const auto button = [&](const QString& name, const QString& text, const QString& tip) {
    auto* b = new QPushButton(text);
    b->setObjectName(name);
    b->setToolTip(tip);
    buttons->addWidget(b, 1);
    return b;
  };
  connect(button("take graft", tr("Take one"), tr("Takes the tool in hand that takes grafts (Shift+T)")),
          &QPushButton::clicked, this, [this] { session_.tools().setTool(Tool::Graft); });
  connect(button("all grafts", tr("All …"), tr("Every graft in the box, and files of others")),
          &QPushButton::clicked, this, &GraftBox::showAll);
  column->addLayout(buttons);
  connect(&easel.grafting(), &GraftHand::taken, this, [this](const QString& file, const Graft& graft) {
    std::error_code ec;
    const std::filesystem::path path = file.toStdString();
    entries_.insert(entries_.begin(), {path, std::filesystem::last_write_time(path, ec), pictureOf(graft)});
    list();
    takeInHand(session_, graft);
  });
}

void GraftBox::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  look();
}

// What lies in the folder; pictures of those that are new are made beside.
void GraftBox::look() {
  if (reading_.running()) return;
  const auto found = std::make_shared<std::vector<Entry>>();
  reading_.start(
      tr("Looking into the box"),
      [known = entries_, found](const Progress& progress) -> Outcome {
        std::error_code ec;
        for (const auto& file : std::filesystem::directory_iterator(graftFolder(), ec))
          if (file.path().extension() == ".exr")
            found->push_back({file.path(), std::filesystem::last_write_time(file.path(), ec), {}});
        std::ranges::sort(*found, std::ranges::greater(), &Entry::time);
        if (found->size() > kMostGrafts) found->resize(kMostGrafts);
        for (Entry& e : *found) {
          if (!report(progress, 0)) return cancelledError();
          const auto same = std::ranges::find_if(known, [&](const Entry& k) {
            return k.file == e.file && k.time == e.time && !k.picture.isNull();
          });
          if (same != known.end())
            e.picture = same->picture;
          else if (const auto graft = readGraft(e.file))
            e.picture = pictureOf(*graft);
        }
        return Done{};
      },
      [this, found](const Outcome& done) {
        if (!done) return;
        entries_ = std::move(*found);
        list();
      });
}

void GraftBox::list() {
  empty(*row_);
  empty_->setVisible(entries_.empty());
  for (size_t i = 0; i < std::min<size_t>(kShownGrafts, entries_.size()); ++i) {
    const QString name = QString::fromStdString(entries_[i].file.stem().string());
    auto* b = new QToolButton;
    b->setObjectName("graft of " + name);
    b->setToolTip(tr("%1: takes it in hand, to be placed").arg(name));
    b->setIconSize({kGraftEdge, kGraftEdge});
    b->setIcon(QPixmap::fromImage(entries_[i].picture));
    b->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    row_->addWidget(b, 0, static_cast<int>(i));
    connect(b, &QToolButton::clicked, this, [this, file = entries_[i].file] { choose(file); });
  }
}

void GraftBox::choose(const std::filesystem::path& file) {
  if (!session_.isOpen()) return;
  const auto read = std::make_shared<Graft>();
  choosing_.start(
      tr("Reading the graft"),
      [file, read](const Progress&) -> Outcome {
        auto graft = readGraft(file);
        if (!graft) return graft.error();
        *read = std::move(*graft);
        return Done{};
      },
      [this, read](const Outcome& done) {
        if (!done) return session_.tell(done.error());
        takeInHand(session_, *read);
      });
}

void GraftBox::showAll() {
  QMenu menu;
  for (const Entry& e : entries_)
    menu.addAction(QIcon(QPixmap::fromImage(e.picture)), QString::fromStdString(e.file.stem().string()), this,
                   [this, file = e.file] { choose(file); });
  if (!entries_.empty()) menu.addSeparator();
  menu.addAction(tr("From a file …"), this, [this] {
    const QString file =
        QFileDialog::getOpenFileName(this, tr("A graft from a file"), {}, tr("Grafts (*.exr)"));
    if (!file.isEmpty()) choose(file.toStdString());
  });
  menu.exec(QCursor::pos());
}

}  // namespace juvenor::app

#include "moc_graft_box.cpp"
