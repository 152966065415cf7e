#include "core/ocr/orientation.h"

#include "core/developing/develop.h"
#include "core/ocr/densest_part.h"
#include "core/raster/pix.h"
#include "core/text/languages.h"

#include <algorithm>

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

// Whether the count applies to the language: its script must have more ascenders than descenders.
bool ascenders_tell(const std::string& language) {
    const Script script = script_of(language);
    return script == Script::Latin || script == Script::Greek || script == Script::Cyrillic;
}

constexpr double sample_mm = 22;
constexpr double enough_sure_letters = 40;

// For pages whose script is unknown: whether the count is plausible, because a part of the page, rotated accordingly,
// can be recognised in a language to which the count applies. Much faster than detecting the orientation.
bool may_be_believed(const Vote& vote, const Raster& page, Reader& reader, std::vector<std::string> languages) {
    std::erase_if(languages, [](const std::string& language) { return !ascenders_tell(language); });
    if (languages.empty()) return false;
    Recipe turned;
    turned.turn_degrees = vote.turn_degrees;
    const auto read = reader.legibility(develop(densest_part(page, sample_mm), turned), {languages.front()});
    return read && read->sure_letters > enough_sure_letters;
}

}

std::optional<int> text_turn(const Raster& original, const Notices& notices, Reader& reader,
                             const std::vector<std::string>& languages) {
    if (!notices.tilt_by_text || notices.letters < 12) return std::nullopt;
    // The page with horizontal lines, in one of the two possible orientations.
    Recipe level;
    level.turn_degrees = notices.lines_across ? 90 : 0;
    level.tilt_degrees = std::abs(notices.tilt_degrees.value_or(0)) < 0.3 ? 0 : *notices.tilt_degrees;
    const Raster page = develop(with_ink(at_resolution(original, 200), Ink::Grey), level);

    const auto answer = [&](int further) { return (level.turn_degrees + further) % 360; };
    const auto among = reader.languages_meant(languages);
    const bool counts = std::ranges::all_of(among, ascenders_tell);
    const Vote vote = up_or_down(page);
    // Most pages are upright, so less confidence is required to leave a page than to rotate it.
    const bool stays = answer(vote.turn_degrees) == 0;
    if (vote.confidence > (stays ? 4 : 8) && (counts || may_be_believed(vote, page, reader, among)))
        return answer(vote.turn_degrees);
    const auto seen_in = [&](const Raster& part) -> std::optional<int> {
        const auto seen = reader.direction(part);
        if (seen && seen->confidence > 4 && seen->turn_degrees % 180 == 0) return answer(seen->turn_degrees);
        return std::nullopt;
    };
    // The densest part is tried first: it has enough letters and takes a fraction of the time.
    if (const auto seen = seen_in(densest_part(page, 90))) return seen;
    if (const auto seen = seen_in(page)) return seen;
    if (languages.empty())
        return counts && vote.confidence > 4 ? std::optional(answer(vote.turn_degrees)) : std::nullopt;
    Recipe over;
    over.turn_degrees = 180;
    const auto upright = reader.legibility(page, languages), turned = reader.legibility(develop(page, over), languages);
    if (!upright || !turned || std::max(upright->sure_letters, turned->sure_letters) < 6) return std::nullopt;
    if (upright->sure_letters > 1.3 * turned->sure_letters) return answer(0);
    if (turned->sure_letters > 1.3 * upright->sure_letters) return answer(180);
    return std::nullopt;
}

}
