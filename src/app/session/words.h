// Words of the core's own tables (names of kinds, channels, maps, lights) in the artist's language: the core
// knows no translation, and tells them in English.
#pragma once

#include <QCoreApplication>
#include <QString>
#include <string>
#include <string_view>

namespace juvenor::app {

inline QString told(std::string_view word) {
  return word.empty() ? QString() : QCoreApplication::translate("Core", std::string(word).c_str());
}

}  // namespace juvenor::app
