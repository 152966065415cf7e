// The result of OCR: words with their places, line by line in reading order. A value.
#pragma once

#include <opencv2/core.hpp>

#include <nlohmann/json.hpp>

#include <string>
#include <vector>

namespace yelvin {

struct Word {
    std::string text;      // UTF-8, not empty, in logical order
    cv::Rect box;          // bounding box of the ink, px of the page that was read
    double confidence = 0; // 0 to 100
    bool bold = false;
    bool operator==(const Word&) const = default;
};

struct TextLine {
    std::vector<Word> words;                  // in logical order
    cv::Point2d baseline_start, baseline_end; // px, from left to right
    double ascent_px = 0, descent_px = 0;     // from the baseline to the tallest and to the deepest letters
    std::string language;                     // Tesseract's name; empty: not known
    bool operator==(const TextLine&) const = default;
};

struct TextLayer {
    std::vector<TextLine> lines;
    int width_px = 0, height_px = 0; // of the page that was read, with its lines level and upright
    std::string language;            // of most lines; empty: no text was found
    int turned_degrees = 0;          // how far the page was turned clockwise since: 0, 90, 180, 270
    bool operator==(const TextLayer&) const = default;

    int word_count() const;
    std::string text() const; // with spaces between words if the language has them, and line ends
};

inline constexpr double doubtful_confidence = 60; // words below it are marked as doubtful

nlohmann::json to_json(const TextLayer& layer);
// Throws nlohmann::json::exception for values of other types.
TextLayer text_layer_from_json(const nlohmann::json& json);

}
