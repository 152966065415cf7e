// Which pieces of a word's ink are which of its letters. Internal.
#pragma once

#include <opencv2/core.hpp>

#include <string>
#include <vector>

namespace yelvin {

// From left to right; those that stand above each other, as an i and its dot, are one.
std::vector<cv::Rect> side_by_side(std::vector<cv::Rect> pieces);

// The highest grey level that counts as ink on a page of 8 bits that is black on white: Otsu's threshold over every
// eighth row, since OpenCV would otherwise allocate another picture of the page's size.
double ink_level(const cv::Mat& grey);

// The connected pieces of a word's ink (pixels that are not 0) with at least `least_area` dots, from left to right;
// pieces above each other are joined as in side_by_side.
std::vector<cv::Rect> letter_pieces(const cv::Mat1b& ink, int least_area);

// Some letters of a word that touch, or one that is in pieces.
struct LetterPart {
    cv::Rect box;
    size_t first = 0, letters = 0; // of the word
};

// The letters that the pieces are (each beside the one before), by how wide both are; none where it cannot be.
std::vector<LetterPart> letter_parts(const std::vector<cv::Rect>& pieces, const std::string& word);
// The same, but if there are as many pieces as letters, each piece is one letter: in a monospaced face the widths of
// letters say nothing.
std::vector<LetterPart> letters_in(const std::vector<cv::Rect>& pieces, const std::string& word);

}
