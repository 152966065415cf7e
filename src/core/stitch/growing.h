// Growing groups of connected pieces from pairs that seem to fit. Pairs are accepted in the order of their certainty;
// each must agree with everything that its pieces would lie on. Internal to core/stitch.
#pragma once

#include "core/stitch/pairs.h"

#include <map>

namespace yelvin {

struct Grown {
    std::vector<Pose> poses;
    std::vector<size_t> group;         // number of the group of each piece
    std::vector<Candidate> taken;      // the pairs that were accepted
    std::vector<std::string> conflict; // for each piece: why a pair was rejected
    double evidence = 0;
    std::vector<size_t> largest() const; // the members of the largest group
};

class Growing {
  public:
    Growing(const std::vector<PieceLookPtr>& looks, std::stop_token stop) : looks_(looks), stop_(std::move(stop)) {}

    // Returns the groups with the most evidence. `likely_too`: pairs that are only likely are accepted too, after all
    // others.
    Grown best_of(const std::vector<Candidate>& candidates, bool likely_too);

  private:
    const std::vector<PieceLookPtr>& looks_;
    std::stop_token stop_;
    std::map<std::pair<size_t, size_t>, std::vector<std::pair<Pose, Fit>>> judged_; // by pose

    Grown grown_from(const std::vector<Candidate>& candidates, const std::set<size_t>& banned, bool likely_too);
    void take(Grown& grown, const Candidate& candidate);
    const Fit& overlap_at(size_t i, size_t j, const Pose& pose);
    bool contradicts(const std::vector<size_t>& one, const std::vector<size_t>& other, const std::vector<Pose>& poses,
                     const Pose& other_to_one, std::vector<Candidate>& more, std::pair<size_t, size_t>& culprit);
    void settle(Grown& grown, size_t group) const;
};

}
