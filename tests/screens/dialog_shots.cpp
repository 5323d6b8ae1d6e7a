#include "screens/dialog_shots.h"

#include <QLabel>
#include <QPushButton>

#include "app/carry/carry_dialog.h"
#include "app/window/export_dialog.h"
#include "app/window/placement_dialog.h"
#include "app/window/refine_dialog.h"
#include "core/document/edits/edit_parts.h"
#include "core/textures/unwrap.h"
#include "demo/demo.h"
#include "screens/shots.h"

namespace juvenor::screens {
namespace {

QPixmap shown(QDialog&& dialog) {
  dialog.show();
  const QPixmap out = dialog.grab();
  dialog.close();
  return out;
}

// A keeper with UVs: the Finish stage's page, a part made of what lies left of a line, and his work on the
// older head.
struct OfKeeper {
  QPixmap maps, parts, carrying;
};
OfKeeper ofKeeper() {
  Sculpt sculpt = *demo::makeSculpt(demo::Figure::Keeper, 60'000);
  sculpt.uvSets.push_back(unwrapped(sculpt, {})->set);
  const auto shared = std::make_shared<const Sculpt>(std::move(sculpt));
  test::DrivenWindow w(*shared);
  w.window.resize(1280, 800);
  w.session().take(History(*demo::dressed(demo::Figure::Keeper, shared, *buildSurface(*shared)), "Demo"),
                   "river-keeper");
  w.window.side().show(app::SideColumn::Page::Stage);
  w.window.side().stage().goTo(app::kFinishStage);
  w.settleFully();
  auto* facts = w.window.findChild<QLabel*>("map facts");
  for (int i = 0; i < 1000 && !facts->text().contains("px a mm"); ++i) QTest::qWait(20);
  QTest::qWait(500);
  OfKeeper out;
  out.maps = w.window.side().grab();
  app::CarryDialog carrying(
      w.document(), std::make_shared<const Sculpt>(*demo::makeSculpt(demo::Figure::OlderKeeper, 60'000)),
      "ferry-keeper-older.ply", &w.window);
  carrying.resize(1040, 720);
  carrying.show();
  auto* accept = carrying.findChild<QPushButton*>("carry over");
  for (int i = 0; i < 1500 && accept && !accept->isEnabled(); ++i) QTest::qWait(20);
  auto* says = carrying.findChild<QLabel*>("outcome");
  for (int i = 0; i < 3000 && says->text().contains("anew"); ++i) QTest::qWait(20);
  QTest::qWait(1500);
  out.carrying = carrying.grab();
  carrying.reject();
  ScalarField ears(w.document().surface->size(), {0});
  for (size_t c = 0; c < ears.chunkCount(); ++c) {
    auto chunk = ears.writable(c);
    for (size_t s = c * kChunkSize; s < std::min(ears.size(), (c + 1) * kChunkSize); ++s)
      if (std::abs(w.document().surface->positions[s].x()) > 78 && w.document().surface->positions[s].y() > 0)
        chunk->plane[0][s % kChunkSize] = 65535;
    ears.setChunk(c, chunk);
  }
  w.session().apply(withPartWhere(w.document(), ears, "Ears"), "Part");
  w.window.side().show(app::SideColumn::Page::Parts);
  w.settle();
  out.parts = w.window.side().grab(QRect(0, 0, w.window.side().width(), 260));
  return out;
}

}  // namespace

void showDialogs(test::DrivenWindow& w, const QString& file) {
  const QPixmap exporting =
      shown(app::ExportDialog(w.document(), w.session().title(), w.session().path(), &w.window));
  const QPixmap points = shown(app::RefineDialog(w.document(), kNone, &w.window));
  const QPixmap standing = shown(
      app::PlacementDialog(w.session().engine().rays(), w.document().placement, "mud-elder.obj", &w.window));
  const OfKeeper keeper = ofKeeper();
  keep(above(beside({standing, points, exporting}), beside({keeper.carrying, keeper.parts, keeper.maps})),
       file);
}

}  // namespace juvenor::screens
