// The column beside the easel: the stage, the active layer, the board, or parts and history; one at a time.
#pragma once

#include <QWidget>

#include "app/board/board.h"
#include "app/stage/stage.h"

class QButtonGroup;
class QStackedWidget;

namespace juvenor::app {

class SideColumn : public QWidget {
  Q_OBJECT
 public:
  enum class Page { Stage, Layer, Board, Parts, Past };
  SideColumn(Session& session, Easel& easel);

  void show(Page page);
  Stage& stage() { return *stage_; }
  Board& board() { return *board_; }

 signals:
  /// A part is to be written to a file of its own.
  void partWanted(uint32_t part);

 private:
  void hang(uint32_t picture);

  Session& session_;
  QStackedWidget* pages_;
  QButtonGroup* tabs_;
  Stage* stage_;
  Board* board_;
};

}  // namespace juvenor::app
