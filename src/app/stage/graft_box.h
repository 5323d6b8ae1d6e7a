// The box of grafts: those taken last by their pictures, all of them in a menu; one that is chosen is in
// hand.
#pragma once

#include <QWidget>

#include "app/easel/easel.h"

class QGridLayout;
class QLabel;

namespace juvenor::app {

/// Takes a graft in hand: to be placed as a stamp, in the channels and at the size and height it was taken.
void takeInHand(Session& session, const Graft& graft);

class GraftBox : public QWidget {
  Q_OBJECT
 public:
  GraftBox(Session& session, Easel& easel);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  struct Entry {
    std::filesystem::path file;
    std::filesystem::file_time_type time;
    QImage picture;  ///< null: it was not read yet, or cannot be
  };
  void look();
  void list();
  void choose(const std::filesystem::path& file);
  void showAll();

  Session& session_;
  QGridLayout* row_;
  QLabel* empty_;
  std::vector<Entry> entries_;  ///< newest first
  Background reading_, choosing_;
};

}  // namespace juvenor::app
