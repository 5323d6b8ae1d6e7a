// What the benchmarks share: the sculpts they run on, timing by Google Benchmark, and the table they fill.
#pragma once

#include <functional>
#include <map>
#include <string>
#include <vector>

#include "core/document/document.h"
#include "core/layers/sources/patterns.h"

namespace juvenor::bench {

/// The ferryman with about so many points; made once a run.
const Document& ferryman(size_t points);

/// Seconds of one call of `work`, the median of `repetitions` measured by Google Benchmark.
double secondsOf(const std::string& name, const std::function<void()>& work, int repetitions = 7);
/// The same, but the least of them: what the work takes when nothing else runs meanwhile.
double leastSecondsOf(const std::string& name, const std::function<void()>& work, int repetitions = 15);

/// One row of the table: what was measured, against what limit, and how the two compare.
struct Row {
  std::string what, measured, limit, ratio, aim;
};
void add(Row row);
const std::vector<Row>& rows();

std::string milliseconds(double seconds);

/// The patterns that are measured, as they suit the document.
struct BenchedPatterns {
  Scales scales;
  Bands bands;
  Spots spots;
  FineSkin skin;
};
BenchedPatterns benchedPatterns(const Document& d);

void benchPainting();
void benchComposite();
void benchPen();
void benchEasel();
void benchChannels();
void benchSurface();
void benchZones();
void benchMarkings();
void benchPatterns();
void benchDragging();
void benchFilters();
void benchFiles();
void benchOpening();
void benchMemory();
void benchPhotos();
void benchTextures();
void benchGrafts();
void benchCarry();
void benchStacks();
void benchShowing();

}  // namespace juvenor::bench
