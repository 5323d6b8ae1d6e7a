// The two kinds of label panels are made of.
#pragma once

#include <QLabel>

namespace juvenor::app {

inline QLabel* titleLabel(const QString& text) {
  auto* label = new QLabel(text);
  label->setProperty("title", true);
  return label;
}

/// Small and quiet, as long as it needs.
inline QLabel* quietLabel(const QString& text) {
  auto* label = new QLabel(text);
  label->setProperty("quiet", true);
  label->setWordWrap(true);
  return label;
}

}  // namespace juvenor::app
