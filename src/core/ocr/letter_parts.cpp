#include "core/ocr/letter_parts.h"

#include "core/raster/ink_pieces.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cmath>
#include <string_view>
#include <utility>

namespace yelvin {

namespace {

// The approximate width of a letter relative to an average one (common practice, no source).
double usual_width(char c) {
    constexpr std::string_view narrow = "ijl|.,:;!'", slim = "frtI()[]-\"1", wide = "mwMW";
    return narrow.contains(c) ? 0.35 : slim.contains(c) ? 0.6 : wide.contains(c) ? 1.5 : 1;
}

}

std::vector<cv::Rect> stacked_pieces_joined(std::vector<cv::Rect> pieces) {
    std::ranges::sort(pieces, {}, &cv::Rect::x);
    std::vector<cv::Rect> out;
    for (const cv::Rect& piece : pieces) {
        const bool above = !out.empty() && 2 * (std::min(piece.br().x, out.back().br().x) - piece.x) >
                                               std::min(piece.width, out.back().width);
        if (above)
            out.back() |= piece;
        else
            out.push_back(piece);
    }
    return out;
}

double ink_level(const cv::Mat& grey) {
    constexpr int apart = 8;
    const cv::Mat some(std::max(1, grey.rows / apart), grey.cols, grey.type(), grey.data, grey.step[0] * apart);
    cv::Mat ignored;
    return cv::threshold(some, ignored, 0, 255, cv::THRESH_BINARY | cv::THRESH_OTSU);
}

std::vector<cv::Rect> letter_pieces(const cv::Mat1b& ink, int least_area) {
    const InkPieces all = InkPieces::of(ink);
    std::vector<cv::Rect> pieces;
    for (const InkPiece& piece : all.pieces())
        if (piece.area >= least_area) pieces.push_back(piece.box);
    return stacked_pieces_joined(std::move(pieces));
}

std::vector<LetterPart> letter_parts(const std::vector<cv::Rect>& pieces, const std::string& word) {
    constexpr size_t most = 4;     // The most letters that touch, and the most pieces of one letter.
    constexpr double broken = 0.4; // what a letter's second piece costs, as much as a width that is so far off (log)
    double all = 0, ink = 0;
    for (const char c : word) all += usual_width(c);
    for (const cv::Rect& piece : pieces) ink += piece.width;
    struct Step {
        double cost = 1e9;
        size_t pieces = 0, letters = 0;
    };
    std::vector<std::vector<Step>> best(pieces.size() + 1, std::vector<Step>(word.size() + 1));
    best[0][0].cost = 0;
    const auto step = [&](size_t piece, size_t letter, size_t with, size_t of) {
        double width = 0;
        for (size_t i = letter; i < letter + of; ++i) width += ink / all * usual_width(word[i]);
        const int wide = pieces[piece + with - 1].br().x - pieces[piece].x;
        const double cost =
            best[piece][letter].cost + std::abs(std::log(wide / width)) + broken * static_cast<double>(with - 1);
        if (Step& there = best[piece + with][letter + of]; cost < there.cost) there = {cost, with, of};
    };
    for (size_t piece = 0; piece < pieces.size(); ++piece)
        for (size_t letter = 0; letter < word.size(); ++letter) {
            for (size_t of = 1; of <= most && letter + of <= word.size(); ++of) step(piece, letter, 1, of);
            for (size_t with = 2; with <= most && piece + with <= pieces.size(); ++with) step(piece, letter, with, 1);
        }
    std::vector<LetterPart> parts;
    for (size_t piece = pieces.size(), letter = word.size(); piece > 0;) {
        const Step& last = best[piece][letter];
        if (last.pieces == 0) return {};
        piece -= last.pieces;
        letter -= last.letters;
        cv::Rect box;
        for (size_t i = piece; i < piece + last.pieces; ++i) box |= pieces[i];
        parts.insert(parts.begin(), {box, letter, last.letters});
    }
    return parts;
}

std::vector<LetterPart> letters_in(const std::vector<cv::Rect>& pieces, const std::string& word) {
    if (pieces.size() != word.size()) return letter_parts(pieces, word);
    std::vector<LetterPart> parts;
    for (const cv::Rect& piece : pieces) parts.push_back({piece, parts.size(), 1});
    return parts;
}

}
