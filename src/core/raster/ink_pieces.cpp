#include "core/raster/ink_pieces.h"

#include <algorithm>
#include <cstdint>
#include <cstring>

namespace yelvin {

namespace {

size_t first_of(std::vector<size_t>& belongs, size_t piece) {
    while (belongs[piece] != piece) piece = belongs[piece] = belongs[belongs[piece]];
    return piece;
}

// Most of a page is paper, so eight pixels are skipped at once.
const uchar* next_ink(const uchar* pixel, const uchar* end) {
    std::uint64_t eight = 0;
    while (end - pixel >= 8 && (std::memcpy(&eight, pixel, 8), eight == 0)) pixel += 8;
    return std::find_if(pixel, end, [](uchar v) { return v != 0; });
}

}

InkPieces::InkPieces(cv::Size size, const Row& row) {
    std::vector<size_t> belongs; // each piece to itself, or to one that it was found to hang together with
    size_t above = 0, above_end = 0;
    for (int y = 0; y < size.height; ++y) {
        const uchar *pixels = row(y), *end = pixels + size.width;
        const size_t begin = runs_.size();
        size_t at = above;
        for (const uchar* pixel = pixels;;) {
            pixel = next_ink(pixel, end);
            if (pixel == end) break;
            const uchar* stop = std::find(pixel, end, uchar{0});
            Run run{y, static_cast<int>(pixel - pixels), static_cast<int>(stop - pixels), belongs.size()};
            pixel = stop;
            while (at < above_end && runs_[at].to < run.from) ++at;
            bool joined = false;
            for (size_t k = at; k < above_end && runs_[k].from <= run.to; ++k) {
                const size_t other = first_of(belongs, runs_[k].piece);
                if (joined)
                    belongs[other] = first_of(belongs, run.piece);
                else
                    run.piece = other, joined = true;
            }
            if (!joined) belongs.push_back(run.piece);
            runs_.push_back(run);
        }
        above = begin, above_end = runs_.size();
    }
    join_up(belongs);
}

// Numbers the remaining pieces and sums up their measures.
void InkPieces::join_up(std::vector<size_t>& belongs) {
    constexpr size_t none = static_cast<size_t>(-1);
    std::vector<size_t> number(belongs.size(), none);
    for (Run& run : runs_) {
        size_t& mine = number[first_of(belongs, run.piece)];
        if (mine == none) {
            mine = pieces_.size();
            pieces_.emplace_back();
        }
        run.piece = mine;
        InkPiece& piece = pieces_[mine];
        piece.box |= cv::Rect{run.from, run.y, run.to - run.from, 1};
        piece.area += run.to - run.from;
    }
}

InkPieces InkPieces::darker_than(double under, const cv::Mat& grey) {
    cv::Mat row;
    return {grey.size(), [&](int y) {
                row = grey.row(y) < under;
                return row.ptr();
            }};
}

InkPieces InkPieces::of(const cv::Mat& mask) {
    return {mask.size(), [&](int y) { return mask.ptr(y); }};
}

void InkPieces::set(cv::Mat& onto, uchar level, const std::function<bool(const InkPiece&)>& meant) const {
    std::vector<char> is_meant;
    is_meant.reserve(pieces_.size());
    for (const InkPiece& piece : pieces_) is_meant.push_back(meant(piece) ? 1 : 0);
    for (const Run& run : runs_)
        if (is_meant[run.piece]) std::fill(onto.ptr(run.y) + run.from, onto.ptr(run.y) + run.to, level);
}

}
