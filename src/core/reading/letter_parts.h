// Which pieces of a word's ink are which of its letters. Internal.
#pragma once

#include <opencv2/core.hpp>

#include <string>
#include <vector>

namespace yelvin {

// From left to right; those that stand above each other, as an i and its dot, are one.
std::vector<cv::Rect> side_by_side(std::vector<cv::Rect> pieces);

// Up to which level a page of 8 bits that is black on white has ink, by Otsu's threshold over every eighth row: of all
// of them OpenCV would make another page meanwhile.
double ink_level(const cv::Mat& grey);

// The pieces of a word's ink (not 0 where it is), but for those of fewer dots, side by side.
std::vector<cv::Rect> letter_pieces(const cv::Mat1b& ink, int least_area);

// Some letters of a word that touch, or one that is in pieces.
struct LetterPart {
    cv::Rect box;
    size_t first = 0, letters = 0; // of the word
};

// The letters that the pieces are (each beside the one before), by how wide both are; none where it cannot be.
std::vector<LetterPart> letter_parts(const std::vector<cv::Rect>& pieces, const std::string& word);
// The same, but each piece a letter where there are as many: in a face whose letters are all of one width their widths
// say nothing.
std::vector<LetterPart> letters_in(const std::vector<cv::Rect>& pieces, const std::string& word);

}
