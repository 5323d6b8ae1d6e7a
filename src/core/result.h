// Errors as values: what went wrong, where (file, line, byte), and what was expected instead.
#pragma once

#include <exception>
#include <new>
#include <string>
#include <utility>
#include <variant>

namespace juvenor {

struct Error {
  std::string what;
  std::string where = {};

  /// One sentence for a person: "where: what".
  std::string message() const { return where.empty() ? what : where + ": " + what; }
};

/// Either a value or an Error. Test with `if (result)`, then `*result` or `result.error()`.
template <class T>
class [[nodiscard]] Result {
 public:
  Result(T value) : state_(std::in_place_index<0>, std::move(value)) {}
  Result(Error error) : state_(std::in_place_index<1>, std::move(error)) {}

  explicit operator bool() const { return state_.index() == 0; }
  T& operator*() & { return std::get<0>(state_); }
  const T& operator*() const& { return std::get<0>(state_); }
  T&& operator*() && { return std::get<0>(std::move(state_)); }
  T* operator->() { return &std::get<0>(state_); }
  const T* operator->() const { return &std::get<0>(state_); }
  const Error& error() const { return std::get<1>(state_); }

 private:
  std::variant<T, Error> state_;
};

struct Done {};
using Outcome = Result<Done>;

/// What `work` gives; an exception of a library on the way, or memory that does not suffice, becomes its
/// error.
template <class Work>
auto caught(Work&& work) -> decltype(work()) {
  try {
    return work();
  } catch (const std::bad_alloc&) {
    return Error{"there is not enough memory for it; everything is as it was"};
  } catch (const std::exception& e) {
    return Error{std::string("a library gave up: ") + e.what()};
  }
}

}  // namespace juvenor
