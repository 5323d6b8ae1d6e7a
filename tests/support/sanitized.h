// Under the sanitizers everything takes ten times as long, and it is memory that is looked at, not numbers:
// there fewer rounds of the same do.
#pragma once

namespace juvenor::test {

#ifdef __SANITIZE_ADDRESS__
inline constexpr bool kSanitized = true;
#else
inline constexpr bool kSanitized = false;
#endif

}  // namespace juvenor::test
