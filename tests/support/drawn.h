// Documents with known words that are made into files of every kind, and what other programs find in those.
#pragma once

#include "jobs/save_job.h"
#include "support/support.h"

#include <nlohmann/json.hpp>

#include <string>
#include <vector>

namespace yelvin::test {

inline constexpr double drawn_dpi = 150;
using Rows = std::vector<std::vector<std::string>>;

// An A4 page whose words are bars of ink where they stand.
class Drawn {
  public:
    Raster page{cv::Mat(1754, 1240, CV_8UC1, cv::Scalar(250)), drawn_dpi, Ink::Grey};
    TextLayer text{{}, 1240, 1754, "eng"};

    // `tall` px of letters; words one behind the other, or at the given places.
    Drawn& line(int x, int y, const std::string& words, int tall = 20, bool bold = false, std::vector<int> at = {});
};

// A heading of each size, paragraphs with a parted word, a list, a table, a picture; a second page, lying.
std::vector<Drawn> drawn_document();
// The words as running text has them.
std::vector<std::string> words_of(const std::vector<Drawn>& pages);

// One document of these pages, named Rules.
Result<std::vector<MadeFile>> made_of(const std::vector<Drawn>& pages, const std::filesystem::path& folder,
                                      const Ticket::Make& make);
Ticket::Make make_as(Format format, Per per = Per::Document);

// What tests/support/others.py says of it.
nlohmann::json read_by_others(const std::string& kind, const std::filesystem::path& file);

}
