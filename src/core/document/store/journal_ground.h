// What a journal goes on from. It holds differences against steps of a document file; a save that drops one
// of them, or another document in its place, would leave the journal hanging in the air. So the file as it
// was is copied beside the journal first, and recovery takes whichever still holds what the journal needs.
#pragma once

#include "core/document/store/store.h"

namespace juvenor {

/// Where the copy for a journal lies, when there is one.
std::filesystem::path groundCopyOf(const std::filesystem::path& journal);

/// The place in a journal's `order` of steps from which on it can be read, when it holds `stored` of them and
/// the file it goes on from has `base`, whose first is written in full: 0, or behind the last that gave way
/// to the memory budget. Nothing when a step is missing that later ones stand on.
std::optional<size_t> firstThatStands(std::span<const uint64_t> order, const std::set<uint64_t>& stored,
                                      std::span<const uint64_t> base);

/// To be called before the document at `path` comes to hold just the steps `left`: every journal in `folder`
/// that goes on from it, and could not be read then, gets a copy of the file as it is now. Journals that
/// cannot be read themselves are passed over.
Outcome keepGrounds(const std::filesystem::path& folder, const std::filesystem::path& path,
                    std::span<const uint64_t> left);

}  // namespace juvenor
