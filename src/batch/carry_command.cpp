// `juvenor-batch carry`: all work of a document onto a changed sculpt.
#include <iostream>

#include "batch/commands.h"
#include "batch/work.h"
#include "core/carry/carry_json.h"
#include "core/files.h"
#include "core/json_fields.h"

namespace juvenor::batch {

Outcome carry(const CarryCommand& said) {
  if (!isDocument(said.out))
    return Error{"what is carried over is a document: give it a name that ends in .juvenor",
                 said.out.string()};
  if (const Outcome may = mayWrite(said.out, said.force); !may) return may;
  auto work = openWork(said.document, true);
  if (!work) return work.error();
  auto sculpt = readSculpt(said.sculpt);
  if (!sculpt) return sculpt.error();
  const Document& old = work->history.document();
  CarrySetting setting;
  if (!said.pins.empty()) {
    const auto text = readBytes(said.pins);
    if (!text) return text.error();
    auto read = carrySettingFrom(parsedOrNull(*text), *old.sculpt, *sculpt);
    if (!read) return Error{read.error().what, said.pins.string()};
    setting = std::move(*read);
  }
  auto carried = carriedOver(old, std::make_shared<const Sculpt>(std::move(*sculpt)), setting);
  if (!carried) return Error{carried.error().what, said.sculpt.string()};
  const std::string report = textOf(toJson(carried->report), 2) + "\n";
  work->history.push(std::move(carried->document), "Carry over");
  const std::vector<StepPointer> steps(work->history.steps().begin(), work->history.steps().end());
  if (const auto saved = saveAs(said.out, steps, steps.back()->id); !saved) return saved.error();
  if (said.report.empty()) {
    std::cout << report;
    return Done{};
  }
  if (const Outcome ok = writeBytes(said.report, report); !ok) return ok;
  std::cout << sentenceOf(carried->report) << "\n";
  return Done{};
}

}  // namespace juvenor::batch
