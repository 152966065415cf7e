// Names made from the facts read on a document and from the naming history. Pure functions.
#pragma once

#include "core/naming/file_name.h"
#include "core/naming/naming_history.h"
#include "core/paper_facts/paper_facts.h"

#include <vector>

namespace yelvin {

// Facts that are less certain than this are not used in names.
inline constexpr double certain_enough = 0.5;

// Returns the values for with_values(). `ticket` is the ticket's name. Facts that are not certain enough are left out.
NameValues name_values(const PaperFacts& says, const std::string& barcode, const std::string& ticket);

// A name proposed for a document.
struct NameProposal {
    std::string name;             // without extension
    std::string folder;           // empty: the ticket's folder
    std::string reason;           // shown to the user
    std::vector<PaperFact> facts; // the facts that are part of the name
    std::vector<long long> like;  // ids of the SavedDocuments that it follows
};

// Returns up to three different proposals, the best first. `alike` is the result of similar_documents().
std::vector<NameProposal> name_proposals(const PaperFacts& says, const std::vector<SimilarDocument>& alike,
                                         std::chrono::year_month_day scanned);

}
