// What the artist holds in hand: the tool, the brush, the colour. One object that all panels show and change.
#pragma once

#include <QObject>
#include <array>
#include <optional>
#include <string>
#include <vector>

#include "core/brush/brush_roll.h"
#include "core/color/skin_tone.h"
#include "core/color/srgb.h"
#include "core/layers/layer.h"

namespace juvenor::app {

enum class Tool {
  Airbrush,
  Blend,
  Smear,
  Erase,
  Mask,
  Guard,
  Zones,
  Fill,
  Pick,
  Stamp,
  Stencil,
  CutLine,
  Comb,
  Touch,
  Slide,
  Restore,
  Graft,
  Lasso,
  MirrorPlane
};
inline constexpr int kToolCount = 19;

/// The stages of the course in its order. Layers belong to one from Base on.
enum Stages {
  kPrepareStage = -1,
  kBaseStage,
  kZonesStage,
  kPigmentStage,
  kPatternStage,
  kPhotoStage,
  kFinishStage
};
inline constexpr int kStageCount = kFinishStage - kPrepareStage + 1;

struct ToolFacts {
  const char* icon;
  const char* label;
  const char* key;
  const char* tip;
  /// Stages of the course that bring the tool forward, a bit each from Prepare on; 0: it stays in every
  /// stage.
  unsigned stages;
  bool servesAt(int stage) const { return (stages >> (stage - kPrepareStage) & 1) != 0; }
};
const ToolFacts& factsOf(Tool tool);

/// Whether the numbers of the brush are this tool's.
inline bool usesBrush(Tool tool) {
  return tool != Tool::Fill && tool != Tool::Zones && tool != Tool::Pick && tool != Tool::Stencil &&
         tool != Tool::Slide && tool != Tool::Lasso && tool != Tool::MirrorPlane;
}

/// The tool such layers are edited with on the easel, where their kind has areas.
std::optional<Tool> toolOf(const SourceKind& kind);

/// The stage of the course a layer belongs to.
int stageOf(const Layer& layer);

/// What the pen has of each channel at first, where nothing depends on the sculpt.
inline std::array<float, kChannelCount> firstNumbers() {
  std::array<float, kChannelCount> out{};
  for (const auto& [channel, value] : {std::pair(Channel::Gloss, 0.8f),
                                       {Channel::Metal, 1.f},
                                       {Channel::Glow, 1.f},
                                       {Channel::Wander, 0.2f},
                                       {Channel::Coat, 1.f},
                                       {Channel::Fuzz, 1.f}})
    out[static_cast<size_t>(channel)] = value;
  return out;
}

class Tools : public QObject {
  Q_OBJECT
 public:
  Tool tool() const { return tool_; }
  const Brush& brush() const { return brush_; }
  const EncodedColor& color() const { return color_; }
  const EncodedColor& previousColor() const { return previous_; }
  float fillStrength() const { return fillStrength_; }
  /// The channels the pen and fills work on, each with its value; relief as a height in scene units.
  ChannelSet laid() const { return laid_; }
  float number(Channel channel) const { return number_[static_cast<size_t>(channel)]; }
  ChannelValues paint() const;
  void setLaid(Channel channel, bool on);
  void setNumber(Channel channel, float value);

  void setTool(Tool tool);
  /// Pick is in hand for as long as its key is held; the tool itself stays.
  bool picks() const { return holdsPick_ || tool_ == Tool::Pick; }
  bool holdsPick() const { return holdsPick_; }
  void setHoldsPick(bool on);
  void setBrush(const Brush& brush);
  /// Takes a brush of the roll in hand, fitted to a sculpt; mirror, parts and the pen's curve stay as they
  /// are. The tool becomes one that works with its ink.
  void takeBrush(const RollBrush& brush, float millimetres, float diagonal);
  /// The brush of the roll that was taken last, lengths in millimetres; no name before any was.
  const RollBrush& taken() const { return taken_; }
  /// Whether it was changed since.
  bool isBrushChanged() const;
  /// Takes it anew.
  void resetBrush();
  /// What the brush in hand is as one of a roll.
  RollBrush brushForRoll(const std::string& name) const;
  /// The colour before becomes the previous one.
  void setColor(const EncodedColor& color);
  /// The other colour in hand, which changes places with the first.
  const EncodedColor& secondColor() const { return second_; }
  void swapColors();
  /// Colours that were painted or filled with, the last first.
  const std::vector<EncodedColor>& usedColors() const { return used_; }
  void noteUsed(const EncodedColor& color);
  void setFillStrength(float strength);
  /// The mixer gives greys only: for laying values before hues.
  bool greyLock() const { return greyLock_; }
  void setGreyLock(bool on);
  /// Whether what masks and the guard hide is striped on the easel while their tools are in hand.
  bool masksShown() const { return masksShown_; }
  void setMasksShown(bool on);
  /// The stage of the course one is at, of Stages.
  int stage() const { return stage_; }
  void setStage(int stage);
  /// The zone of the active layer whose settings are shown, and the landmark the next click places.
  int zone() const { return zone_; }
  void setZone(int zone);
  const std::string& landmark() const { return landmark_; }
  void setLandmark(const std::string& key);
  /// Whether pictures with colours of their own take the tone of the skin they are laid on.
  bool adapts() const { return adapts_; }
  void setAdapts(bool on);
  /// The checkpoint one restores from and compares with; 0: the last that was kept.
  uint32_t checkpoint() const { return checkpoint_; }
  void setCheckpoint(uint32_t id);
  /// Whether the layer's mask is painted back, in place of what it is painted with.
  bool restoresMask() const { return restoresMask_; }
  void setRestoresMask(bool on);
  /// Whether the comb draws edges that hair stands along.
  bool drawsEdges() const { return drawsEdges_; }
  void setDrawsEdges(bool on);
  /// A colour from a picture and one from the sculpt, kept side by side.
  const std::optional<EncodedColor>& pinned(bool fromPicture) const { return pinned_[fromPicture]; }
  void pin(bool fromPicture, const EncodedColor& color);

 signals:
  void changed();
  /// The artist went to a stage, or to the one at hand again.
  void stageEntered(int stage);

 private:
  Tool tool_ = Tool::Airbrush;
  bool holdsPick_ = false;
  Brush brush_;
  RollBrush taken_;
  float millimetres_ = 1, diagonal_ = 0;  ///< of the sculpt it was fitted to
  // opens with a tone the mixer knows
  EncodedColor color_ = colorOf(SkinTone{}), previous_{0.73f, 0.52f, 0.37f}, second_{0.36f, 0.2f, 0.15f};
  std::vector<EncodedColor> used_;
  float fillStrength_ = 1;
  ChannelSet laid_ = Channel::Color;
  std::array<float, kChannelCount> number_ = firstNumbers();
  bool greyLock_ = false, masksShown_ = true, adapts_ = false;
  int zone_ = 0, stage_ = 0;
  std::string landmark_;
  uint32_t checkpoint_ = 0;
  bool restoresMask_ = false, drawsEdges_ = false;
  std::array<std::optional<EncodedColor>, 2> pinned_;
};

}  // namespace juvenor::app
