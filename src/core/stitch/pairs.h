// Finding pairs of pieces that seem to fit: guesses from features for every pair, and an exhaustive search for pieces
// that fit no other. Internal to core/stitch. Not thread-safe; uses threads of its own inside.
#pragma once

#include "core/stitch/layout.h"

#include <mutex>
#include <set>

namespace yelvin {

// A pair that seems to fit.
struct Candidate {
    size_t a = 0, b = 0; // a < b
    Fit fit;
    bool ambiguous = false; // another pose fits nearly as well
    bool likely = false;    // the fit is only likely
};

class Pairs {
  public:
    Pairs(const std::vector<PieceLookPtr>& looks, std::shared_ptr<PairMemory> memory, std::stop_token stop);

    void match_all(const TellShare& progress); // judges the guesses for all pairs, in parallel
    void search(size_t a, size_t b);           // searches all poses of a pair
    bool was_searched(size_t a, size_t b) const { return searched_.contains({a, b}); }
    double searched_share() const; // share of all pairs that were searched
    // The candidates of match_all(), sorted by their pieces, then those of search().
    const std::vector<Candidate>& candidates() const { return candidates_; }
    // Returns the best rejected pair of `piece` and one of `others`, or null.
    const Candidate* near_miss(size_t piece, const std::vector<size_t>& others) const;

  private:
    const std::vector<PieceLookPtr>& looks_;
    std::shared_ptr<PairMemory> memory_;
    std::stop_token stop_;
    std::vector<Candidate> candidates_;
    std::vector<std::vector<Candidate>> near_misses_; // by piece
    std::set<std::pair<size_t, size_t>> searched_;
    std::mutex guard_;

    void take_up(size_t a, size_t b, bool by_search);
    std::vector<Fit> fits_of(size_t a, size_t b, bool by_search);
};

}
