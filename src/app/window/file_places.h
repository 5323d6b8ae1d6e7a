// Where the window's file dialogs begin.
#pragma once

#include "app/session/session.h"

namespace juvenor::app {

std::filesystem::path pathOf(const QString& file);

/// "*.obj *.ply": of file endings, as file dialogs have them.
QString patterns(const std::vector<std::string>& endings);

/// The artist's documents; his home where there is no such folder.
QString documentsFolder();
/// Beside the work that is open, else beside what was used last, else among the artist's documents.
QString placeFor(const Session& session, const QString& name = {});

}  // namespace juvenor::app
