#include "app/side/side_column.h"

#include <QButtonGroup>
#include <QHBoxLayout>
#include <QPushButton>
#include <QStackedWidget>
#include <QVBoxLayout>

#include "app/controls/bind_key.h"
#include "app/layer_card/layer_card.h"
#include "app/moments/past_page.h"
#include "app/parts/parts.h"
#include "app/session/stages.h"

namespace juvenor::app {

SideColumn::SideColumn(Session& session, Easel& easel) : session_(session) {
  setFixedWidth(214);
  setAutoFillBackground(true);
  QPalette p = palette();
  p.setColor(QPalette::Window, QColor(0x4b, 0x4b, 0x4b));
  setPalette(p);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 6, 0, 0);
  column->setSpacing(2);
  auto* row = new QHBoxLayout;
  row->setContentsMargins(8, 0, 8, 0);
  row->setSpacing(2);
  tabs_ = new QButtonGroup(this);
  const QStringList names{tr("Stage"), tr("Layer"), tr("Board"), tr("Parts"), tr("Past")};
  const QStringList tips{tr("What the stage of the course offers"),
                         tr("What the active layer is made of, and its masks"),
                         tr("Reference pictures and palettes"), tr("Parts of the sculpt"),
                         tr("Checkpoints, and every step of the work")};
  const QStringList keys{"Shift+1", "Shift+2", "Shift+3", "Shift+4", "Shift+5"};
  for (int i = 0; i < 5; ++i) {
    auto* b = new QPushButton(names[i]);
    b->setCheckable(true);
    b->setObjectName("side " + names[i]);
    b->setStyleSheet("padding: 3px 0; font-size: 11px;");
    b->setToolTip(tr("%1 (%2)").arg(tips[i], keys[i]));
    bindKey(b, keys[i]);
    tabs_->addButton(b, i);
    row->addWidget(b, 1);
  }
  column->addLayout(row);
  pages_ = new QStackedWidget;
  stage_ = new Stage(session, easel);
  board_ = new Board(session, easel);
  pages_->addWidget(stage_);
  pages_->addWidget(new LayerCard(session, easel));
  pages_->addWidget(board_);
  auto* parts = new QWidget;
  auto* partsColumn = new QVBoxLayout(parts);
  partsColumn->setContentsMargins(0, 0, 0, 0);
  auto* list = new PartsPanel(session);
  connect(list, &PartsPanel::writeWanted, this, &SideColumn::partWanted);
  partsColumn->addWidget(list);
  partsColumn->addStretch(1);
  pages_->addWidget(parts);
  pages_->addWidget(new PastPage(session, easel));
  column->addWidget(pages_, 1);
  connect(tabs_, &QButtonGroup::idClicked, pages_, &QStackedWidget::setCurrentIndex);
  connect(&session_.tools(), &Tools::stageEntered, this, [this] { show(Page::Stage); });
  connect(stage_, &Stage::settingsWanted, this, [this] { show(Page::Layer); });
  connect(board_, &Board::hangWanted, this, &SideColumn::hang);
  show(Page::Board);
}

// A picture of the board as a slide.
void SideColumn::hang(uint32_t id) {
  const std::vector<BoardPicture> board = session_.document().board;
  const auto found = std::ranges::find(board, id, &BoardPicture::id);
  if (found == board.end()) return;
  stage_->photo().hang(QString::fromStdString(found->name), found->data);
  goToStage(session_, kPhotoStage);
  show(Page::Stage);
}

void SideColumn::show(Page page) {
  tabs_->button(static_cast<int>(page))->setChecked(true);
  pages_->setCurrentIndex(static_cast<int>(page));
}

}  // namespace juvenor::app

#include "moc_side_column.cpp"
