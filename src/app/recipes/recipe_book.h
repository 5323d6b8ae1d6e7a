// The recipe book: skins that ship and the artist's own, by their pictures; laid on the sculpt with a press,
// made from layers with another.
#pragma once

#include <QDialog>

#include "app/session/session.h"
#include "core/recipe/recipe.h"

class QCheckBox;
class QLabel;
class QLineEdit;
class QListWidget;
class QPushButton;

namespace juvenor::app {

class RecipeBook : public QDialog {
  Q_OBJECT
 public:
  RecipeBook(Session& session, QWidget* parent);
  /// Reads the folder again.
  void refresh();

 private:
  struct Entry {
    Recipe recipe;
    std::filesystem::path file;  ///< empty: it ships
  };
  QWidget* buildDetails();
  const Entry* chosen() const;
  void showChosen();
  void lay();
  void tellMissing(const std::vector<std::string>& missing);
  void make();
  void take();
  void remove();
  void say(const QString& text, bool trouble = false);

  Session& session_;
  std::vector<Entry> entries_;
  QListWidget* list_;
  QLabel *name_, *about_, *layers_, *says_;
  QCheckBox *onPart_, *addPoints_;
  QPushButton *lay_, *make_, *remove_;
};

/// Which layers a new recipe is made of, and what it is called.
class RecipeLayers : public QDialog {
  Q_OBJECT
 public:
  RecipeLayers(const Document& document, QWidget* parent);
  std::vector<uint32_t> layers() const;
  std::string name() const;
  std::string about() const;

 private:
  QListWidget* list_;
  QLineEdit *name_, *about_;
};

}  // namespace juvenor::app
