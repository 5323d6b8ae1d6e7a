// From what the rays see to the picture on the easel, in two steps that are kept apart: visibility changes
// only with camera, surface or parts; shading changes with colour and light and can be done for any rectangle
// alone.
#pragma once

#include <memory>
#include <vector>

#include "core/layers/channels.h"
#include "core/render/cornea.h"
#include "core/render/lighting.h"
#include "core/render/tone.h"
#include "core/surface/rays/rays.h"
#include "core/surface/relief_normals.h"
#include "core/view/camera.h"
#include "core/view/look.h"

namespace juvenor {

class FibreRays;

/// A place on a segment of a fibre, or kNone; 65535 is its end.
struct FibreAt {
  uint32_t segment = kNone;
  uint16_t along = 0;
};

/// For every pixel the triangle and the weights of its samples, or kNone.
struct VisibilityImage {
  ViewSize size;
  std::vector<uint32_t> triangle;
  std::vector<std::array<uint16_t, 2>> weights;  ///< of the second and third sample, 65535 = 1
  std::vector<FibreAt> fibre;                    ///< that stands before it; empty: there is no hair

  void resize(const ViewSize& s);
};

struct PixelRect {
  int left = 0, top = 0, right = 0, bottom = 0;  ///< right and bottom are exclusive
  bool operator==(const PixelRect&) const = default;
  bool empty() const { return right <= left || bottom <= top; }
  PixelRect united(const PixelRect& o) const;
  PixelRect clipped(const ViewSize& size) const;
};

/// Casts one ray a pixel through `jitter` (0…1 within the pixel). Stops early, with false, when `stop` says
/// so.
bool castVisibility(const Rays& rays, const Camera& camera, const ViewSize& size, const Vec2& jitter,
                    const std::set<uint32_t>& hidden, VisibilityImage& out,
                    const std::function<bool()>& stop = {});
/// The same for a rectangle of the picture; elsewhere it shows nothing.
bool castVisibility(const Rays& rays, const Camera& camera, const ViewSize& size, const Vec2& jitter,
                    const std::set<uint32_t>& hidden, const PixelRect& rect, VisibilityImage& out,
                    const std::function<bool()>& stop = {});

/// The ray of a pixel (column, row), asked for on all cores and a few pixels beyond the right and lower edge
/// too.
using PixelRays = std::function<Ray(int x, int y)>;
/// The same by rays of another making: through a wide lens, or of a tile of a larger picture. Where `done` is
/// not 0 nothing is wanted any more, and nothing shown; empty: all is wanted.
bool castVisibility(const Rays& rays, const PixelRays& rayOf, const ViewSize& size,
                    const std::set<uint32_t>& hidden, std::span<const uint8_t> done, VisibilityImage& out,
                    const std::function<bool()>& stop = {});

/// What of the skin View::Channel shows.
struct ChannelLook {
  Channel channel = Channel::Gloss;  ///< Colour: as View::Flat
  bool falseColor = false;           ///< from blue over green to yellow; otherwise grey
  float height = 0;                  ///< of heights: scene units shown either way; 0: shows none
  bool operator==(const ChannelLook&) const = default;
};

/// Values shown on the skin in place of, or over, its colours.
enum class OverlayLook {
  Grey,        ///< a map as brightness
  FalseColor,  ///< a map from blue over green to yellow
  Mask,        ///< neutral stripes where a mask hides
};

/// Squares along the edge of a tile, each with its number.
inline constexpr int kSquares = 16;

/// What of the light is shown, for passes (show/passes.h): what is off is missing from the picture.
struct LightParts {
  std::array<bool, kLampCount> mirroredLamps{true, true, true, true};
  bool mirroredAround = true;  ///< surroundings, and what stands before them
  bool hair = true;            ///< off: fibres are black
  bool glow = true;
  bool wanders = true;  ///< off: light leaves the skin where it came in
};

struct ShadeInput {
  const Surface* surface = nullptr;
  const ChannelFields* skin = nullptr;    ///< as it is composited
  const ReliefNormals* relief = nullptr;  ///< the normals its relief bends; null: there is none
  std::span<const LitSample> lit;         ///< not needed for Flat, Value and Channel
  std::span<const OpenSample> open;       ///< how much of sky and lamps samples see; empty: all
  /// What samples receive before it wanders, for what it does not wander in; empty: as `lit` has it.
  std::span<const Lighting::Received::Pointer> received;
  /// When set, in place of both: each pixel is lit anew at its nearest sample.
  const Lighting* lighting = nullptr;
  const LitBy* by = nullptr;  ///< `light` ready to be used, for who shades often; null: made from it
  /// The eyes among the parts, whose irises are seen through their corneas; that takes rays.
  std::span<const Cornea> corneas;
  const Rays* rays = nullptr;
  const FibreRays* hair = nullptr;  ///< shown in View::Skin, and shades the skin; null: there is none
  uint32_t turn = 0;                ///< the number of the picture among those that are averaged
  Camera camera;
  /// How large the picture is that the pixels are a tile of: details are as fine there; unset: they are all
  /// of it.
  std::optional<ViewSize> whole;
  Light light;
  View view = View::Skin;
  LightParts parts;                  ///< of View::Skin
  ChannelLook channel;               ///< of View::Channel
  float reliefStep = 0;              ///< scene units between two heights; needed for View::Channel
  uint32_t background = 0xff6c6c6c;  ///< 0xAARRGGBB
  const ScalarField* overlay = nullptr;
  OverlayLook overlayLook = OverlayLook::Grey;
  std::span<const uint8_t> lines;  ///< PolygonLines drawn over it; empty: none
  /// The skin laid flat (sheet.h) and the camera above it, when that is what the pixels show: lines are as
  /// wide as they are seen there.
  const Surface* sheet = nullptr;
  Camera sheetCamera;
  const Surface* squares =
      nullptr;  ///< the skin laid flat: numbered squares of equal size in its layout lie over it
  std::span<const uint32_t> behind;  ///< a picture of the view's size behind the sculpt; empty: `background`
};

/// The 256 colours false colour goes through, opaque; evenly lighter from end to end.
const std::vector<Rgba16>& falseColors();

/// Shades a rectangle of the visibility image into `out` (width × height pixels, 0xAARRGGBB, sRGB-encoded).
/// Stops early, with false, when `stop` says so.
bool shade(const ShadeInput& input, const VisibilityImage& visibility, const PixelRect& rect,
           std::span<uint32_t> out, const std::function<bool()>& stop = {});

/// The same as linear light, to be summed with that of other rays and toned as `toningOf` says.
bool shadeLight(const ShadeInput& input, const VisibilityImage& visibility, const PixelRect& rect,
                std::span<Vec3> out, const std::function<bool()>& stop = {});
Toning toningOf(const ShadeInput& input);

/// Where within and a little beside the pixel picture number `index` casts its rays; the first is the centre.
/// So many make a tent wider than a pixel.
Vec2 jitterOf(int index);

/// A finished picture with `smooth` × jittered rays averaged.
std::vector<uint32_t> picture(const Rays& rays, const ShadeInput& input, const ViewSize& size,
                              const std::set<uint32_t>& hidden, int smooth = 8);

/// The chunks of the samples the picture shows, ascending.
std::vector<uint32_t> chunksSeen(const Surface& surface, const VisibilityImage& visibility);

/// The smallest rectangle that holds all pixels showing one of the samples' chunks; what must be shaded anew.
PixelRect rectOfChunks(const Surface& surface, const Camera& camera, const ViewSize& size,
                       std::span<const uint32_t> chunks);

}  // namespace juvenor
