#include "app/firstpage/first_page.h"

#include <QFileInfo>
#include <QGridLayout>
#include <QLabel>
#include <QPushButton>
#include <QToolButton>
#include <QVBoxLayout>

namespace juvenor::app {

FirstPage::FirstPage() {
  auto* outer = new QVBoxLayout(this);
  auto* box = new QWidget;
  box->setFixedWidth(3 * 348 + 2 * 16);
  auto* column = new QVBoxLayout(box);
  column->setSpacing(12);
  auto* name = new QLabel("Juvenor");
  name->setStyleSheet("font-size: 30px; font-weight: 600;");
  auto* line = new QLabel(tr("Drop a sculpt or a document anywhere in this window, or begin here."));
  line->setProperty("quiet", true);
  column->addWidget(name);
  column->addWidget(line);
  auto* open = new QPushButton(tr("Open a file …"));
  open->setFixedSize(160, 34);
  open->setToolTip(tr("OBJ, PLY, GLB, glTF, STL or a Juvenor document (Ctrl+O)"));
  connect(open, &QPushButton::clicked, this, &FirstPage::openWanted);
  column->addWidget(open);
  column->addSpacing(10);
  auto* demos = new QHBoxLayout;
  demos->setSpacing(16);
  const QList<QStringList> figures{
      {"ferryman", tr("River ferryman"), tr("of mudskipper folk · 7 parts")},
      {"keeper", tr("Ferry keeper"), tr("a weathered head · 3 parts")},
      {"photos", tr("Ferry keeper by photos"), tr("photos thrown onto his bare head")}};
  for (const QStringList& f : figures) {
    auto* b = new QToolButton;
    b->setObjectName("demo-" + f[0]);
    b->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
    b->setIcon(QIcon(":/pictures/" + f[0] + ".png"));
    b->setIconSize({320, 220});
    b->setText(f[1] + "\n" + f[2]);
    b->setFixedSize(348, 276);
    b->setProperty("picture", true);
    b->setToolTip(tr("Opens the demo sculpt with a few layers laid"));
    connect(b, &QToolButton::clicked, this, [this, key = f[0]] { emit demoWanted(key); });
    demos->addWidget(b);
  }
  column->addLayout(demos);
  auto* title = new QLabel(tr("Recent"));
  title->setProperty("title", true);
  column->addWidget(title);
  recent_ = new QVBoxLayout;
  recent_->setSpacing(2);
  column->addLayout(recent_);
  outer->addStretch();
  outer->addWidget(box, 0, Qt::AlignHCenter);
  outer->addStretch();
}

void FirstPage::setRecent(const QStringList& files) {
  while (QLayoutItem* item = recent_->takeAt(0)) {
    delete item->widget();
    delete item;
  }
  for (const QString& f : files.mid(0, 5)) {
    auto* b = new QPushButton(QFileInfo(f).fileName());
    b->setFlat(true);
    b->setToolTip(f);
    connect(b, &QPushButton::clicked, this, [this, f] { emit fileWanted(f); });
    recent_->addWidget(b, 0, Qt::AlignLeft);
  }
  if (files.isEmpty()) {
    auto* none = new QLabel(tr("Documents you open or save are listed here."));
    none->setProperty("quiet", true);
    recent_->addWidget(none);
  }
}

}  // namespace juvenor::app

#include "moc_first_page.cpp"
