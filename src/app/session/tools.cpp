#include "app/session/tools.h"

#include "core/color/lab.h"

#include <algorithm>
#include <array>
#include <utility>

namespace juvenor::app {
namespace {

// The grey of the same luminance.
EncodedColor greyOf(const EncodedColor& color) {
  const float y = encodeSrgb(static_cast<float>(toXyz(decode(color)).y));
  return {y, y, y};
}

// A brush with what belongs to the hand as another has it.
Brush withHandOf(Brush brush, const Brush& hand) {
  brush.curve = hand.curve;
  brush.mirror = hand.mirror;
  brush.mirrorTolerance = hand.mirrorTolerance;
  brush.looseness = hand.looseness;
  brush.frontOnly = hand.frontOnly;
  brush.allParts = hand.allParts;
  return brush;
}

}  // namespace

const ToolFacts& factsOf(Tool tool) {
  constexpr auto at = [](Stages stage) { return 1u << (stage - kPrepareStage); };
  // but Prepare, where nothing is painted yet
  constexpr unsigned kAll = (1u << kStageCount) - 2;
  static constexpr std::array<ToolFacts, kToolCount> kFacts{{
      {"airbrush", "Airbrush", "A", "Lays the mixer's colour, a little with every dab", 0},
      {"blend", "Blend", "L", "Blends colours into each other along the skin", 0},
      {"smear", "Smear", "U",
       "Carries colour along the stroke, like a finger in wet paint; 50 % flow and more", 0},
      {"erase", "Erase", "E", "Takes colour away from the layer; the eraser end of a pen does the same", 0},
      {"mask", "Mask", "K",
       "Hides the layer where you paint, and the eraser end shows it again; hair grows where you paint", 0},
      {"guard", "Guard", "G",
       "Protects skin from every ink and fill; the eraser end frees it again. It belongs to the whole "
       "document",
       kAll},
      {"zones", "Zones", "Z",
       "Hue zones: drag a handle to move a zone, click the skin to add one; places landmarks, sets and turns "
       "eyes",
       at(kZonesStage)},
      {"fill", "Fill", "F", "Fills the active part, or the whole sculpt, with the mixer's colour",
       at(kBaseStage) | at(kPigmentStage)},
      {"pick", "Pick", "P",
       "Takes the colour you see; with Shift the active layer's own. Hold P while another tool is chosen", 0},
      {"stamp", "Stamp", "T", "Places one stamp: press, drag for size and turn, adjust, then lay it",
       at(kPigmentStage)},
      {"stencil", "Stencil", "D",
       "A picture held before the sculpt, painted through: drag it, scale and turn it by its corner; Shift+D "
       "puts it aside",
       at(kPigmentStage)},
      {"cut", "Cut line", "X",
       "A line straight over the form: drag from one place to another; or all around a limb",
       at(kPigmentStage)},
      {"comb", "Comb", "C",
       "Strokes the way a pattern is to lie; a click pins the way it lies. The brush's size is the comb's",
       at(kPatternStage)},
      {"touch", "Touch", "W",
       "Works on a pattern by hand: pushes its size, soothes its relief, tints or loses single scales",
       at(kPatternStage)},
      {"slide", "Slide", "S",
       "A photo between eye and sculpt: place it, pin it to the skin, paint through it or throw it; Shift+S "
       "puts it aside",
       at(kPhotoStage)},
      {"restore", "Restore", "Q",
       "Paints back what the layer was at a checkpoint, in the channels the pen lays; checkpoints are kept "
       "under Past",
       kAll},
      {"graft", "Graft", "Shift+T",
       "Takes colour, gloss and relief off the skin, to be laid on any other: by rectangle, strip or lasso",
       at(kPhotoStage)},
      {"lasso", "Lasso", "Shift+L",
       "Goes around skin to hide it by the layer's mask, or to guard it: what one sees alone or straight "
       "through, with "
       "a soft edge",
       kAll},
      {"mirror", "Midplane", "Shift+M",
       "The plane strokes are mirrored in: the figure's own, found by its form, or dragged; x = 0 where none "
       "is set",
       at(kPrepareStage) | at(kBaseStage)},
  }};
  return kFacts[static_cast<size_t>(tool)];
}

std::optional<Tool> toolOf(const SourceKind& kind) {
  if (kind.paintedOn) return Tool::Mask;
  return kind.areas || kind.key == "eyes" ? std::optional(Tool::Zones) : std::nullopt;
}

int stageOf(const Layer& layer) {
  if (const int own = layer.source->kind().stage; own >= 0) return own;
  return layer.stratum == Stratum::Flesh ? 0 : layer.stratum == Stratum::Pigment ? 2 : 3;
}

void Tools::setDrawsEdges(bool on) {
  if (drawsEdges_ == on) return;
  drawsEdges_ = on;
  emit changed();
}

void Tools::setTool(Tool tool) {
  if (tool_ == tool) return;
  tool_ = tool;
  emit changed();
}

void Tools::setHoldsPick(bool on) {
  if (holdsPick_ == on) return;
  holdsPick_ = on;
  emit changed();
}

void Tools::setBrush(const Brush& brush) {
  brush_ = brush;
  emit changed();
}

void Tools::takeBrush(const RollBrush& brush, float millimetres, float diagonal) {
  taken_ = brush;
  millimetres_ = millimetres;
  diagonal_ = diagonal;
  brush_ = withHandOf(fitted(brush.brush, millimetres, diagonal), brush_);
  const bool smears = brush.ink == "smear";
  if (smears)
    tool_ = Tool::Smear;
  else if (tool_ == Tool::Smear || !usesBrush(tool_))
    tool_ = Tool::Airbrush;
  emit changed();
}

bool Tools::isBrushChanged() const {
  if (taken_.name.empty()) return false;
  return !(brush_ == withHandOf(fitted(taken_.brush, millimetres_, diagonal_), brush_));
}

void Tools::resetBrush() {
  if (!taken_.name.empty()) takeBrush(taken_, millimetres_, diagonal_);
}

RollBrush Tools::brushForRoll(const std::string& name) const {
  RollBrush out;
  out.name = name;
  out.ink = tool_ == Tool::Smear ? "smear" : "lay";
  // nothing is painted at Prepare
  out.stage = std::max<int>(stage_, kBaseStage);
  out.brush = diagonal_ > 0 ? inMillimetres(brush_, millimetres_, diagonal_) : brush_;
  out.brush = withHandOf(out.brush, Brush());
  return out;
}

void Tools::setColor(const EncodedColor& color) {
  if (color_ == color) return;
  previous_ = color_;
  color_ = greyLock_ ? greyOf(color) : color;
  emit changed();
}

void Tools::swapColors() {
  std::swap(color_, second_);
  if (greyLock_) color_ = greyOf(color_);
  emit changed();
}

void Tools::noteUsed(const EncodedColor& color) {
  constexpr size_t kKept = 16;
  if (!used_.empty() && used_.front() == color) return;
  std::erase(used_, color);
  used_.insert(used_.begin(), color);
  if (used_.size() > kKept) used_.pop_back();
  emit changed();
}

ChannelValues Tools::paint() const {
  ChannelValues out;
  if (laid_.has(Channel::Color)) out.color = color_;
  eachChannel([&](auto c) {
    if (c() != Channel::Color && laid_.has(c())) out[c()] = number(c());
  });
  return out;
}

void Tools::setLaid(Channel channel, bool on) {
  const ChannelSet now = on ? laid_ | channel : laid_.without(channel);
  if (now == laid_) return;
  laid_ = now;
  emit changed();
}

void Tools::setNumber(Channel channel, float value) {
  if (number(channel) == value) return;
  number_[static_cast<size_t>(channel)] = value;
  emit changed();
}

void Tools::setGreyLock(bool on) {
  greyLock_ = on;
  if (on) color_ = greyOf(color_);
  emit changed();
}

void Tools::setMasksShown(bool on) {
  masksShown_ = on;
  emit changed();
}

void Tools::setStage(int stage) {
  if (stage_ == stage) return;
  stage_ = stage;
  emit changed();
}

void Tools::setZone(int zone) {
  if (zone_ == zone) return;
  zone_ = zone;
  emit changed();
}

void Tools::setAdapts(bool on) {
  if (adapts_ == on) return;
  adapts_ = on;
  emit changed();
}

void Tools::setCheckpoint(uint32_t id) {
  if (checkpoint_ == id) return;
  checkpoint_ = id;
  emit changed();
}

void Tools::setRestoresMask(bool on) {
  if (restoresMask_ == on) return;
  restoresMask_ = on;
  emit changed();
}

void Tools::setLandmark(const std::string& key) {
  if (landmark_ == key) return;
  landmark_ = key;
  emit changed();
}

void Tools::pin(bool fromPicture, const EncodedColor& color) {
  pinned_[fromPicture] = color;
  emit changed();
}

void Tools::setFillStrength(float strength) {
  fillStrength_ = strength;
  emit changed();
}

}  // namespace juvenor::app

#include "moc_tools.cpp"
