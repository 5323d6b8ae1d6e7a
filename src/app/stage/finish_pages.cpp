#include "app/stage/finish_pages.h"

#include <QComboBox>
#include <QLabel>
#include <QStackedWidget>
#include <QVBoxLayout>

#include "app/controls/choice_row.h"
#include "app/controls/labels.h"
#include "app/controls/scrolled.h"

namespace juvenor::app {

FinishPages::FinishPages(Session& session, Easel& easel) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(2);
  auto* head = new QWidget;
  auto* inside = new QVBoxLayout(head);
  inside->setContentsMargins(12, 6, 12, 0);
  inside->setSpacing(4);
  inside->addWidget(titleLabel(tr("Finish")));
  tabs_ = new QButtonGroup(this);
  inside->addWidget(
      choiceRow(tabs_, {tr("Maps"), tr("Step back"), tr("Show")},
                {tr("Texture maps and the coloured sculpt, for others to go on with"),
                 tr("Does it hold from afar, flipped, in greys?"), tr("Cameras, stills, films and sheets")},
                "finish"));
  column->addWidget(head);
  pages_ = new QStackedWidget;
  pages_->addWidget(scrolled(maps_ = new MapsPage(session)));
  pages_->addWidget(buildStepBack());
  pages_->addWidget(scrolled(show_ = new ShowPage(session, easel)));
  column->addWidget(pages_, 1);
  maps_->setViewing([&easel] { return easel.viewing(); });
  connect(tabs_, &QButtonGroup::idClicked, this, [this](int page) { goTo(static_cast<Page>(page)); });
  goTo(Page::Maps);
}

QWidget* FinishPages::buildStepBack() {
  auto* page = new QWidget;
  auto* column = new QVBoxLayout(page);
  column->setContentsMargins(12, 6, 12, 8);
  column->setSpacing(6);
  column->addWidget(quietLabel(
      tr("Small pictures along the easel's left edge follow the work. Hold one to see it large.")));
  auto* strip = new QPushButton(tr("The strip, or not"));
  strip->setObjectName("step back strip");
  strip->setToolTip(tr("Outline, far, greys, flipped, where the eye goes (Shift+A, in every stage)"));
  column->addWidget(strip);
  connect(strip, &QPushButton::clicked, this, &FinishPages::stepBackWanted);
  eye_ = new QLabel;
  eye_->setObjectName("eye says");
  eye_->setWordWrap(true);
  column->addWidget(eye_);
  auto* row = new QHBoxLayout;
  row->addWidget(new QLabel(tr("It should be")));
  meant_ = new QComboBox;
  meant_->setObjectName("eye meant");
  meant_->setToolTip(tr("The part that is to draw the eye first"));
  meant_->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
  meant_->setMinimumContentsLength(8);
  row->addWidget(meant_, 1);
  column->addLayout(row);
  rank_ = quietLabel({});
  rank_->setObjectName("eye rank");
  column->addWidget(rank_);
  connect(meant_, &QComboBox::activated, this, &FinishPages::tellRank);
  column->addWidget(titleLabel(tr("What to ask")));
  for (const QString& ask :
       {tr("Outline: does the silhouette alone tell who that is, and does it lean?"),
        tr("Far: are light and dark still grouped, or does it dissolve into spots?"),
        tr("Greys: is the face the place of the strongest step?"),
        tr("Flipped: what looks wrong now was wrong before."),
        tr("Where the eye goes: if it is not the face, a layer of less contrast by a mask quiets the rest.")})
    column->addWidget(quietLabel(ask));
  column->addStretch();
  return page;
}

void FinishPages::tellEye(const QString& said, const QStringList& ranked) {
  eye_->setText(said);
  ranked_ = ranked;
  QStringList names = ranked;
  names.sort();
  const QString meant = meant_->currentText();
  meant_->clear();
  meant_->addItem(QString());
  meant_->addItems(names);
  meant_->setCurrentText(names.contains(meant) ? meant : QString());
  tellRank();
}

void FinishPages::tellRank() {
  const QString meant = meant_->currentText();
  const qsizetype place = ranked_.indexOf(meant);
  if (meant.isEmpty() || place < 0) return rank_->clear();
  rank_->setText(place == 0 ? tr("“%1” draws most for its size.").arg(meant)
                            : tr("“%1” draws more: “%2” is number %3 of %4.")
                                  .arg(ranked_[place - 1], meant)
                                  .arg(place + 1)
                                  .arg(ranked_.size()));
}

void FinishPages::goTo(Page page) {
  const int i = static_cast<int>(page);
  tabs_->button(i)->setChecked(true);
  pages_->setCurrentIndex(i);
  refresh();
}

void FinishPages::refresh() {
  if (pages_->currentIndex() == static_cast<int>(Page::Show)) show_->refresh();
  maps_->refresh();
}

}  // namespace juvenor::app

#include "moc_finish_pages.cpp"
