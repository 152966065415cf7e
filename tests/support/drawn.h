// Documents with known words that are saved in every format, and what other programs find in the files.
#pragma once

#include "jobs/save_job.h"
#include "support/support.h"

#include <nlohmann/json.hpp>

#include <string>
#include <vector>

namespace yelvin::test {

inline constexpr double drawn_dpi = 150;
using Rows = std::vector<std::vector<std::string>>;

// An A4 page with bars of ink in place of its words.
class Drawn {
  public:
    Raster page{cv::Mat(1754, 1240, CV_8UC1, cv::Scalar(250)), drawn_dpi, Ink::Grey};
    TextLayer text{{}, 1240, 1754, "eng"};

    // Letters are `tall` px high; words follow each other, or are at the given places.
    Drawn& line(int x, int y, const std::string& words, int tall = 20, bool bold = false, std::vector<int> at = {});
};

// A heading of each size, paragraphs with a hyphenated word, a list, a table, a picture; and a second page that lies on
// its side.
std::vector<Drawn> drawn_document();
// The words in the order of running text.
std::vector<std::string> words_of(const std::vector<Drawn>& pages);

// One document of these pages, named Rules.
Result<std::vector<MadeFile>> made_of(const std::vector<Drawn>& pages, const std::filesystem::path& folder,
                                      const Ticket::Make& make);
Ticket::Make make_as(Format format, Per per = Per::Document);

// Returns what tests/support/others.py prints about it.
nlohmann::json read_by_others(const std::string& kind, const std::filesystem::path& file);

}
