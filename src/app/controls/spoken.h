// What a painted control tells those who do not see it: what it is, what it is set to, and how to set it to
// something else.
#pragma once

#include <QAccessible>
#include <QWidget>
#include <functional>

namespace juvenor::app {

struct Spoken {
  QAccessible::Role role = QAccessible::Slider;
  std::function<QString()> words;  ///< the value as one reads it: "60 %"
  // of what is one number alone; unset otherwise
  std::function<double()> number = {};
  std::function<void(double)> set = {};
  std::function<std::pair<double, double>()> range = {};  ///< lowest and highest
};

/// From now on the widget says this of itself, beside its name; said again it takes the place of what was.
void speak(QWidget* widget, Spoken spoken);
/// Says that the value is another one.
void tellValue(QWidget* widget);

}  // namespace juvenor::app
