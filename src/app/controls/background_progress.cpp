#include "app/controls/background_progress.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>

namespace juvenor::app {

BackgroundProgress::BackgroundProgress(Background& background, const QString& name) {
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(0, 0, 0, 0);
  auto* title = new QLabel;
  title->setProperty("quiet", true);
  auto* bar = new QProgressBar;
  bar->setObjectName(name);
  bar->setRange(0, 1000);
  bar->setFixedSize(150, 12);
  bar->setTextVisible(false);
  auto* cancel = new QPushButton(tr("cancel"));
  cancel->setObjectName("cancel " + name);
  cancel->setFlat(true);
  cancel->setFixedHeight(20);
  cancel->setToolTip(tr("Stops it; everything stays as it is"));
  for (QWidget* w : {static_cast<QWidget*>(title), static_cast<QWidget*>(bar), static_cast<QWidget*>(cancel)})
    row->addWidget(w);
  hide();
  connect(&background, &Background::progressed, this, [this, title, bar, &background](double fraction) {
    setVisible(fraction >= 0);
    title->setText(background.name());
    bar->setValue(static_cast<int>(1000 * fraction));
  });
  connect(cancel, &QPushButton::clicked, &background, [&background] { background.cancel(); });
}

}  // namespace juvenor::app

#include "moc_background_progress.cpp"
