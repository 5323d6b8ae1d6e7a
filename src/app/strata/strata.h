// The layer panel as a cut through skin: three bands whose borders get wavier with depth, a row per layer.
#pragma once

#include <QImage>
#include <QMap>
#include <QWidget>

#include "app/session/session.h"

class QComboBox;
class QLineEdit;
class QPushButton;
class QScrollArea;

namespace juvenor::app {

/// The bands and rows themselves; scrolls inside the panel.
class StrataRows : public QWidget {
  Q_OBJECT
 public:
  explicit StrataRows(Session& session);
  void refresh();
  /// Where the layer that is painted on lies; empty when there is none.
  QRect activeRect() const;

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
  struct Row {
    uint32_t layer;
    QRect rect;
  };
  struct Band {
    Stratum stratum;
    QRect rect;
  };
  void layOut();
  void drawBand(QPainter& painter, const Band& band) const;
  void drawRow(QPainter& painter, const Row& row);
  const Row* rowAt(const QPoint& position) const;
  QRect opacityRect(const Row& row) const;
  void setOpacityAt(const Row& row, int x, bool final);
  void drop(const QPoint& position);
  void typeOver(const QRect& place, const QString& before, const std::function<void(const QString&)>& done);
  void rename(const Row& row);
  void show(const LayerPointer& layer);
  void stepOpacity(const Layer& layer, float by);
  void move(const Layer& layer, int up);
  QString words() const;
  void typeOpacity(const Row& row);

  Session& session_;
  QMap<uint32_t, QImage> thumbnails_;
  QMap<uint32_t, QString> troubles_,
      notes_;  ///< why layers show nothing though they should; what to know of others
  std::vector<Row> rows_;
  std::vector<Band> bands_;
  uint32_t pressed_ = 0, dragged_ = 0;
  bool sliding_ = false;
  float slidingOpacity_ = 1;
  QPoint pressPosition_, dragPosition_;
};

class Strata : public QWidget {
  Q_OBJECT
 public:
  explicit Strata(Session& session);

 signals:
  /// A layer was added whose look is made by its settings.
  void settingsWanted();

 private:
  void refresh();
  void showActive();
  void menu(uint32_t layer, const QPoint& globalPosition);
  void addCard();
  void addLayer(const SourceKind* kind, Stratum stratum);

  Session& session_;
  StrataRows* rows_;
  QScrollArea* scroll_;
  uint32_t shown_ = 0;  ///< the active layer that was scrolled to last
  QComboBox* blend_;
  QPushButton* add_;
};

}  // namespace juvenor::app
