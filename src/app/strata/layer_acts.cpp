#include "app/strata/layer_acts.h"

#include <QCoreApplication>

#include "core/document/edits/edit_groups.h"
#include "core/layers/group.h"
#include "core/layers/nesting.h"

namespace juvenor::app {
namespace {

struct Acts {
  Q_DECLARE_TR_FUNCTIONS(LayerActs)

 public:
  using Ids = std::vector<uint32_t>;

  explicit Acts(Session& s) : session(s), ids(s.chosenLayers()) {}

  Session& session;
  Ids ids;
  std::vector<LayerAct> out;

  uint32_t active() const { return session.document().activeLayer; }
  // An edit of all that are chosen, worked out beside the window.
  template <class Edit>
  void add(int section, const char* key, const QString& label, const QString& step, Edit edit,
           const QKeySequence& shortcut = {}) {
    Session* s = &session;
    out.push_back({key, label,
                   [s, step, edit, chosen = ids] {
                     s->edit(step, [&](const Document& d, const Progress&) { return edit(d, chosen); });
                   },
                   section, true, std::nullopt, shortcut});
  }
  LayerAct& last() { return out.back(); }

  void stack(const Layer& layer);
  void groups(const Layer& layer);
  void masks(const Layer& layer);
  void moveMask(const Layer& layer);
  void maskFromAreas(const Layer& layer);
  void liveMask(const Layer& layer);
  void ends(const Layer& layer);
};

void Acts::stack(const Layer& layer) {
  add(
      0, "duplicate", tr("Duplicate"), tr("Duplicate layer"),
      [](const Document& d, const Ids& chosen) { return withDuplicates(d, chosen); }, QKeySequence("Ctrl+D"));
  if (ids.size() > 1)
    add(0, "merge", tr("Merge %1 layers").arg(ids.size()), tr("Merge layers"),
        [](const Document& d, const Ids& chosen) { return withMerged(d, chosen); });
  else if (isGroup(layer))
    add(0, "merge", tr("Merge the group"), tr("Merge group"),
        [](const Document& d, const Ids& chosen) { return withMerged(d, chosen); });
  if (ids.size() == 1)
    add(0, "merge down", tr("Merge down"), tr("Merge down"),
        [](const Document& d, const Ids& chosen) { return withMergedDown(d, chosen[0]); });
  add(0, "merge visible", tr("Merge all that is seen"), tr("Merge all that is seen"),
      [name = tr("Merged").toStdString()](const Document& d, const Ids&) {
        return withMergedVisible(d, name);
      });
}

void Acts::groups(const Layer& layer) {
  const Document& d = session.document();
  add(
      1, "group", tr("Put in a group"), tr("Group layers"),
      [name = tr("Group").toStdString()](const Document& x, const Ids& chosen) {
        return withGroup(x, chosen, name);
      },
      QKeySequence("Ctrl+G"));
  if (isGroup(layer)) {
    add(
        1, "ungroup", tr("Take the group apart"), tr("Take group apart"),
        [](const Document& x, const Ids& chosen) { return withoutGroup(x, chosen.back()); },
        QKeySequence("Ctrl+Shift+G"));
    const bool passes = groupOf(*layer.source)->passes;
    add(1, "passes", tr("Passes through"), passes ? tr("Group by itself") : tr("Group passes through"),
        [passes, id = layer.id](const Document& x, const Ids&) {
          LayerChange change;
          change.passes = !passes;
          return withLayerChanged(x, id, change);
        });
    last().checked = passes;
  }
  const bool clipped = layer.clipped;
  add(
      1, "clipped", tr("Only on the layer below"),
      clipped ? tr("Show everywhere") : tr("Show only on the layer below"),
      [clipped](const Document& x, const Ids& chosen) {
        Result<Document> next = x;
        for (const uint32_t id : chosen)
          if (next) next = withClipped(*next, id, !clipped);
        return next;
      },
      QKeySequence("Ctrl+B"));
  last().checked = clipped;
  last().may = clipped || withClipped(d, layer.id, true);
  const bool alone = session.aloneLayer() == layer.id;
  Session* s = &session;
  out.push_back({"alone", tr("Show alone"),
                 [s, alone, id = layer.id] { alone ? s->endAlone() : s->showAlone(id); }, 1, true, alone,
                 QKeySequence("Ctrl+J")});
}

void Acts::masks(const Layer& layer) {
  const uint32_t id = layer.id;
  if (layer.mask) {
    add(2, "invert mask", tr("Invert mask"), tr("Invert mask"),
        [id](const Document& d, const Ids&) { return withInvertedMask(d, id); });
    add(2, "remove mask", tr("Remove mask"), tr("Remove mask"),
        [id](const Document& d, const Ids&) { return withoutMask(d, id); });
  } else {
    add(2, "add mask", tr("Add mask"), tr("Add mask"),
        [id](const Document& d, const Ids&) { return withMask(d, id); });
  }
  Session* s = &session;
  const bool any = layer.mask || !layer.terms.empty();
  if (any || layer.maskFrom != 0) {
    LayerChange off;
    off.maskOff = !layer.maskOff;
    add(2, "mask off", tr("Mask hides nothing for now"), layer.maskOff ? tr("Mask on") : tr("Mask off"),
        [off](const Document& d, const Ids& chosen) { return withLayersChanged(d, chosen, off); });
    last().checked = layer.maskOff;
  }
  if (any) moveMask(layer);
  maskFromAreas(layer);
  if (any) out.push_back({"copy mask", tr("Copy mask"), [s, id] { s->holdMask(id); }, 2});
  if (const CopiedMask* held = session.heldMask())
    add(2, "paste mask", tr("Lay the copied mask here"), tr("Copy mask"),
        [mask = *held](const Document& d, const Ids& chosen) { return withCopiedMask(d, mask, chosen); });
  liveMask(layer);
}

void Acts::moveMask(const Layer& layer) {
  LayerAct menu{"move mask", tr("Move mask to"), {}, 2};
  Session* s = &session;
  const auto& layers = session.document().layers;
  for (size_t i = layers.size(); i-- > 0;)
    if (layers[i]->id != layer.id)
      menu.more.push_back(
          {"", QString::fromStdString(layers[i]->name), [s, from = layer.id, to = layers[i]->id] {
             s->settleStrokes();
             s->apply(withMovedMask(s->document(), from, to), tr("Move mask"));
           }});
  menu.may = !menu.more.empty();
  out.push_back(std::move(menu));
}

// What areas of a layer reach, laid down as a mask.
void Acts::maskFromAreas(const Layer& layer) {
  LayerAct menu{"mask from areas", tr("Mask from areas of"), {}, 2};
  Session* s = &session;
  const auto& layers = session.document().layers;
  for (size_t i = layers.size(); i-- > 0;)
    if (const ZoneSet* areas = layers[i]->source->zones(); areas && !areas->zones.empty())
      menu.more.push_back(
          {"", QString::fromStdString(layers[i]->name), [s, id = layer.id, from = layers[i]->id] {
             s->settleStrokes();
             s->apply(withMaskFromAreas(s->document(), id, from), tr("Mask from areas"));
           }});
  menu.may = !menu.more.empty();
  if (menu.may) out.push_back(std::move(menu));
}

// Every layer whose cover does not follow from this one.
void Acts::liveMask(const Layer& layer) {
  const Document& d = session.document();
  LayerAct menu{"live mask", tr("Only where another covers"), {}, 2};
  Session* s = &session;
  const auto choose = [&](const QString& label, uint32_t from) {
    LayerAct act{"", label, [s, from, id = layer.id] {
                   s->settleStrokes();
                   s->apply(withMaskFrom(s->document(), id, from),
                            from == 0 ? tr("No mask from another layer") : tr("Mask from another layer"));
                 }};
    act.checked = layer.maskFrom == from;
    menu.more.push_back(std::move(act));
  };
  choose(tr("Everywhere"), 0);
  for (size_t i = d.layers.size(); i-- > 0;)
    if (!coverFollowsFrom(d.layers, i, placeOf(d, layer.id)))
      choose(QString::fromStdString(d.layers[i]->name), d.layers[i]->id);
  menu.may = menu.more.size() > 1;
  out.push_back(std::move(menu));
}

void Acts::ends(const Layer& layer) {
  const auto change = [this](const char* key, const QString& label, const QString& step,
                             const LayerChange& what) {
    add(2, key, label, step,
        [what](const Document& d, const Ids& chosen) { return withLayersChanged(d, chosen, what); });
  };
  LayerChange lock, show;
  lock.locked = !layer.locked;
  show.visible = !layer.visible;
  if (layer.source->fields()) {
    LayerChange keep;
    keep.keepsCover = !layer.keepsCover;
    change("keeps cover", tr("Only where there is paint"),
           layer.keepsCover ? tr("Paint anywhere") : tr("Paint only where there is paint"), keep);
    last().checked = layer.keepsCover;
  }
  change("lock", tr("Locked"), layer.locked ? tr("Unlock layer") : tr("Lock layer"), lock);
  last().checked = layer.locked;
  change("show", tr("Shown"), layer.visible ? tr("Hide layer") : tr("Show layer"), show);
  last().checked = layer.visible;
  add(3, "delete", ids.size() > 1 ? tr("Delete %1 layers").arg(ids.size()) : tr("Delete"), tr("Delete layer"),
      [](const Document& d, const Ids& chosen) { return withoutLayers(d, chosen); });
}

}  // namespace

std::vector<LayerAct> layerActs(Session& session) {
  if (!session.isOpen()) return {};
  const LayerPointer layer = layerOf(session.document(), session.document().activeLayer);
  if (!layer) return {};
  Acts acts(session);
  acts.stack(*layer);
  acts.groups(*layer);
  acts.masks(*layer);
  acts.ends(*layer);
  return std::move(acts.out);
}

}  // namespace juvenor::app
