// Documents and journals as they lie on disk.
#include <fmt/format.h>

#include <iostream>
#include <nlohmann/json.hpp>

#include "batch/commands.h"
#include "batch/work.h"
#include "core/document/store/in_use.h"
#include "core/document/store/journal.h"
#include "core/json_fields.h"

namespace juvenor::batch {

using nlohmann::json;

namespace {

void print(const json& j) {
  std::cout << textOf(j, 2) << "\n";
}

// A journal by its path, or by the name of its file.
fs::path journalCalled(const std::string& said) {
  const fs::path path(said);
  std::error_code ec;
  return fs::exists(path, ec) || path.has_parent_path() ? path : journalFolder() / path;
}

Result<LeftBehind> leftBehindAt(const fs::path& journal) {
  const LeftBehindList list = leftBehind(journal.parent_path());
  for (const LeftBehind& left : list.journals)
    if (left.journal == journal) return left;
  for (const Error& error : list.unreadable)
    if (error.where == journal.string()) return error;
  return Error{"no journal that waits to be taken up", journal.string()};
}

}  // namespace

Outcome history(const fs::path& document) {
  auto work = openWork(document, true);
  if (!work) return work.error();
  json steps = json::array();
  for (size_t i = 0; i < work->history.steps().size(); ++i) {
    const Step& step = *work->history.steps()[i];
    json j = {{"step", i}, {"name", step.name}, {"bytes", step.bytes}};
    if (!step.given.empty()) j["called"] = step.given;
    if (step.time > 0) j["time"] = step.time;
    if (i == work->history.current()) j["shown"] = true;
    steps.push_back(std::move(j));
  }
  print({{"steps", steps}});
  return Done{};
}

Outcome compact(const fs::path& document, size_t steps) {
  if (const auto user = userOf(document))
    return Error{fmt::format("is open in another program (process {})", *user), document.string()};
  std::error_code ec;
  const uintmax_t before = fs::file_size(document, ec);
  auto work = openWork(document, false);
  if (!work) return work.error();
  const History& history = work->history;
  if (steps > 0 && history.steps().size() > steps) {
    const size_t first = std::min(history.steps().size() - steps, history.current());
    const std::vector<StepPointer> kept(history.steps().begin() + static_cast<std::ptrdiff_t>(first),
                                        history.steps().end());
    const Outcome ok = work->store.write(kept, history.steps()[history.current()]->id);
    if (!ok) return ok;
  }
  if (const Outcome ok = work->store.compact(true); !ok) return ok;
  print({{"before", before}, {"after", fs::file_size(document, ec)}});
  return Done{};
}

Outcome recoverList() {
  json journals = json::array(), unreadable = json::array();
  const LeftBehindList list = leftBehind(journalFolder());
  for (const LeftBehind& left : list.journals)
    journals.push_back({{"journal", left.journal.string()},
                        {"title", left.title},
                        {"document", left.saved.string()},
                        {"steps", left.steps}});
  for (const Error& e : list.unreadable) unreadable.push_back({{"journal", e.where}, {"why", e.what}});
  print({{"journals", journals}, {"unreadable", unreadable}});
  return Done{};
}

Outcome recoverTake(const std::string& said, const fs::path& ground, const fs::path& out, bool force) {
  if (const Outcome may = mayWrite(out, force); !may) return may;
  auto left = leftBehindAt(journalCalled(said));
  if (!left) return left.error();
  auto opened = recover(*left, {}, History::usualBudget(), ground);
  if (!opened && isGroundMissing(opened.error()))
    return Error{opened.error().what + "; --document says where it is", opened.error().where};
  if (!opened) return opened.error();
  auto saved = saveAs(out, opened->steps, opened->steps[opened->current]->id);
  if (!saved) return saved.error();
  discard(*left);
  print({{"document", out.string()}, {"steps", opened->steps.size()}});
  return Done{};
}

Outcome recoverAside(const std::string& said) {
  const auto there = putAside(journalCalled(said));
  if (!there) return there.error();
  print({{"journal", there->string()}});
  return Done{};
}

}  // namespace juvenor::batch
