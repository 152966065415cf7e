// The single facts of a page, which facts_of_page() combines. Internal to core/paper_facts. Pure functions that return
// nullopt if the fact is not found.
#pragma once

#include "core/paper_facts/paper_facts.h"
#include "core/paper_facts/paper_parts.h"

namespace yelvin {

std::optional<PaperFact> date_on(const PaperPage& page, const PaperWords& words, std::chrono::year_month_day today);
std::optional<PaperFact> kind_on(const PaperPage& page, const PaperWords& words);
std::optional<PaperFact> number_on(const PaperPage& page, const PaperWords& words, const std::string& kind);
std::optional<PaperFact> sender_on(const PaperPage& page, const PaperWords& words);
std::optional<PaperFact> total_on(const PaperPage& page, const PaperWords& words);
std::optional<PaperFact> heading_on(const PageText& text, const PaperPage& page, const PaperWords& words,
                                    const std::optional<PaperFact>& sender);

// Recognising the parts of the addressee's block.
bool has_postcode(const PaperPart& part);
bool is_line_with_marks(const PaperPart& part);  // "Name · Street 3 · 12345 Place", with any separators
bool begins_with_a_title(const PaperPart& part); // "Madame", "t.a.v."
std::vector<const PaperPart*> addressee_on(const PaperPage& page, const PaperWords& words);

}
