// The bands and rows themselves; they scroll inside the panel.
#pragma once

#include <QImage>
#include <QMap>
#include <QWidget>
#include <functional>

#include "app/session/session.h"
#include "app/strata/strata_list.h"

namespace juvenor::app {

class StrataRows : public QWidget {
  Q_OBJECT
 public:
  explicit StrataRows(Session& session);
  void refresh();
  void setDense(bool dense);
  bool dense() const { return dense_; }
  /// Lists only rows whose name or kind has it.
  void setFind(const QString& text);
  /// Where the layer that is painted on lies; empty when there is none, or it is not listed.
  QRect activeRect() const { return rectOf(session_.document().activeLayer); }
  QRect rectOf(uint32_t layer) const;
  /// How high all rows are.
  int listHeight() const { return list_.height; }

 signals:
  void menuWanted(uint32_t layer, const QPoint& globalPosition);

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void contextMenuEvent(QContextMenuEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  bool event(QEvent* event) override;

 private:
  void layOut();
  void drawBand(QPainter& painter, const StrataBand& band) const;
  void draw(QPainter& painter, const StrataRow& row);
  void drawDrop(QPainter& painter) const;
  void choose(const StrataRow& row, Qt::KeyboardModifiers modifiers);
  bool isChosen(uint32_t layer) const;
  /// The chosen ones when the layer is one of them, else it alone.
  std::vector<uint32_t> meant(uint32_t layer) const;
  void showAlone(uint32_t layer);
  void show(uint32_t layer);
  void setOpacityAt(const StrataRow& row, int x, bool final);
  void drop(const QPoint& position);
  void typeOver(const QRect& place, const QString& before, const std::function<void(const QString&)>& done);
  void rename(const StrataRow& row);
  void typeOpacity(const StrataRow& row);
  void stepOpacity(const Layer& layer, float by);
  void move(const Layer& layer, int up);
  QString words() const;
  QString help(const QPoint& position) const;

  Session& session_;
  QMap<uint32_t, QImage> thumbnails_;
  /// Why layers show nothing though they should; what to know of others.
  QMap<uint32_t, QString> troubles_, notes_;
  StrataList list_;
  bool dense_ = false;
  QString find_;
  uint32_t pressed_ = 0, dragged_ = 0;
  uint32_t range_ = 0;  ///< where a stretch of rows that is chosen with Shift begins
  bool sliding_ = false;
  float slidingOpacity_ = 1;
  QPoint pressPosition_, dragPosition_;
};

}  // namespace juvenor::app
