// Saved documents that left the tray, and for how long their originals are kept, so that such a document can come back
// and be corrected. TrayStore stores them; everything here is a value.
#pragma once

#include "core/tray/tray.h"

#include <chrono>
#include <cstdint>
#include <span>
#include <vector>

namespace yelvin {

// A saved document that is no longer in the tray and whose originals still exist.
struct KeptDocument {
    DocumentPtr document;
    std::chrono::sys_seconds left{}; // when it left the tray
    std::uint64_t bytes = 0;         // size of its originals on disk
};

// How long kept documents stay, and how much of the disk all of them may use.
struct KeepingRule {
    std::chrono::days longest{30};
    std::uint64_t most_bytes = 10'000'000'000;
    bool operator==(const KeepingRule&) const = default;
};

// Returns for each document whether the rule deletes it at the time `now`. `kept` must be ordered by `left`, oldest
// first. Walks from newest to oldest: a document older than `longest` is deleted, and as soon as the total exceeds
// `most_bytes`, this document and all older ones are deleted, even small ones.
std::vector<bool> expired_by_rule(std::span<const KeptDocument> kept, const KeepingRule& rule,
                                  std::chrono::sys_seconds now);

}
