// A row of buttons of which one is down.
#pragma once

#include <QButtonGroup>
#include <QHBoxLayout>
#include <QPushButton>

namespace juvenor::app {

/// One for each name, named "NAME WORD" for tests and scripts; `group` says which is down.
inline QWidget* choiceRow(QButtonGroup* group, const QStringList& names, const QStringList& tips,
                          const QString& name) {
  auto* box = new QWidget;
  auto* row = new QHBoxLayout(box);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(2);
  for (int i = 0; i < names.size(); ++i) {
    auto* b = new QPushButton(names[i]);
    b->setObjectName(name + " " + names[i]);
    b->setToolTip(tips.value(i));
    b->setCheckable(true);
    b->setProperty("narrow", true);
    group->addButton(b, i);
    row->addWidget(b, 1);
  }
  return box;
}

}  // namespace juvenor::app
