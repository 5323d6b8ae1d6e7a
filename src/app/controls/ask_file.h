// Where something is to be written: the name that will be written, ending and all, is what is asked about.
#pragma once

#include <QString>
#include <QStringList>

class QWidget;

namespace juvenor::app {

/// Asks where to, with one of the endings ("juvenor", or several for a choice: the first is given to a name
/// without one), and before a file that is there is replaced. Empty: it was not wanted after all.
QString askSaveFile(QWidget* parent, const QString& title, const QString& suggested, const QString& filter,
                    const QStringList& endings);
/// Whether a file may be written: nothing is there, or the artist says that it is to be replaced.
bool mayReplace(QWidget* parent, const QString& file);
/// The path itself, or with a number behind its name where a file is there.
QString freeName(const QString& path);

}  // namespace juvenor::app
