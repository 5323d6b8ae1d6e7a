#include "app/session/job.h"

#include <QApplication>
#include <QDialog>
#include <QEvent>
#include <QEventLoop>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QThread>
#include <QTimer>
#include <QVBoxLayout>
#include <atomic>
#include <optional>

namespace juvenor::app {
namespace {

// Swallows what hands do to any window but the dialog, from the first moment on.
class InputBlock : public QObject {
 public:
  explicit InputBlock(const QWidget* free) : free_(free) { qApp->installEventFilter(this); }

  bool eventFilter(QObject* object, QEvent* event) override {
    switch (event->type()) {
      case QEvent::MouseButtonPress:
      case QEvent::MouseButtonDblClick:
      case QEvent::TabletPress:
      case QEvent::KeyPress:
      case QEvent::ShortcutOverride:
      case QEvent::Shortcut:
      case QEvent::Wheel:
      case QEvent::Drop:
      case QEvent::Close:
        break;
      default:
        return false;
    }
    const auto* widget = qobject_cast<const QWidget*>(object);
    if (widget && (widget == free_ || free_->isAncestorOf(widget))) return false;
    // what goes to a native window comes to its widgets later
    if (!widget && event->type() != QEvent::Shortcut) return false;
    event->ignore();
    return true;
  }

 private:
  const QWidget* free_;
};

// Escape stops the work as Cancel does, and the dialog stays until it has stopped: input is blocked as long.
class ProgressDialog : public QDialog {
 public:
  ProgressDialog(QWidget* parent, std::function<void()> stop) : QDialog(parent), stop_(std::move(stop)) {}
  void reject() override { stop_(); }

 private:
  std::function<void()> stop_;
};

}  // namespace

void runJob(QWidget* parent, const QString& title, Meanwhile meanwhile,
            const std::function<void(const Progress&)>& work) {
  std::atomic<float> fraction = 0;
  std::atomic<bool> cancelled = false;
  auto* cancel = new QPushButton(QDialog::tr("Cancel"));
  const auto stop = [&] {
    cancelled = true;
    cancel->setEnabled(false);
  };
  ProgressDialog dialog(parent, stop);
  dialog.setWindowTitle(title);
  dialog.setModal(true);
  auto* column = new QVBoxLayout(&dialog);
  column->setContentsMargins(20, 18, 20, 16);
  column->addWidget(new QLabel(title));
  auto* bar = new QProgressBar;
  bar->setRange(0, 1000);
  bar->setMinimumWidth(320);
  column->addWidget(bar);
  column->addWidget(cancel, 0, Qt::AlignRight);
  QObject::connect(cancel, &QPushButton::clicked, &dialog, stop);
  const std::unique_ptr<QThread> thread(QThread::create([&] {
    work([&](float f) {
      fraction = f;
      return !cancelled;
    });
  }));
  std::optional<InputBlock> block;
  if (meanwhile == Meanwhile::Nothing) block.emplace(&dialog);
  QEventLoop loop;
  QObject::connect(thread.get(), &QThread::finished, &loop, &QEventLoop::quit);
  QTimer tick;
  int beats = 0;
  QObject::connect(&tick, &QTimer::timeout, &dialog, [&] {
    bar->setValue(static_cast<int>(1000 * fraction));
    // what is over in a moment needs no dialog
    if (++beats == 4 && block) dialog.show();
  });
  tick.start(60);
  thread->start();
  if (!thread->isFinished()) loop.exec();
  thread->wait();
}

}  // namespace juvenor::app
