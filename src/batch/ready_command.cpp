// Whether a sculpt can carry paint, as JSON: what the Prepare stage shows.
#include <iostream>

#include "batch/commands.h"
#include "batch/work.h"
#include "core/json_fields.h"
#include "core/prepare/readiness.h"

namespace juvenor::batch {
namespace {

using nlohmann::json;

constexpr std::array kCarried{"nothing", "coarse paint", "broad paint", "fine paint"};

json told(const Readiness& r) {
  json fine = json::object();
  for (const FineThing& thing : kFineThings)
    fine[std::string(thing.label)] = {{"millimetres", thing.millimetres},
                                      {"fine enough", r.fineEnough(thing.millimetres)},
                                      {"points for it", std::round(r.pointsFor(thing.millimetres))}};
  json out{{"height mm", r.tall},
           {"likely size", r.likelySize},
           {"points", r.points},
           {"apart mm", r.spacing},
           {"carries", kCarried[static_cast<size_t>(r.carries)]},
           {"finest things", fine},
           {"parts", r.parts},
           {"shells", r.shells},
           {"in parts", r.inParts()},
           {"laid out", r.laidOut()},
           {"mirrors", r.mirrors},
           {"mirror plane ready", r.mirrorReady()}};
  if (r.layout) out["covered twice"] = r.doubled;
  return out;
}

}  // namespace

Outcome ready(const fs::path& file) {
  const auto document = isDocument(file) ? documentIn(file) : documentOver(file);
  if (!document) return document.error();
  const auto found = readinessOf(*document);
  if (!found) return found.error();
  std::cout << textOf(told(*found), 2) << '\n';
  return Done{};
}

}  // namespace juvenor::batch
