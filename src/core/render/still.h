// A finished picture of a document in one call: what the easel shows once it has settled. For stills from the
// shell, pictures on the first page, and tests.
#pragma once

#include "core/document/document.h"
#include "core/render/edge_average.h"
#include "core/render/shown_scene.h"
#include "core/render/value_check.h"

namespace juvenor {

struct StillSetting {
  Camera camera;
  ViewSize size{1280, 800};
  View view = View::Skin;
  Light light;
  uint32_t background = 0xff6c6c6c;  ///< 0xAARRGGBB
  ValueCheck check;                  ///< for View::Value
  std::optional<MaskTerm> map;       ///< shown instead of colours
  bool lines = false;                ///< the sculpt's polygon edges over it
  ChannelLook channel = {};          ///< for View::Channel
};

/// What shading a still of a surface starts from; `lit` is not needed for Flat and Value.
ShadeInput shadeInputOf(const Surface& surface, const ChannelFields& skin, std::span<const LitSample> lit,
                        const StillSetting& setting);

/// width × height pixels, 0xAARRGGBB, sRGB-encoded.
Result<std::vector<uint32_t>> stillOf(const Document& document, const StillSetting& setting,
                                      const Progress& progress = {});

/// All of a document a little from the side, where forms read best: pictures of recipes, tiles of sheets.
Result<std::vector<uint32_t>> portraitOf(const Document& document, const ViewSize& size);

/// Points around the parts that are shown, or around one part, for framing: the samples, or of many the
/// corners of their boxes. Takes no more than a millisecond or two at 8 million.
std::vector<Vec3> shownPoints(const Document& document, uint32_t part = kNone);

}  // namespace juvenor
