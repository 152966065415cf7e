// Which pieces seem to fit each other, pair by pair, and how: guesses from features for every pair, a patient search
// for those that hang on nothing.
#pragma once

#include "core/stitch/layout.h"

#include <mutex>
#include <set>

namespace yelvin {

// A pair that seems to fit.
struct Candidate {
    size_t a = 0, b = 0; // a < b
    Fit fit;
    bool ambiguous = false; // it fits in another way nearly as well
    bool likely = false;    // no more than that
};

class Pairs {
  public:
    Pairs(const std::vector<PieceLookPtr>& looks, std::shared_ptr<PairMemory> memory, std::stop_token stop);

    void match_all(const TellShare& progress); // side by side; progress from 0 to 1
    void search(size_t a, size_t b);           // everywhere, where guesses led to nothing
    bool was_searched(size_t a, size_t b) const { return searched_.contains({a, b}); }
    double searched_share() const; // of all pairs

    // Those of match_all() by their pieces' numbers, whatever order they were found in; those of search() behind them.
    const std::vector<Candidate>& candidates() const { return candidates_; }
    // The pair that would nearly have held `piece` to one of `others`; null where there is none.
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
