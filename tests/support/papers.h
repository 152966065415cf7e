// Documents as an office receives them, drawn with known facts: kind, sender, date and number. In English, German,
// French and Dutch, in 32 layouts. All of it is invented.
#pragma once

#include "core/raster/raster.h"
#include "core/text/text_layer.h"

#include <chrono>
#include <string>

namespace yelvin::test {

inline constexpr size_t paper_layouts = 32;
inline constexpr double printed_dpi = 200;
inline constexpr std::chrono::year_month_day papers_scanned_on{std::chrono::year(2026), std::chrono::month(11),
                                                               std::chrono::day(27)};

// Empty: the document does not have it.
struct PaperTruth {
    std::string language; // Tesseract's name
    size_t layout = 0;
    std::string date; // 2026-03-04
    std::string sender, number, kind, total;
};

struct DrawnPaper {
    PaperTruth truth;
    std::string svg;   // A4
    TextLayer printed; // as a faultless reading has it, at printed_dpi
};

// Every index gives another document; after 128 of them each language was in every layout.
DrawnPaper drawn_paper(size_t index);
// A document of the sender with that number (0 to 11), in the language (0 to 3) and the layout.
DrawnPaper drawn_paper(size_t index, size_t language, size_t layout, size_t sender);

// A sender's name as it is written in a web address, which tells two of them apart.
std::string web_name(std::string name);

Raster scanned(const DrawnPaper& paper, double dpi, double angle_degrees = 0);

}
