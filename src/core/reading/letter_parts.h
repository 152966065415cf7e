// Which pieces of a word's ink are which of its letters. Internal.
#pragma once

#include <opencv2/core.hpp>

#include <string>
#include <vector>

namespace yelvin {

// From left to right; those that stand above each other, as an i and its dot, are one.
std::vector<cv::Rect> side_by_side(std::vector<cv::Rect> pieces);

// Some letters of a word that touch, or one that is in pieces.
struct LetterPart {
    cv::Rect box;
    size_t first = 0, letters = 0; // of the word
};

// The letters that the pieces are (each beside the one before), by how wide both are; none where it cannot be.
std::vector<LetterPart> letter_parts(const std::vector<cv::Rect>& pieces, const std::string& word);

}
