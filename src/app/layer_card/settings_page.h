// A page of numbers, colours and choices that a layer is set to. Sliders show their change on the easel while
// they move; every change is one step. All pages of kinds change the layer they show in one way.
#pragma once

#include <QWidget>
#include <functional>
#include <vector>

#include "app/controls/value_slider.h"
#include "app/layer_card/shown_layer.h"
#include "app/session/words.h"
#include "core/members.h"

class QToolButton;
class QVBoxLayout;

namespace juvenor::app {

/// How the settings of a kind are read and made, said beside the kind's page: `of(source)`, null for other
/// kinds, and `source(settings)`.
template <class Kind>
struct KindSettings;

/// A source of the same kind after `change(settings)`; null for other kinds.
template <class Kind, class Change>
SourcePointer changed(const LayerSource& source, Change change) {
  const Kind* now = KindSettings<Kind>::of(source);
  if (!now) return nullptr;
  Kind next = *now;
  change(next);
  return KindSettings<Kind>::source(std::move(next));
}

struct SettingRange {
  MemberUnit unit = MemberUnit::Part;
  double low = 0, high = 1;  ///< lengths as parts of the sculpt's diagonal
};
/// What a slider of a number offers.
SettingRange rangeOf(const MemberFacts& facts);
/// The same on a sculpt of so large a diagonal (scene units); `millimetres` of a scene unit.
ValueSlider::Scale scaleOf(const SettingRange& range, float diagonal, float millimetres);

class SettingsPage : public QWidget {
  Q_OBJECT
 public:
  /// `named`: before the names of its controls.
  SettingsPage(Session& session, QString named);
  /// Reads everything again from a layer of its kind.
  void show(const Layer& layer);

 protected:
  using Unit = MemberUnit;
  using Range = SettingRange;
  /// One number of the kind; lengths in scene units.
  struct Setting {
    Range range;
    std::function<float(const LayerSource&)> get;
    std::function<SourcePointer(const LayerSource&, float)> with;
  };
  using Change = std::function<SourcePointer(const LayerSource&)>;

  void addSetting(QVBoxLayout* column, const QString& name, const QString& tip, Setting setting);
  /// One number of a kind's table, by its key.
  template <class Kind>
  void addMember(QVBoxLayout* column, std::string_view key) {
    addMembers<Kind>(column, key, key);
  }
  /// Those of a kind's table from one to another, in its order.
  template <class Kind>
  void addMembers(QVBoxLayout* column, std::string_view first, std::string_view last) {
    const auto all = membersOf<Kind>();
    auto at = std::ranges::find(all, first, [](const Member<Kind>& m) { return m.facts.key; });
    for (bool more = at != all.end(); more && at != all.end(); ++at) {
      more = at->facts.key != last;
      addSetting(column, told(at->facts.label), told(at->facts.does),
                 {rangeOf(at->facts),
                  [m = *at](const LayerSource& s) {
                    const Kind* now = KindSettings<Kind>::of(s);
                    return now ? memberOf(m, *now) : 0.f;
                  },
                  [m = *at](const LayerSource& s, float v) {
                    return changed<Kind>(s, [&](Kind& next) { m.of(next) = v; });
                  }});
    }
  }
  /// A swatch that takes the mixer's colour.
  void addColor(QVBoxLayout* column, const QString& name,
                const std::function<EncodedColor(const LayerSource&)>& get,
                const std::function<SourcePointer(const LayerSource&, const EncodedColor&)>& with,
                const QString& step);
  /// Buttons for the channels the kind works on; one at least stays.
  template <class Kind>
  void addChannels(QVBoxLayout* column, ChannelSet Kind::*on) {
    addChannels(
        column, [on](const LayerSource& s) { return KindSettings<Kind>::of(s)->*on; },
        [on](const LayerSource& s, ChannelSet now) {
          return changed<Kind>(s, [&](Kind& next) { next.*on = now; });
        });
  }
  void addChannels(QVBoxLayout* column, const std::function<ChannelSet(const LayerSource&)>& get,
                   const std::function<SourcePointer(const LayerSource&, ChannelSet)>& with);
  /// Called with the layer's source whenever it is shown.
  void whenShown(std::function<void(const LayerSource&)> show) { shows_.push_back(std::move(show)); }
  void preview(const Change& with);
  void change(const Change& with, const QString& step);

  Session& session_;
  ShownLayer layer_;

 private:
  struct Slider {
    ValueSlider* slider;
    Setting setting;
  };
  QString named_;
  std::vector<Slider> sliders_;
  std::vector<std::function<void(const LayerSource&)>> shows_;
};

/// Draws a colour into a button, over two greys as much as it covers.
void showSwatch(QToolButton* button, const EncodedColor& color, float alpha, bool chosen);

}  // namespace juvenor::app
