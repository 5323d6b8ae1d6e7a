#include "app/window/job.h"

#include <QDialog>
#include <QEventLoop>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QThread>
#include <QTimer>
#include <QVBoxLayout>
#include <atomic>

namespace juvenor::app {

void runJob(QWidget* parent, const QString& title, const std::function<void(const Progress&)>& work) {
  std::atomic<float> fraction = 0;
  std::atomic<bool> cancelled = false;
  QDialog dialog(parent);
  dialog.setWindowTitle(title);
  dialog.setModal(true);
  auto* column = new QVBoxLayout(&dialog);
  column->setContentsMargins(20, 18, 20, 16);
  column->addWidget(new QLabel(title));
  auto* bar = new QProgressBar;
  bar->setRange(0, 1000);
  bar->setMinimumWidth(320);
  column->addWidget(bar);
  auto* cancel = new QPushButton(QDialog::tr("Cancel"));
  column->addWidget(cancel, 0, Qt::AlignRight);
  const auto stop = [&] {
    cancelled = true;
    cancel->setEnabled(false);
  };
  QObject::connect(cancel, &QPushButton::clicked, &dialog, stop);
  QObject::connect(&dialog, &QDialog::rejected, &dialog, stop);
  const std::unique_ptr<QThread> thread(QThread::create([&] {
    work([&](float f) {
      fraction = f;
      return !cancelled;
    });
  }));
  QEventLoop loop;
  QObject::connect(thread.get(), &QThread::finished, &loop, &QEventLoop::quit);
  QTimer tick;
  int beats = 0;
  QObject::connect(&tick, &QTimer::timeout, &dialog, [&] {
    bar->setValue(static_cast<int>(1000 * fraction));
    // what is over in a moment needs no dialog
    if (++beats == 4) dialog.show();
  });
  tick.start(60);
  thread->start();
  if (!thread->isFinished()) loop.exec();
  thread->wait();
}

}  // namespace juvenor::app
