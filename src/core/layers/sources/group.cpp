// Group: holds the layers that name it as theirs, and brings nothing of its own. What they come to is worked
// out by the composite; here is only how they meet what lies below.
#include "core/layers/group.h"

#include "core/json_fields.h"
#include "core/layers/sources/registry.h"

namespace juvenor {
namespace {

class GroupLayer final : public LayerSource,
                         public PreparedSource,
                         public std::enable_shared_from_this<GroupLayer> {
 public:
  explicit GroupLayer(Group group) : group_(group) {}
  const Group& group() const { return group_; }

  const SourceKind& kind() const override { return kGroupKind; }
  nlohmann::json parameters() const override { return {{"passes", group_.passes}}; }
  std::string remark() const override { return group_.passes ? "" : "by itself"; }
  SourcePointer refined(const Refined&) const override { return groupSource(group_); }
  Result<PreparedSourcePointer> prepare(SurfaceMaps&, const Progress&) const override {
    return PreparedSourcePointer(shared_from_this());
  }
  ChannelSet channels() const override { return {}; }
  void markContent(Channel, std::vector<char>&) const override {}
  bool markChanges(Channel, const PreparedSource& before, std::vector<char>&) const override {
    return static_cast<const GroupLayer&>(before).group_ == group_;
  }

 private:
  Group group_;
};

const std::vector<std::string_view> kGroupKeys{"passes"};

Result<SourcePointer> readGroup(const nlohmann::json& parameters, size_t) {
  Group out;
  const Outcome ok = JsonFields(parameters).flag("passes", out.passes).done();
  if (!ok) return Error{"a group " + ok.error().what};
  return groupSource(out);
}

SourcePointer freshGroup(const Surface&, const EncodedColor&) {
  return groupSource({});
}

SourcePointer exampleGroup(const Surface&) {
  return groupSource({});
}

}  // namespace

const SourceKind kGroupKind{"group",          "Group",    "Holds layers under one mask, opacity and strength",
                            Stratum::Pigment, -1,         kGroupKeys,
                            readGroup,        freshGroup, exampleGroup};

SourcePointer groupSource(Group group) {
  return std::make_shared<GroupLayer>(group);
}

const Group* groupOf(const LayerSource& source) {
  const auto* layer = dynamic_cast<const GroupLayer*>(&source);
  return layer ? &layer->group() : nullptr;
}

}  // namespace juvenor
