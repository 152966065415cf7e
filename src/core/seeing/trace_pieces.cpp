#include "core/seeing/trace_pieces.h"

#include <algorithm>

namespace yelvin {

namespace {

bool is_punch_hole(const TracePiece& piece, cv::Size page, double dpi) {
    // Hole punches cut 5.5 to 8 mm, 8 to 15 mm from the edge (ISO 838 has 6 mm at 12 mm).
    const int longer = std::max(piece.box.width, piece.box.height),
              shorter = std::min(piece.box.width, piece.box.height);
    const double longer_mm = px_to_mm(longer, dpi);
    const cv::Point middle = (piece.box.tl() + piece.box.br()) / 2;
    const int to_edge = std::min({middle.x, middle.y, page.width - middle.x, page.height - middle.y});
    return longer_mm > 4.5 && longer_mm < 9 && shorter > 0.8 * longer && piece.area_px > 0.62 * piece.box.area() &&
           px_to_mm(to_edge, dpi) < 20;
}

}

std::vector<TracePiece> large_pieces(const cv::Mat& mask, double dpi) {
    constexpr double rim_mm = 3, largest_speck_mm = 1.1;
    const int rim = static_cast<int>(mm_to_px(rim_mm, dpi));
    const cv::Rect inner(rim, rim, mask.cols - 2 * rim, mask.rows - 2 * rim);
    const InkPieces all = InkPieces::of(mask);
    constexpr size_t none = static_cast<size_t>(-1);
    std::vector<size_t> place(all.pieces().size(), none);
    std::vector<TracePiece> out;
    for (size_t i = 0; i < all.pieces().size(); ++i) {
        const InkPiece& piece = all.pieces()[i];
        if ((piece.box & inner) != piece.box ||
            std::max(piece.box.width, piece.box.height) < mm_to_px(largest_speck_mm, dpi))
            continue;
        TracePiece large{piece.box, piece.area, {}};
        if (is_punch_hole(large, mask.size(), dpi)) continue;
        place[i] = out.size();
        out.push_back(std::move(large));
    }
    for (const InkPieces::Run& run : all.runs())
        if (place[run.piece] != none) out[place[run.piece]].runs.push_back(run);
    return out;
}

void put_letters_back(cv::Mat& mask, const Marks& marks) {
    constexpr double least_mm = 8, most_mm = 16, as_wide = 0.25;
    InkPieces::of(marks.all).set(mask, 255, [&](const InkPiece& piece) {
        const double longer = px_to_mm(std::max(piece.box.width, piece.box.height), marks.dpi),
                     shorter = px_to_mm(std::min(piece.box.width, piece.box.height), marks.dpi);
        return longer >= least_mm && longer <= most_mm && shorter >= as_wide * longer;
    });
}

}
