// Room for many values that begin as zero and of which most are touched late or never: the pages come from
// the system when they are first written, so making it costs nothing.
#pragma once

#include <cstdlib>
#include <memory>
#include <new>
#include <span>
#include <type_traits>

namespace juvenor {

template <class T>
class Zeroed {
  // all bits zero are the value zero
  static_assert(std::is_trivially_copyable_v<T> && std::is_trivially_destructible_v<T>);

 public:
  explicit Zeroed(size_t count) : size_(count), values_(static_cast<T*>(std::calloc(count, sizeof(T)))) {
    if (count > 0 && !values_) throw std::bad_alloc();
  }
  size_t size() const { return size_; }
  T& operator[](size_t i) { return values_.get()[i]; }
  const T& operator[](size_t i) const { return values_.get()[i]; }
  operator std::span<const T>() const { return {values_.get(), size_}; }

 private:
  struct Free {
    void operator()(T* values) const { std::free(values); }
  };
  size_t size_;
  std::unique_ptr<T, Free> values_;
};

}  // namespace juvenor
