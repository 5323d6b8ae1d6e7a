// Lines of one's own among the maps, and what a line would hold, shown in the sheet.
#include <QInputDialog>
#include <QMenu>
#include <QPushButton>

#include "app/stage/map_list.h"
#include "app/stage/map_previews.h"
#include "app/stage/maps_page.h"

namespace juvenor::app {

void MapsPage::offerLines() {
  if (!session_.isOpen()) return;
  QMenu menu(this);
  const auto offer = [&](QMenu* where, const Layer& layer, const char* kind, const QString& name) {
    const std::string text = kind + std::to_string(layer.id);
    where->addAction(QString::fromStdString(layer.name), this,
                     [this, text, name] { list_->add(text, name); });
  };
  QMenu *layers = menu.addMenu(tr("A layer with its alpha")),
        *masks = menu.addMenu(tr("The mask of a layer"));
  for (const LayerPointer& one : session_.document().layers) {
    const Layer& layer = *one;
    const QString name = QString::fromStdString(layer.name);
    offer(layers, layer, "layer:", tr("Layer “%1”").arg(name));
    if (layer.mask || !layer.terms.empty()) offer(masks, layer, "mask:", tr("Mask of “%1”").arg(name));
  }
  layers->setEnabled(!layers->isEmpty());
  masks->setEnabled(!masks->isEmpty());
  menu.addAction(tr("Up to four in one …"), this, [this] {
    const QString text = QInputDialog::getText(
        this, tr("Up to four maps in one picture"),
        tr("Maps of one value each, red, green, blue and alpha in this order, with + between:\n"
           "roughness, gloss, metal, height, occlusion, cavity, thickness, melanin, blood, mask:3 …"),
        QLineEdit::Normal, "roughness+metal+occlusion");
    if (text.trimmed().isEmpty()) return;
    const auto wish = textureWishFrom(text.trimmed().toStdString(), 1);
    if (!wish) return session_.tell(wish.error());
    list_->add(textOf(*wish), QString::fromStdString(textOf(*wish)));
  });
  auto* button = findChild<QPushButton*>("another map");
  menu.exec(button->mapToGlobal(QPoint(0, button->height())));
}

void MapsPage::preview(const TextureWish& map, const QString& name) {
  if (!session_.isOpen()) return;
  if (session_.document().sculpt->uvSets.empty())
    return session_.say(tr("The sculpt has no UVs: Sculpt ▸ Unwrap makes them."), true);
  session_.settleStrokes();
  const auto made = std::make_shared<QImage>();
  const int tile = tile_ ? tile_() : 1001;
  // surface maps have usual scales for a skin of this size
  const auto sized = textureWishFrom(textOf(map), session_.document().surface->bounds.diagonal());
  if (!sized) return session_.tell(sized.error());
  previewing_.start(
      tr("A preview of %1").arg(name),
      [document = session_.document(), wish = *sized, set = session_.uvSet(), tile,
       made](const Progress& p) -> Outcome {
        return caught([&]() -> Outcome {
          auto picture = previewOf(document, wish, set, tile, p);
          if (!picture) return picture.error();
          *made = std::move(*picture);
          return Done{};
        });
      },
      [this, made, tile, name](const Outcome& done) {
        if (!done) return isCancelled(done.error()) ? void() : session_.tell(done.error());
        emit previewed(
            *made, tile,
            tr("Preview of %1 at %2 pixels; a click shows the skin again").arg(name).arg(made->width()));
      });
}

}  // namespace juvenor::app
