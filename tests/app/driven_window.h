// The real window, driven as a hand would, and what the core says it should show.
#pragma once

#include <QApplication>
#include <QListWidget>
#include <QMessageBox>
#include <QPushButton>
#include <QTimer>
#include <QToolButton>

#include "app/window/main_window.h"
#include "core/layers/composite/composite.h"
#include "core/render/still.h"
#include "core/surface/build/search.h"
#include "support/made.h"
#include "support/run_all.h"

namespace juvenor::test {

/// A ball, and an eye that looks out of it as a part of its own.
inline Sculpt twoParts() {
  Sculpt eye = sphere(24, 2, {0, 0, 11});
  eye.parts = {"Eye"};
  return together(sphere(80, 10), eye);
}

class DrivenWindow {
 public:
  explicit DrivenWindow(const Sculpt& sculpt) {
    file_ = folder_ / "x.obj";
    (void)writeSculpt(file_, sculpt, {});
    show();
    window.openFile(path(file_));
    // where nothing is said of light there is none to wait for
    easel().setView(View::Flat);
    settle();
  }
  void showSkin() {
    easel().setView(View::Skin);
    settle();
  }
  DrivenWindow() { show(); }
  ~DrivenWindow() { window.session().close(); }

  static QString path(const std::filesystem::path& p) { return QString::fromStdString(p.string()); }
  app::Session& session() { return window.session(); }
  app::Easel& easel() { return window.easel(); }
  const Document& document() { return window.session().document(); }
  LayerPointer active() { return layerOf(document(), document().activeLayer); }
  /// Until maps asked for are measured.
  void awaitBackground() {
    for (int i = 0; i < 1000 && (session().background().running() || session().measuring().running()); ++i)
      QTest::qWait(10);
    settle();
  }
  const Folder& folder() const { return folder_; }

  /// Until everything asked for is done and shown, light and edges still rough.
  void settle() {
    for (int round = 0; round < 2; ++round) {
      QCoreApplication::processEvents();
      session().settleStrokes();
      session().engine().drain();
    }
    QCoreApplication::processEvents();
  }
  /// Until the picture no longer changes.
  void settleFully() {
    settle();
    session().engine().waitSettled();
    QCoreApplication::processEvents();
  }
  QImage picture() {
    settleFully();
    return easel().pictureNow();
  }
  template <class Widget>
  Widget* named(const char* name) {
    return window.findChild<Widget*>(name);
  }
  /// Chooses a tool by its key.
  void key(Qt::Key k, Qt::KeyboardModifiers modifiers = Qt::NoModifier) {
    activate();  // a dialog that showed meanwhile took the keys
    QTest::keyClick(&window, k, modifiers);
    QCoreApplication::processEvents();
  }
  void chooseColor(const EncodedColor& c) { session().tools().setColor(c); }
  void setBrush(const std::function<void(Brush&)>& change) {
    Brush b = session().tools().brush();
    change(b);
    session().tools().setBrush(b);
  }
  /// Where a point of the scene lies in the easel.
  QPoint at(const Vec3& point) {
    const auto& v = easel().viewing();
    const Vec3 q = project(v.camera, v.size, point);
    return (QPointF(q.x(), q.y()) / easel().devicePixelRatioF()).toPoint();
  }
  void pen(QEvent::Type type, const QPoint& position, double pressure, bool eraser = false) {
    static const QPointingDevice stylus("pen", 7001, QInputDevice::DeviceType::Stylus,
                                        QPointingDevice::PointerType::Pen, QInputDevice::Capability::Pressure,
                                        1, 1);
    static const QPointingDevice rubber("eraser", 7002, QInputDevice::DeviceType::Stylus,
                                        QPointingDevice::PointerType::Eraser,
                                        QInputDevice::Capability::Pressure, 1, 1);
    const bool up = type == QEvent::TabletRelease;
    QTabletEvent event(type, eraser ? &rubber : &stylus, position, easel().mapToGlobal(position), pressure,
                       10, -5, 0, 0, 0, Qt::NoModifier,
                       type == QEvent::TabletMove ? Qt::NoButton : Qt::LeftButton,
                       up ? Qt::NoButton : Qt::LeftButton);
    QCoreApplication::sendEvent(&easel(), &event);
  }
  void penStroke(const std::vector<std::pair<QPoint, double>>& points, bool eraser = false) {
    pen(QEvent::TabletPress, points.front().first, points.front().second, eraser);
    for (size_t i = 1; i < points.size(); ++i)
      pen(QEvent::TabletMove, points[i].first, points[i].second, eraser);
    pen(QEvent::TabletRelease, points.back().first, 0, eraser);
    settle();
  }
  /// Moves the mouse over a place so that the brush ring and the readings show.
  void hover(const QPoint& p) {
    QMouseEvent move(QEvent::MouseMove, p, easel().mapToGlobal(p), Qt::NoButton, Qt::NoButton, {});
    QCoreApplication::sendEvent(&easel(), &move);
    settle();
  }
  void mouseStroke(const std::vector<QPoint>& points) {
    QTest::mousePress(&easel(), Qt::LeftButton, {}, points.front());
    for (const QPoint& p : points) {
      QMouseEvent move(QEvent::MouseMove, p, easel().mapToGlobal(p), Qt::NoButton, Qt::LeftButton, {});
      QCoreApplication::sendEvent(&easel(), &move);
    }
    QTest::mouseRelease(&easel(), Qt::LeftButton, {}, points.back());
    settle();
  }
  const ColorField& painted() { return *layerOf(document(), document().activeLayer)->source->painted(); }
  Rgba16 colorNear(const Vec3& p) { return colorAt(painted(), *nearestSample(*document().surface, p, 1e6f)); }
  /// How many pixels of the settled easel differ from what the core computes for the document.
  int wrongPixels() {
    const QImage shown = picture();
    const app::Viewing& v = easel().viewing();
    const auto expected = stillOf(
        document(), {v.camera, v.size, v.view, app::lightIn(v), v.background, {}, {}, false, v.channel});
    if (shown.width() != v.size.width || shown.height() != v.size.height) return -1;
    int wrong = 0;
    for (int y = 0; y < shown.height(); ++y)
      for (int x = 0; x < shown.width(); ++x)
        wrong +=
            (shown.pixel(x, y) | 0xff000000u) !=
            (*expected)[static_cast<size_t>(y) * static_cast<size_t>(v.size.width) + static_cast<size_t>(x)];
    return wrong;
  }
  /// Answers the next message box by the text of a button; what it said ends up in `said`.
  void answerWith(const QString& button) {
    auto* timer = new QTimer(&window);
    QObject::connect(timer, &QTimer::timeout, &window, [this, timer, button] {
      for (QWidget* w : QApplication::topLevelWidgets()) {
        auto* box = qobject_cast<QMessageBox*>(w);
        if (!box || !box->isVisible()) continue;
        said = box->text() + "\n" + box->informativeText();
        timer->stop();
        timer->deleteLater();
        for (QAbstractButton* b : box->buttons())
          if (b->text().remove('&') == button) return b->click();
        return box->reject();
      }
    });
    timer->start(20);
  }

  // without a window manager nobody else gives the focus
  void activate() {
    for (int i = 0; i < 50 && QGuiApplication::focusWindow() != window.windowHandle(); ++i) {
      window.windowHandle()->requestActivate();
      QTest::qWait(20);
    }
  }

  app::MainWindow window;
  QString said;

 private:
  void show() {
    window.setAsksHowItStands(false);
    window.show();
    (void)QTest::qWaitForWindowExposed(&window);
    activate();
  }
  Folder folder_;
  std::filesystem::path file_;
};

}  // namespace juvenor::test
