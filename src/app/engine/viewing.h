// What the viewer chose: everything that changes the picture but the document.
#pragma once

#include <memory>
#include <optional>
#include <vector>

#include "core/layers/mask_terms.h"
#include "core/render/picture.h"
#include "core/render/sheet.h"
#include "core/render/still.h"
#include "core/render/value_check.h"

namespace juvenor::app {

/// Another skin of the same surface, shown in part of the picture to compare.
struct ComparedSkin {
  std::shared_ptr<const Surface> surface;
  ChannelFields skin;
  ReliefNormals relief;
};

struct Viewing {
  Camera camera;
  ViewSize size{640, 480};
  View view = View::Skin;
  Light light;
  bool lightFollows = true;  ///< the light goes with the view; otherwise it stands still in the scene
  uint32_t background = 0xff6c6c6c;
  bool lines = false;   ///< the sculpt's polygon edges over it
  bool moving = false;  ///< the camera is being dragged: speed before resolution
  ValueCheck check;     ///< in the value view
  ChannelLook channel;  ///< in the channel view; a height of 0: what there is when it is chosen
  uint32_t own = 0;     ///< there: what this layer brings by itself, with its mask; 0: the skin
  /// What is shown on the skin in place of its colours: a map, or what the mask of `masked` (a layer, or
  /// kGuard) hides.
  std::optional<MaskTerm> map;
  OverlayLook mapLook = OverlayLook::FalseColor;
  std::optional<uint32_t> masked;
  /// In place of both, in grey how much of what lies below shows through a layer, or something else by a look
  /// of its own; null: not.
  std::shared_ptr<const ScalarField> shows;
  OverlayLook showsLook = OverlayLook::Grey;
  std::shared_ptr<const ComparedSkin> compared;         ///< left of `comparedUpTo`; null: none
  int comparedUpTo = 0;                                 ///< pixels
  std::shared_ptr<const std::vector<uint32_t>> behind;  ///< a picture of the view's size, or null
};

/// How one looks at the skin's sheet.
struct SheetViewing {
  SheetPointer sheet;    ///< null: there is none
  bool shown = false;    ///< otherwise it only serves the easel's squares
  bool squares = false;  ///< over the easel and the sheet
  Camera camera = sheetCamera();
  ViewSize size{1, 1};
  int tile = 1001;      ///< what lies beside it is darker
  bool moving = false;  ///< it is being dragged: speed before resolution
};

/// The light as it stands in the scene for a view.
Light lightIn(const Viewing& viewing);

/// A still of what is viewed, without what lies over the skin.
StillSetting stillSettingOf(const Viewing& viewing);

}  // namespace juvenor::app
