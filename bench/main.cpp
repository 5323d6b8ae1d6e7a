// Runs every benchmark and prints the table of docs/performance.md: `juvenor-bench
// [painting|composite|pen|easel|surface|zones|markings|patterns|dragging|filters|files|opening|memory|photos|textures|carry|stacks|showing]`.
// Figures in seconds are for people; the ratios, taken in the same run, are for decisions.
#include <benchmark/benchmark.h>
#include <fmt/format.h>

#include <QApplication>
#include <algorithm>
#include <cstdio>

#include "core/document/edits/edits.h"
#include "demo/demo.h"
#include "figures.h"

namespace juvenor::bench {
namespace {

std::vector<Row> table;

class Quiet : public benchmark::BenchmarkReporter {
 public:
  explicit Quiet(std::string aggregate) : aggregate_(std::move(aggregate)) {}
  bool ReportContext(const Context&) override { return true; }
  void ReportRuns(const std::vector<Run>& runs) override {
    for (const Run& r : runs)
      if (r.run_type == Run::RT_Aggregate && r.aggregate_name == aggregate_)
        seconds = r.GetAdjustedRealTime() * 1e-9;
  }
  double seconds = 0;

 private:
  std::string aggregate_;
};

double measured(const char* aggregate, const std::string& name, const std::function<void()>& work,
                int repetitions) {
  std::fprintf(stderr, "%s\n", name.c_str());
  benchmark::ClearRegisteredBenchmarks();
  benchmark::RegisterBenchmark(name.c_str(),
                               [&](benchmark::State& state) {
                                 for (auto _ : state) work();
                               })
      ->Repetitions(repetitions)
      ->MinTime(0.02)
      ->UseRealTime()
      ->Unit(benchmark::kNanosecond)
      ->ComputeStatistics("least",
                          [](const std::vector<double>& all) { return *std::ranges::min_element(all); })
      ->ReportAggregatesOnly();
  Quiet quiet(aggregate);
  benchmark::RunSpecifiedBenchmarks(&quiet);
  return quiet.seconds;
}

}  // namespace

const Document& ferryman(size_t points) {
  static std::map<size_t, Document> made;
  auto& d = made[points];
  if (!d.sculpt) {
    std::fprintf(stderr, "making the ferryman with %zu points\n", points);
    // four times the points of one that is there, where so many are wanted that sculpting them takes minutes
    if (points > 4'000'000) return d = *withRefinement(ferryman(points / 4), {});
    const auto sculpt = std::make_shared<const Sculpt>(*demo::makeSculpt(demo::Figure::Ferryman, points));
    d = *demo::dressed(demo::Figure::Ferryman, sculpt, *buildSurface(*sculpt));
  }
  return d;
}

double secondsOf(const std::string& name, const std::function<void()>& work, int repetitions) {
  return measured("median", name, work, repetitions);
}

double leastSecondsOf(const std::string& name, const std::function<void()>& work, int repetitions) {
  return measured("least", name, work, repetitions);
}

void add(Row row) {
  std::fprintf(stderr, "  %s: %s, ratio %s\n", row.what.c_str(), row.measured.c_str(), row.ratio.c_str());
  table.push_back(std::move(row));
}

const std::vector<Row>& rows() {
  return table;
}

std::string milliseconds(double seconds) {
  return seconds < 1e-3 ? fmt::format("{:.1f} µs", seconds * 1e6)
         : seconds < 1  ? fmt::format("{:.1f} ms", seconds * 1e3)
                        : fmt::format("{:.2f} s", seconds);
}

}  // namespace juvenor::bench

int main(int argc, char** argv) {
  using namespace juvenor::bench;
  qputenv("QT_QPA_PLATFORM", "offscreen");
  const QApplication application(argc, argv);
  benchmark::Initialize(&argc, argv);
  const std::pair<std::string, void (*)()> all[] = {
      {"painting", benchPainting}, {"composite", benchComposite}, {"pen", benchPen},
      {"easel", benchEasel},       {"channels", benchChannels},   {"surface", benchSurface},
      {"zones", benchZones},       {"markings", benchMarkings},   {"patterns", benchPatterns},
      {"dragging", benchDragging}, {"filters", benchFilters},     {"files", benchFiles},
      {"opening", benchOpening},   {"memory", benchMemory},       {"photos", benchPhotos},
      {"textures", benchTextures}, {"grafts", benchGrafts},       {"carry", benchCarry},
      {"stacks", benchStacks},     {"showing", benchShowing}};
  for (const auto& [name, run] : all)
    if (argc < 2 || name == argv[1]) run();
  fmt::print("| What | Measured | Limit, same run | Ratio | Aim |\n|---|---|---|---|---|\n");
  for (const Row& r : rows())
    fmt::print("| {} | {} | {} | {} | {} |\n", r.what, r.measured, r.limit, r.ratio, r.aim);
  return 0;
}
