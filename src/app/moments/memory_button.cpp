#include "app/moments/memory_button.h"

#include <QActionGroup>
#include <QLocale>
#include <QMenu>

#include "app/session/history_memory.h"

namespace juvenor::app {
namespace {

QString sizeOf(size_t bytes) {
  return QLocale().formattedDataSize(static_cast<qint64>(bytes), 1, QLocale::DataSizeSIFormat);
}

}  // namespace

MemoryButton::MemoryButton(Session& session) : session_(session) {
  setObjectName("history memory");
  setPopupMode(QToolButton::InstantPopup);
  setToolButtonStyle(Qt::ToolButtonTextOnly);
  setAutoRaise(true);
  setToolTip(tr("The memory steps take, and how much they may; the oldest give way when it is full"));
  setAccessibleName(tr("Memory of the history"));
  setMenu(new QMenu(this));
  connect(menu(), &QMenu::aboutToShow, this, &MemoryButton::fillMenu);
  connect(&session_, &Session::documentChanged, this, &MemoryButton::refresh);
  refresh();
}

void MemoryButton::refresh() {
  const size_t used = session_.isOpen() ? session_.history().bytes() : 0;
  setText(tr("%1 of %2").arg(sizeOf(used), sizeOf(historyBudget())));
}

void MemoryButton::fillMenu() {
  menu()->clear();
  auto* one = new QActionGroup(menu());
  for (const int share : kHistoryShares) {
    QAction* a =
        menu()->addAction(tr("%1 % of the machine's memory, %2").arg(share).arg(sizeOf(historyBudget(share))),
                          this, [this, share] {
                            session_.setHistoryShare(share);
                            refresh();
                          });
    a->setCheckable(true);
    a->setChecked(share == historyShare());
    one->addAction(a);
  }
}

}  // namespace juvenor::app

#include "moc_memory_button.cpp"
