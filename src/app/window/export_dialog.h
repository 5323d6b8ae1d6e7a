// Handing the coloured sculpt on: which format, what each one holds, and where it goes.
#pragma once

#include <QDialog>
#include <filesystem>

#include "core/export/refined_sculpt.h"

class QCheckBox;
class QLineEdit;

namespace juvenor::app {

class ExportDialog : public QDialog {
  Q_OBJECT
 public:
  /// Suggests a file named `title` beside `saved`, the document's own file, if it has one.
  ExportDialog(const Document& document, const QString& title, const std::filesystem::path& saved,
               QWidget* parent);
  /// The chosen file, with the ending of the chosen format.
  QString file() const;
  /// Whether a copy with the relief applied is wanted, and the points that were added.
  ColouredSetting setting() const;

 private:
  void choose(int format);
  void browse();

  int format_ = 0;
  QString suggested_;  ///< while nobody changed it
  QLineEdit* path_;
  QCheckBox *relief_, *points_, *parts_;
};

}  // namespace juvenor::app
