#include "core/reading/orientation.h"

#include "core/page/develop.h"
#include "core/page/tilt.h"
#include "core/raster/pix.h"

namespace yelvin {

namespace {

struct Vote {
    int turn_degrees = 0;
    double confidence = 0; // in standard deviations
};

// Leptonica's ascender and descender count (Bloomberg, Kopec and Dasari, SPIE 2422, 1995) on an upright or upside-down
// page.
Vote up_or_down(const Raster& page) {
    const Raster black = with_ink(at_resolution(page, 150), Ink::Black);
    const PixPtr pix = to_pix(black);
    l_float32 confidence = 0;
    if (!pix || pixUpDownDetect(pix.get(), &confidence, 8, 0, 0) != 0) return {};
    return {confidence < 0 ? 180 : 0, std::abs(static_cast<double>(confidence))};
}

}

std::optional<int> text_turn(const Raster& original, const Notices& notices, Reader& reader,
                             const std::vector<std::string>& languages) {
    if (!notices.tilt_by_text || notices.letters < 12) return std::nullopt;
    const auto tilt = text_tilt(original);
    const bool across = tilt && tilt->across;
    // The page with its lines level, one of the two ways up.
    Recipe level;
    level.turn_degrees = across ? 90 : 0;
    level.tilt_degrees = notices.tilt_degrees.value_or(0);
    const Raster page = develop(at_resolution(original, 200), level);

    const auto answer = [&](int further) { return (level.turn_degrees + further) % 360; };
    const Vote vote = up_or_down(page);
    if (vote.confidence > 8) return answer(vote.turn_degrees);
    if (const auto seen = reader.direction(page); seen && seen->confidence > 4 && seen->turn_degrees % 180 == 0)
        return answer(seen->turn_degrees);
    if (languages.empty()) return vote.confidence > 4 ? std::optional(answer(vote.turn_degrees)) : std::nullopt;
    Recipe over;
    over.turn_degrees = 180;
    const auto upright = reader.legibility(page, languages), turned = reader.legibility(develop(page, over), languages);
    if (!upright || !turned || std::max(upright->sure_letters, turned->sure_letters) < 6) return std::nullopt;
    if (upright->sure_letters > 1.3 * turned->sure_letters) return answer(0);
    if (turned->sure_letters > 1.3 * upright->sure_letters) return answer(180);
    return std::nullopt;
}

}
