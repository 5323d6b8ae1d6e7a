#include "app/window/application.h"

#include "core/result.h"

namespace juvenor::app {

bool Application::notify(QObject* receiver, QEvent* event) {
  bool taken = true;  // what failed goes to nobody else
  const Outcome done = caught([&]() -> Outcome {
    taken = QApplication::notify(receiver, event);
    return Done{};
  });
  // telling it wants memory too: what fails there must not fall through either
  if (!done)
    (void)caught([&]() -> Outcome {
      emit failed(QString::fromStdString(done.error().message()));
      return Done{};
    });
  return taken;
}

}  // namespace juvenor::app

#include "moc_application.cpp"
