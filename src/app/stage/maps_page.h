// The Finish stage's Maps: which texture maps, for which mesh, how fine; what would go wrong is told before
// it costs an hour.
#pragma once

#include <QWidget>
#include <memory>

#include "app/session/background.h"
#include "app/session/session.h"
#include "core/textures/hand_on.h"
#include "core/textures/uv_layout.h"

class QButtonGroup;
class QCheckBox;
class QLabel;
class QPushButton;

namespace juvenor::app {

class MapList;
class ValueSlider;

class MapsPage : public QWidget {
  Q_OBJECT
 public:
  explicit MapsPage(Session& session);
  void refresh();
  /// For a mesh in a file; an empty name: for the sculpt itself.
  void wearBy(const QString& file);
  /// Everything that is set, but where it goes.
  HandOn wish() const;
  /// Maps in files become one painted layer; what each is follows from its name. Other tiles beside them come
  /// too.
  void bring(const QStringList& files);
  /// What one looks through and lights with now, for those who want it along.
  void setViewing(std::function<Viewing()> viewing) { viewing_ = std::move(viewing); }
  /// Writes into a folder; asks before files there are replaced.
  void write(const QString& folder);
  /// Which tile is looked at in the sheet.
  void setTile(std::function<int()> tile) { tile_ = std::move(tile); }
 signals:
  /// The coloured sculpt is to be exported.
  void colouredWanted();
  /// What a map would hold in a tile of the sheet.
  void previewed(const QImage& picture, int tile, const QString& said);

 protected:
  void showEvent(QShowEvent* event) override;
  void hideEvent(QHideEvent* event) override;

 private:
  QWidget* buildFineness();
  QWidget* buildWays();
  void chooseMesh();
  void offerLines();
  void preview(const TextureWish& map, const QString& name);
  void chooseFolder();
  void again();
  void chooseMaps();
  /// Measures the layout, and makes the small pictures, where they are not of what is there.
  void look();
  void tell();
  void start(HandOn wish);
  int pixels() const;

  Session& session_;
  std::shared_ptr<const Sculpt> mesh_;  ///< another one; null: the sculpt
  std::optional<UvLayout> layout_;      ///< of the one that is meant
  const Sculpt* measured_ = nullptr;    ///< what it is of
  std::optional<HandOn> last_;
  QPushButton *for_, *write_, *again_;
  QLabel *facts_, *warning_, *estimate_;
  MapList* list_;
  QButtonGroup *sizes_, *formats_, *meshes_;
  ValueSlider *padding_, *looks_;
  QCheckBox *whole_, *relief_, *down_, *scene_, *versions_;
  std::function<Viewing()> viewing_;
  std::function<int()> tile_;
  Background reading_, looking_, previewing_, work_;
};

}  // namespace juvenor::app
