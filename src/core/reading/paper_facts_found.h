// The single facts of a paper's page; what_paper_says() puts them together.
#pragma once

#include "core/reading/paper_parts.h"
#include "core/reading/paper_says.h"

namespace yelvin {

std::optional<PaperFact> date_on(const PaperPage& page, const PaperWords& words, std::chrono::year_month_day today);
std::optional<PaperFact> kind_on(const PaperPage& page, const PaperWords& words);
std::optional<PaperFact> number_on(const PaperPage& page, const PaperWords& words, const std::string& kind);
std::optional<PaperFact> sender_on(const PaperPage& page, const PaperWords& words);
std::optional<PaperFact> total_on(const PaperPage& page, const PaperWords& words);
std::optional<PaperFact> heading_on(const PageText& text, const PaperPage& page, const PaperWords& words,
                                    const std::optional<PaperFact>& sender);

// Whose paper it is for: the parts of the addressee's block.
bool has_postcode(const PaperPart& part);
bool is_line_with_marks(const PaperPart& part);  // "Name · Street 3 · 12345 Place", whatever the marks are read as
bool begins_with_a_title(const PaperPart& part); // "Madame", "t.a.v.": it is for them
std::vector<const PaperPart*> addressee_on(const PaperPage& page, const PaperWords& words);

}
