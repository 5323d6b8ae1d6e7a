// The texture maps one can tick, each with a small picture of what it would hold, what its file is called
// after and how deep it is kept. Lines of one's own come below: layers, masks, packings.
#pragma once

#include <QImage>
#include <QWidget>
#include <deque>
#include <vector>

#include "core/textures/hand_on.h"

class QCheckBox;
class QGridLayout;
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
  /// One more line, ticked; `text` as scripts have it. It can be taken away again.
  void add(const std::string& text, const QString& name);
  /// Takes all lines away that were added.
  void forgetAdded();
  /// Ticks these alone.
  void tick(const std::vector<WishedMap>& maps);
  /// What can be kept changes with the format.
  void setFormat(MapFormat format);
  /// One for each row; null: nothing is known of it.
  void showPictures(const std::vector<QImage>& pictures);

 signals:
  void changed();
  /// A line's picture was clicked.
  void previewWanted(const juvenor::TextureWish& map, const QString& name);

 private:
  struct Row {
    std::string text;
    QCheckBox* tick;
    QToolButton *picture, *depth;
    MapDepth kept;
    bool added;
  };
  Row& build(const std::string& text, const QString& name, const QString& tip, bool added);
  void offerDepths(Row& row);
  void remove(const std::string& text);

  MapFormat format_ = MapFormat::Png;
  QGridLayout* grid_;
  std::deque<Row> rows_;  ///< (each stays where it is)
};

}  // namespace juvenor::app
