// Maps from files onto the skin.
#include "core/textures/bring_maps.h"

#include <QCheckBox>
#include <QFileDialog>
#include <QFileInfo>
#include <QSettings>

#include "app/controls/labels.h"
#include "app/session/job.h"
#include "app/stage/maps_page.h"
#include "app/style/style.h"

namespace juvenor::app {

void MapsPage::chooseMaps() {
  QSettings settings;
  const QStringList files =
      QFileDialog::getOpenFileNames(this, tr("Texture maps"), settings.value("maps folder").toString(),
                                    tr("Pictures (*.png *.tif *.tiff *.exr *.jpg *.jpeg *.webp)"));
  if (!files.isEmpty()) bring(files);
}

void MapsPage::bring(const QStringList& files) {
  if (!session_.isOpen()) return;
  session_.settleStrokes();
  std::map<BringAs, BroughtMap> maps;
  for (const QString& file : files) {
    const std::filesystem::path path = file.toStdString();
    BroughtMap map;
    map.as = bringAsByName(path.filename().string());
    map.tiles = tilesBeside(path);
    map.heightRange = heightRangeBeside(path).value_or(1.f);
    map.greenUp = !down_->isChecked();
    maps.emplace(map.as, std::move(map));
  }
  std::vector<BroughtMap> list;
  for (auto& [as, map] : maps) list.push_back(std::move(map));
  const QString name = QFileInfo(files.front()).completeBaseName();
  const Document document = session_.document();
  const size_t set = session_.uvSet();
  const auto brought = runJobFor<Brought>(window(), tr("Bringing the maps …"), [&](const Progress& p) {
    return withMaps(document, set, list, name.toStdString(), p);
  });
  if (!brought) return session_.tell(brought.error());
  session_.apply(brought->document, "Bring maps");
  QString said = tr("Brought maps: %1, as one layer.").arg(list.size());
  const double mm = static_cast<double>(document.placement.millimetres);
  if (brought->texelsAPoint > 1.5f)
    said +=
        " " + tr("Their texels are %1 times finer than the points: Add points down to %2 mm keeps them all.")
                  .arg(static_cast<double>(brought->texelsAPoint), 0, 'f', 1)
                  .arg(static_cast<double>(brought->texelSpacing) * mm, 0, 'g', 2);
  if (brought->bare > 0) said += " " + tr("Points no tile covers: %1.").arg(shortCount(brought->bare));
  session_.say(said);
}

}  // namespace juvenor::app
