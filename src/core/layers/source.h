// What a layer is made of. A source is settings only; prepared on a surface it gives its channels one by one,
// chunk by chunk. Painted sources are edited, all others are worked out from parameters and the surface. A
// new kind is one file in sources/ and one line in sources/registry.cpp.
#pragma once

#include <algorithm>
#include <memory>
#include <nlohmann/json.hpp>
#include <span>
#include <string_view>

#include "core/layers/channels.h"
#include "core/layers/mask_terms.h"
#include "core/layers/ramp.h"
#include "core/layers/stratum.h"
#include "core/layers/zones/hue_zone.h"
#include "core/members.h"
#include "core/photo/picture_data.h"
#include "core/surface/build/refined_field.h"
#include "core/surface/field.h"

namespace juvenor {

/// What lies below a layer, channel by channel and chunk by chunk.
class LayerGround {
 public:
  virtual ~LayerGround() = default;
  // Each is never null, and safe from any thread. Colours and values are premultiplied; they cover all unless
  // `apart`.
  virtual ColorField::Pointer colors(size_t chunk) const = 0;
  virtual CoverField::Pointer covers(Channel, size_t chunk) const = 0;
  virtual ScalarField::Pointer heights(Channel, size_t chunk) const = 0;
  /// Whether it is of a group or a layer by itself, which need not cover the skin.
  virtual bool apart() const { return false; }
  /// What that lies on; null: it is not apart.
  virtual const LayerGround* under() const { return nullptr; }
};

/// Which chunk one wants, and what the layer's mask shows of it.
struct ChunkAsk {
  size_t index = 0;
  const ScalarChunk* mask = nullptr;    ///< null: all; only kinds that thin look at it
  const LayerGround* around = nullptr;  ///< for kinds that look around, else it may be null

  ChunkAsk(size_t chunk, const ScalarChunk* shown = nullptr, const LayerGround* all = nullptr)
      : index(chunk), mask(shown), around(all) {}
};

/// A source worked out on one surface: its chunks cannot fail any more. Immutable, safe from any thread. What
/// one channel costs is worked out when it is asked for that channel alone.
class PreparedSource {
 public:
  virtual ~PreparedSource() = default;

  /// The channels it brings anything in.
  virtual ChannelSet channels() const { return Channel::Color; }

  // Each gives null where there is nothing at all, and is asked only for channels of its rule.

  /// Colours of a chunk (premultiplied, encoded). `below` is what the layers underneath come to, for kinds
  /// that say they look at it: opaque, but what a kind changes may be of a group or a layer by itself, and
  /// then what comes out is what became of that, as transparent as it then is.
  virtual ColorField::Pointer colors(const ChunkAsk&, const ColorChunk& /*below*/) const { return nullptr; }
  virtual CoverField::Pointer covers(Channel, const ChunkAsk&) const { return nullptr; }
  virtual ScalarField::Pointer heights(Channel, const ChunkAsk&) const { return nullptr; }
  /// What becomes of the values below; of kinds that change those.
  virtual CoverField::Pointer changedCovers(Channel, const ChunkAsk&, const CoverChunk& /*below*/) const {
    return nullptr;
  }
  /// And of heights.
  virtual ScalarField::Pointer changedHeights(Channel, const ChunkAsk&, const ScalarChunk& /*below*/) const {
    return nullptr;
  }
  /// Whether its own forms die out where the mask fades; the mask does not weaken them a second time.
  virtual bool thins() const { return false; }
  /// Whether its colours are shifted from those below, with an alpha of its own.
  virtual bool readsBelow() const { return false; }
  /// Whether it brings nothing of its own but changes what lies below, in its channels.
  virtual bool changesBelow() const { return false; }
  /// Whether what it brings in a chunk comes from what lies below in others too: those of `around`.
  virtual bool looksAround() const { return false; }
  /// Whether of what is apart it looks at what that lies on.
  virtual bool looksUnder() const { return false; }
  /// The chunks that its own in one come from, ascending; of kinds that look around.
  virtual std::span<const uint32_t> around(size_t /*chunk*/) const { return {}; }
  /// What the artist should know of how it came out, in a short sentence; empty: it is as asked for.
  virtual std::string note() const { return {}; }

  /// Sets the marks of chunks where a channel may differ between this one and an earlier one of the same
  /// kind; false when it cannot tell.
  virtual bool markChanges(Channel, const PreparedSource& /*before*/, std::vector<char>& /*marks*/) const {
    return false;
  }
  /// Takes what an earlier one of the same layer on the same surface has worked out of chunks that are as
  /// they were. Any thread may ask either meanwhile.
  virtual void takeOver(const PreparedSource& /*before*/) const {}
  /// Sets the marks of chunks that hold anything of a channel it brings.
  virtual void markContent(Channel, std::vector<char>& marks) const {
    std::fill(marks.begin(), marks.end(), 1);
  }
};
using PreparedSourcePointer = std::shared_ptr<const PreparedSource>;

struct Guides;
class LayerSource;
using SourcePointer = std::shared_ptr<const LayerSource>;

/// What a kind has areas for, and what one calls them.
struct AreaFacts {
  std::string_view one, all;  ///< in the window: "Root", "Roots"
  bool tint = false;          ///< they have a tint of their own
  bool rim = true;            ///< their softness and broken rim mean something
  float reach = 0.08f;        ///< of a new one, in diagonals of the sculpt
  float strength = 0.6f;      ///< of a new one
  bool like = false;          ///< each says what skin it is like, in words the kind knows
};

/// Gives a picture by its fingerprint; the name is for the error.
using FindPicture = std::function<Result<PicturePointer>(uint64_t fingerprint, const std::string& name)>;

/// What everyone else needs to know of a kind of layer. It lives in the kind's own file.
struct SourceKind {
  std::string_view key;                ///< in files and scripts: "painted", "fill", …
  std::string_view label;              ///< in the window: "Painted"
  std::string_view does;               ///< one line on what it brings to the skin
  Stratum stratum;                     ///< where such layers usually lie
  int stage;                           ///< of the course, 0 Base … 5 Finish; -1: that of its stratum
  std::vector<std::string_view> keys;  ///< of its parameters
  /// From the parameters a file or script gave; `samples` is the size of the surface.
  Result<SourcePointer> (*read)(const nlohmann::json& parameters, size_t samples);
  /// What a new layer of the kind begins with, with a colour in hand.
  SourcePointer (*fresh)(const Surface& surface, const EncodedColor& color);
  /// Something of the kind that shows what it does, on a patch of skin about two units wide around the
  /// origin.
  SourcePointer (*example)(const Surface& patch);
  const AreaFacts* areas = nullptr;  ///< of kinds that have any
  std::string_view maps = {};        ///< what its maps say, of kinds that have any: "How dense, from maps"
  /// Which of its parameters are lengths in scene units, beside those of maps, areas, guides and ramps.
  std::vector<std::string_view> lengths = {};
  /// The numbers it is set to; null: it has none, or they are no plain ones.
  std::vector<MemberFacts> (*members)() = nullptr;
  /// In the window its mask hides all of a new one, until one paints where it is to be.
  bool paintedOn = false;
};

class LayerSource {
 public:
  virtual ~LayerSource() = default;

  virtual const SourceKind& kind() const = 0;
  /// Works out on a surface what chunks are made from; may take long, and be cancelled. The error says why it
  /// cannot be.
  virtual Result<PreparedSourcePointer> prepare(SurfaceMaps& maps, const Progress& progress = {}) const = 0;
  /// Whether preparing takes no longer than a pen may wait: what it needs is there.
  virtual bool isReady(SurfaceMaps&) const { return true; }
  /// The name SurfaceMaps has for what grows for it and is worth keeping in a document; empty: there is
  /// nothing of the kind.
  virtual std::string grownKey() const { return {}; }
  /// The maps it needs, for who has to know which are in use.
  virtual std::vector<MapSetting> mapsNeeded() const { return {}; }
  /// Everything but painted chunks, for the file.
  virtual nlohmann::json parameters() const = 0;
  /// What one says of it in a row of the strata, when its kind alone does not say enough.
  virtual std::string remark() const { return {}; }
  /// What it brings, whatever surface it is prepared on.
  virtual ChannelSet channels() const { return Channel::Color; }
  /// The fields one paints on, or null for kinds that are worked out.
  virtual const ChannelFields* fields() const { return nullptr; }
  /// Of those the colour.
  const ColorField* painted() const { return fields() ? &fields()->color() : nullptr; }
  /// Areas around anchors that go with landmarks and turn with the sculpt, or null for kinds without: hue
  /// zones, where speckles gather, roots of veins.
  virtual const ZoneSet* zones() const { return nullptr; }
  /// The same with other areas; null for kinds without.
  virtual SourcePointer withZones(ZoneSet) const { return nullptr; }
  /// Surface maps that say where it lies, or null for kinds without: what a ramp looks up, where speckles are
  /// dense, where veins go.
  virtual const MaskTerms* terms() const { return nullptr; }
  /// The same with other maps; null for kinds without.
  virtual SourcePointer withTerms(MaskTerms) const { return nullptr; }
  /// What a pattern follows, or null for kinds that follow nothing.
  virtual const Guides* guides() const { return nullptr; }
  /// The same with other guides; null for kinds without.
  virtual SourcePointer withGuides(Guides guides) const;
  /// The pictures it is made with; files keep them apart.
  virtual std::vector<PicturePointer> pictures() const { return {}; }
  /// The same with its pictures found again; null for kinds without.
  virtual Result<SourcePointer> withPictures(const FindPicture&) const { return SourcePointer(); }
  /// The same source on a refined surface.
  virtual SourcePointer refined(const Refined& refined) const = 0;
};

/// The kinds this program knows that bring something to the skin, in the order they are offered.
std::span<const SourceKind* const> sourceKinds();
/// One of those, or what holds other layers: "group". Null where there is none.
const SourceKind* sourceKind(std::string_view key);

/// A source of the kind with the parameters a file gave.
Result<SourcePointer> makeSource(std::string_view kind, const nlohmann::json& parameters, size_t samples);

}  // namespace juvenor
