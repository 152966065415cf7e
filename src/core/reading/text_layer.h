// What has been read on a page: words with their places, in reading order, line by line.
#pragma once

#include <opencv2/core.hpp>

#include <nlohmann/json.hpp>

#include <string>
#include <vector>

namespace yelvin {

struct Word {
    std::string text;      // UTF-8, not empty, as it is said: right-to-left letters too stand in the order of reading
    cv::Rect box;          // px of the page that was read, around the ink
    double confidence = 0; // 0 to 100
    bool bold = false;
    bool operator==(const Word&) const = default;
};

struct TextLine {
    std::vector<Word> words;                  // in the order of reading
    cv::Point2d baseline_start, baseline_end; // px; the line the letters stand on, from left to right
    double ascent_px = 0, descent_px = 0;     // above and below the baseline, to the tallest and deepest letters
    std::string language;                     // by Tesseract's name; empty: not known
    bool operator==(const TextLine&) const = default;
};

struct TextLayer {
    std::vector<TextLine> lines;
    int width_px = 0, height_px = 0; // of the page that was read, the lines level and upright
    std::string language;            // of most lines; empty: nothing was read
    int turned_degrees = 0;          // by so much the page was turned clockwise since: 0, 90, 180, 270
    bool operator==(const TextLayer&) const = default;

    int word_count() const;
    std::string text() const; // words with spaces where the language has them, lines with line ends
};

inline constexpr double doubtful_confidence = 60; // words under it are marked for a look

nlohmann::json to_json(const TextLayer& layer);
TextLayer text_layer_from_json(const nlohmann::json& json);

}
