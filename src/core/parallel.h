// A loop over independent items on all cores. The loop itself is compiled once (parallel.cpp), whatever its
// body: what is made anew for each body is one plain loop over a stretch, which is a tenth of what a template
// of the library's makes.
#pragma once

#include <atomic>
#include <cstddef>
#include <functional>
#include <type_traits>
#include <utility>

namespace juvenor {

/// Cuts begin … end into stretches of `grain` items, or more where every core has enough, and calls
/// `stretch(body, first, last)` for each, on all cores. Throws what that throws.
void runStretches(size_t begin, size_t end, size_t grain, void* body,
                  void (*stretch)(void* body, size_t first, size_t last));

/// Calls `body(begin, end)` for stretches that together are the given one, of `grain` items and more.
template <class Body>
void parallelStretches(size_t begin, size_t end, size_t grain, Body&& body) {
  using Plain = std::remove_reference_t<Body>;
  const auto stretch = [](void* b, size_t first, size_t last) { (*static_cast<Plain*>(b))(first, last); };
  runStretches(begin, end, grain, const_cast<void*>(static_cast<const void*>(&body)), stretch);
}

/// Calls `body(i)` for every i below `count`, `grain` neighbours at a time on one core.
template <class Body>
void parallel(size_t count, Body&& body, size_t grain = 8192) {
  parallelStretches(0, count, grain, [&](size_t begin, size_t end) {
    for (size_t i = begin; i != end; ++i) body(i);
  });
}

/// The same for a few items of much work each.
template <class Body>
void parallelEach(size_t count, Body&& body) {
  parallel(count, std::forward<Body>(body), 1);
}

/// The same for the rows begin … end of a picture.
template <class Body>
void parallelRows(int begin, int end, Body&& body) {
  if (begin < end)
    parallelEach(static_cast<size_t>(end - begin), [&](size_t i) { body(begin + static_cast<int>(i)); });
}

/// The same over begin … end. `stop` is asked before every few of them: a fraction of a millisecond where
/// each casts some rays. False when it said so; what was done by then is done.
template <class Body>
bool parallelUntil(size_t begin, size_t end, const std::function<bool()>& stop, Body&& body) {
  std::atomic<bool> stopped = false;
  parallelStretches(begin, end, 64, [&](size_t first, size_t last) {
    if (!stopped && stop && stop()) stopped = true;
    if (stopped) return;
    for (size_t i = first; i != last; ++i) body(i);
  });
  return !stopped;
}

}  // namespace juvenor
