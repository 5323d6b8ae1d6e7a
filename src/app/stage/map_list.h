// The texture maps one can tick, each with a small picture of what it would hold, what its file is called
// after and how deep it is kept.
#pragma once

#include <QImage>
#include <QWidget>
#include <vector>

#include "core/textures/hand_on.h"

class QCheckBox;
class QLabel;
class QToolButton;

namespace juvenor::app {

class MapList : public QWidget {
  Q_OBJECT
 public:
  explicit MapList(QWidget* parent = nullptr);

  /// Those that are ticked; surface maps have usual scales for a skin of this size.
  std::vector<WishedMap> wished(float diagonal) const;
  /// All there are, in the order of their rows.
  static std::vector<TextureWish> offered(float diagonal);
  /// Ticks these alone.
  void tick(const std::vector<WishedMap>& maps);
  /// What can be kept changes with the format.
  void setFormat(MapFormat format);
  /// One for each row; null: nothing is known of it.
  void showPictures(const std::vector<QImage>& pictures);

 signals:
  void changed();

 private:
  struct Row {
    QCheckBox* tick;
    QLabel* picture;
    QToolButton* depth;
    MapDepth kept;
  };
  void offerDepths(Row& row);

  MapFormat format_ = MapFormat::Png;
  std::vector<Row> rows_;
};

}  // namespace juvenor::app
