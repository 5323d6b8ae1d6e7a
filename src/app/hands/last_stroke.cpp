#include "app/hands/last_stroke.h"

#include "core/pen/pen_path.h"

namespace juvenor::app {

bool repeat(Session& session, const LastStroke& stroke, const BeforeSkin& before) {
  if (stroke.points.empty()) {
    session.say(Session::tr("There is no stroke to repeat yet."), true);
    return false;
  }
  StrokeSetting setting = session.strokeSetting(false);
  setting.stencil = before.stencil;
  setting.slide = before.slide;
  // it is laid where it was: what was cut away then is now
  if (!stroke.sheet) setting.cutAway = cutAwayBy(stroke.camera);
  return session.edit(Session::tr("Repeat stroke"),
                      [setting, stroke](const Document& d, const Progress&) -> Result<Document> {
                        const auto rays = d.maps->rays();
                        if (!rays) return rays.error();
                        Flood flood;
                        auto again = PaintStroke::begin(d, setting, flood);
                        if (!again) return again.error();
                        const bool onSheet = stroke.sheet && stroke.sheet->skin == d.surface;
                        if (stroke.sheet && !onSheet) return Error{"it was drawn on a sheet of other points"};
                        const Eye eye{rays->get(), onSheet ? stroke.sheet->rays.get() : nullptr,
                                      stroke.camera, stroke.size, d.hiddenParts};
                        PenPath path(eye, setting.brush);
                        for (const PenPoint& point : stroke.points) path.move(point, (*again)->stroke());
                        path.finish((*again)->stroke());
                        (*again)->stroke().end();
                        return (*again)->finish();
                      });
}

}  // namespace juvenor::app
