// Names from what a paper says of itself and from what was saved before.
#pragma once

#include "core/reading/paper_says.h"
#include "core/saving/file_name.h"
#include "core/saving/saved_before.h"

#include <vector>

namespace yelvin {

inline constexpr double sure_enough = 0.5; // what is less sure is proposed at most, never taken for a name unasked

// `ticket`: its name.
NameValues name_values(const PaperSays& says, const std::string& barcode, const std::string& ticket);

struct NameProposal {
    std::string name;             // without extension
    std::string folder;           // empty: where the ticket says
    std::string reason;           // for people
    std::vector<PaperFact> facts; // what of it stands on the paper
    std::vector<long long> like;  // ids of what was saved before
};

// Up to three different ones, the best first. `alike` are those that the paper is like, the most alike first.
std::vector<NameProposal> name_proposals(const PaperSays& says, const std::vector<AlikePaper>& alike,
                                         std::chrono::year_month_day scanned);

}
