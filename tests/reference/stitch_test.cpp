// Stitching against known truth: things larger than the glass, scanned in pieces by the simulated scanner.
#include "core/stitch/compose.h"
#include "support/pieces.h"

#include <chrono>
#include <fmt/format.h>

namespace yelvin::test {
namespace {

std::vector<PieceLookPtr> looks_of(const PieceSet& set) {
    std::vector<PieceLookPtr> out;
    for (size_t i = 0; i < set.pieces.size(); ++i)
        out.push_back(look_at_piece(fmt::format("piece {}", i + 1), set.pieces[i].raster));
    return out;
}

TEST(Stitch, HardSetsAreSolved) {
    const TempFolder folder;
    for (const PieceSet& set : hard_sets(folder.path())) {
        const auto t0 = std::chrono::steady_clock::now();
        const auto looks = looks_of(set);
        const auto t1 = std::chrono::steady_clock::now();
        const auto layout = find_layout(looks);
        const auto t2 = std::chrono::steady_clock::now();
        std::vector<Pose> found, truth;
        std::vector<SizeMm> sizes;
        std::string note;
        for (size_t i = 0; i < set.pieces.size(); ++i) {
            const PlacedPiece& p = layout->pieces[i];
            if (p.placed && set.pieces[i].belongs) {
                found.push_back(p.pose);
                truth.push_back(set.pieces[i].to_object);
                sizes.push_back(looks[i]->size);
            }
            if (p.placed != set.pieces[i].belongs)
                note += fmt::format("\n     {} {}", p.placed ? "FALSE" : "missing", i + 1) + p.reason;
            else if (!p.placed)
                note += "\n     ok: " + p.reason;
        }
        const CornerErrors e = corner_errors(found, truth, sizes);
        const auto ms = [](auto a, auto b) { return std::chrono::duration<double, std::milli>(b - a).count(); };
        fmt::print("{:38} {}/{} worst {:.3f} px mean {:.3f} px   looks {:.0f} ms layout {:.0f} ms  {}x{} seams {}{}\n",
                   set.name, found.size(), set.pieces.size(), e.worst_mm * 150 / 25.4, e.mean_mm * 150 / 25.4,
                   ms(t0, t1), ms(t1, t2), layout->size.width, layout->size.height, layout->seams.size(), note);
        for (auto& s : layout->seams)
            if (!s.doubt.empty())
                fmt::print("     seam {} {} agr {:.2f} off {:.3f}: {}\n", s.a + 1, s.b + 1, s.agreement, s.off_mm,
                           s.doubt);
        for (auto& w : layout->warnings) fmt::print("     {}\n", w);
    }
}

}
}
