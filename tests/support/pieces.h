// Items larger than the glass, scanned in pieces by the simulated scanner; the true place of each piece is known. Every
// kind that is hard in its own way: text, drawings, photographs, tables, plans that are nearly empty. Always the same.
#pragma once

#include "core/stitch/layout.h"
#include "support/support.h"

namespace yelvin::test {

struct TruePiece {
    Raster raster;
    Pose to_object;      // from mm of the piece to mm of the thing itself
    bool belongs = true; // false: of something else
};

struct PieceSet {
    std::string name;
    std::filesystem::path file; // the thing itself
    SizeMm size;
    std::vector<TruePiece> pieces;
};

enum class ObjectKind { Text, Drawing, Photograph, Table, Plan };

// The position on the glass.
struct Laying {
    int columns = 2, rows = 1;
    double overlap = 0.12; // of a piece
    double most_tilt = 4;  // degrees, either way
    bool any_way_round = true;
    double most_brighter = 0.08;
    double grain = 2.5; // grey levels
    double dpi = 150;
    Ink ink = Ink::Colour;
    int strangers = 0; // pieces of something else among them
    SizeMm glass{150, 210};
};

PieceSet laid_in_pieces(const std::filesystem::path& folder, const std::string& name, ObjectKind kind, unsigned seed,
                        const Laying& laying);

// The item itself without grain and evenly lit, as one scan: what the stitched picture should be.
Raster whole(const PieceSet& set, double dpi, Ink ink);

// The sets by which stitching is measured, one by one or all.
enum class HardSet {
    TextOfTwo,
    TextOfSixAndAStranger,
    DrawingOfTwo,
    DrawingOfNine,
    DrawingOfTwelve,
    PhotographOfTwo,
    PhotographOfFourAndAStranger,
    PhotographOfSix,
    TableOfTwo,
    TableOfFour,
    TableOfEight,
    PlanOfTwo,
    PlanOfFour,
    PlanOfNine
};
inline constexpr int hard_set_count = 14;
PieceSet hard_set(const std::filesystem::path& folder, HardSet which);
std::vector<PieceSet> hard_sets(const std::filesystem::path& folder);

// The largest and mean errors of the corners of the pieces in mm, after the best rigid alignment of all of them
// together.
struct CornerErrors {
    double worst_mm = 0, mean_mm = 0;
};
CornerErrors corner_errors(const std::vector<cv::Point2d>& found, const std::vector<cv::Point2d>& truth);
CornerErrors corner_errors(const std::vector<Pose>& found, const std::vector<Pose>& truth,
                           const std::vector<SizeMm>& sizes);

}
