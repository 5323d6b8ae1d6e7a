#include "core/document/store/journal_ground.h"

#include <algorithm>

namespace juvenor {
namespace fs = std::filesystem;

fs::path groundCopyOf(const fs::path& journal) {
  return journal.string() + ".ground";
}

std::optional<size_t> firstThatStands(std::span<const uint64_t> order, const std::set<uint64_t>& stored,
                                      std::span<const uint64_t> base) {
  const std::set<uint64_t> inBase(base.begin(), base.end());
  size_t first = 0;
  for (size_t i = 0; i < order.size(); ++i)
    if (!stored.contains(order[i]) && !inBase.contains(order[i])) first = i + 1;
  if (first == 0) return first;
  if (first == order.size() || base.empty() || order[first] != base.front()) return std::nullopt;
  return first;
}

namespace {

bool goesOnFrom(Store& journal, const fs::path& path) {
  const auto base = journal.meta("base");
  if (!base || base->empty()) return false;
  std::error_code ec;
  return fs::weakly_canonical(*base, ec) == fs::weakly_canonical(path, ec);
}

// Whole or not at all: a copy that was cut off must not be taken for the ground.
Outcome copyWhole(const fs::path& from, const fs::path& to) {
  const fs::path partial = to.string() + ".part";
  std::error_code ec;
  fs::copy_file(from, partial, fs::copy_options::overwrite_existing, ec);
  if (!ec) fs::rename(partial, to, ec);
  if (!ec) return Done{};
  const std::string reason = ec.message();
  fs::remove(partial, ec);
  return Error{
      "strokes in a journal stand on steps that would be gone, and there is no room to keep a copy of "
      "them (" +
          reason + ")",
      to.string()};
}

}  // namespace

Outcome keepGrounds(const fs::path& folder, const fs::path& path, std::span<const uint64_t> left) {
  std::error_code ec;
  for (const auto& entry : fs::directory_iterator(folder, ec)) {
    if (entry.path().extension() != ".journal" || fs::exists(groundCopyOf(entry.path()), ec)) continue;
    auto journal = Store::open(entry.path(), true);
    if (!journal || !goesOnFrom(*journal, path)) continue;
    const auto order = journal->stepIds();
    const auto stored = journal->storedSteps();
    if (!order || !stored || order->empty() || firstThatStands(*order, *stored, left)) continue;
    if (const Outcome kept = copyWhole(path, groundCopyOf(entry.path())); !kept) return kept;
  }
  return Done{};
}

}  // namespace juvenor
