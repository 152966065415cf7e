// Assigning the pieces of a word's ink to its letters. Internal to core/ocr. Pure functions.
#pragma once

#include <opencv2/core.hpp>

#include <string>
#include <vector>

namespace yelvin {

// Sorts pieces from left to right and joins those above each other, such as an i and its dot.
std::vector<cv::Rect> stacked_pieces_joined(std::vector<cv::Rect> pieces);

// Returns the highest grey level of ink on a CV_8UC1 page, black on white: Otsu's threshold over every eighth row,
// because OpenCV would otherwise allocate another picture of the page's size.
double ink_level(const cv::Mat& grey);

// Returns the connected components of a word's ink (pixels that are not 0) with at least `least_area` pixels, from left
// to right; pieces above each other are joined.
std::vector<cv::Rect> letter_pieces(const cv::Mat1b& ink, int least_area);

// Letters of a word that touch each other, or one letter that is in pieces.
struct LetterPart {
    cv::Rect box;
    size_t first = 0, letters = 0; // index of the first letter in the word, number of letters
};

// Assigns pieces, from left to right, to letters by the widths of both. Empty if that is impossible.
std::vector<LetterPart> letter_parts(const std::vector<cv::Rect>& pieces, const std::string& word);
// Assigns each piece to one letter if there are as many pieces as letters (in a monospaced face widths tell nothing);
// otherwise returns letter_parts().
std::vector<LetterPart> letters_in(const std::vector<cv::Rect>& pieces, const std::string& word);

}
