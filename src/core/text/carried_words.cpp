#include "core/text/carried_words.h"

#include "core/raster/units.h"
#include "core/text/text_places.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace yelvin {

namespace {

constexpr double sure_confidence = 75, sure_share = 0.9; // of the letters
constexpr double unread_rim_mm = 2;                      // A strip of paper this narrow contains no words.
constexpr double same_tilt_degrees = 0.5;

// The map from pixels of the page as it was recognised to pixels of the page now.
cv::Matx33d map_between(const Recipe& before, const Recipe& now, SizePx original, double dpi) {
    return page_to_original(now, original, dpi).inv() * page_to_original(before, original, dpi);
}

// The number of clockwise quarter turns that the map performs at the centre of the page, rounded.
int quarters_of(const cv::Matx33d& map, SizePx page) {
    const cv::Point2d middle{page.width / 2.0, page.height / 2.0};
    const cv::Point2d along = mapped(map, middle + cv::Point2d{100, 0}) - mapped(map, middle);
    return (static_cast<int>(std::lround(std::atan2(along.y, along.x) / (CV_PI / 2))) + 4) % 4;
}

bool shows_more(const Recipe& recipe, const Recipe& now, SizePx original, double dpi) {
    const SizePx before = developed_size(recipe, original, dpi), after = developed_size(now, original, dpi);
    const cv::Matx33d back = map_between(now, recipe, original, dpi);
    const double rim = mm_to_px(unread_rim_mm, dpi);
    for (const cv::Point2d corner : {cv::Point2d{0, 0}, cv::Point2d(after.width, 0), cv::Point2d(0, after.height),
                                     cv::Point2d(after.width, after.height)}) {
        const cv::Point2d at = mapped(back, corner);
        if (at.x < -rim || at.y < -rim || at.x > before.width + rim || at.y > before.height + rim) return true;
    }
    return false;
}

Word carried(const Word& word, const cv::Matx33d& map) {
    const double middle = word.box.y + word.box.height / 2.0;
    const cv::Point2d left = mapped(map, {static_cast<double>(word.box.x), middle}),
                      right = mapped(map, {static_cast<double>(word.box.br().x), middle});
    Word out = word;
    out.box.x = static_cast<int>(std::lround(left.x));
    out.box.width = std::max(1, static_cast<int>(std::lround(right.x)) - out.box.x);
    out.box.y = static_cast<int>(std::lround((left.y + right.y) / 2 - word.box.height / 2.0));
    return out;
}

}

ReadAs read_as(const Recipe& recipe, const TextLayer& layer) {
    ReadAs read{recipe};
    double sure = 0, all = 0;
    for (const TextLine& line : layer.lines) {
        for (const Word& word : line.words) {
            const auto letters = static_cast<double>(word.text.size());
            all += letters;
            sure += word.confidence >= sure_confidence ? letters : 0;
            ++read.words;
            read.doubtful += word.confidence < doubtful_confidence ? 1 : 0;
        }
    }
    read.surely = all > 0 && sure >= sure_share * all;
    return read;
}

bool words_stay(const ReadAs& read, const Recipe& now, SizePx original, double dpi) {
    const Recipe& before = read.recipe;
    if (before == now) return true;
    if (before.flatten != now.flatten) return false;
    if (before.adjust.drop_colour != now.adjust.drop_colour || before.adjust.drop_reach != now.adjust.drop_reach)
        return false;
    if (shows_more(before, now, original, dpi)) return false;
    if (read.surely) return true;
    const bool same_tones = before.adjust == now.adjust && before.ink == now.ink;
    return same_tones && before.turn_degrees == now.turn_degrees &&
           std::abs(now.tilt_degrees - before.tilt_degrees) < same_tilt_degrees;
}

TextLayer carried_words(const TextLayer& layer, const Recipe& recipe, const Recipe& now, SizePx original, double dpi) {
    const SizePx before = developed_size(recipe, original, dpi), after = developed_size(now, original, dpi);
    const cv::Matx33d between = map_between(recipe, now, original, dpi);
    TextLayer out{{}, after.width, after.height, layer.language};
    out.turned_degrees = (layer.turned_degrees + 90 * quarters_of(between, before)) % 360;
    if (out.turned_degrees % 180 != 0) std::swap(out.width_px, out.height_px);
    const cv::Matx33d map =
        turned_by(out.turned_degrees, after).inv() * between * turned_by(layer.turned_degrees, before);
    const cv::Rect page{0, 0, out.width_px, out.height_px};
    for (const TextLine& line : layer.lines) {
        TextLine moved = line;
        moved.words.clear();
        moved.baseline_start = mapped(map, line.baseline_start);
        moved.baseline_end = mapped(map, line.baseline_end);
        for (const Word& word : line.words) {
            const Word there = carried(word, map);
            const cv::Rect seen = there.box & page;
            if (2 * seen.area() > there.box.area()) moved.words.push_back(there);
        }
        if (!moved.words.empty()) out.lines.push_back(std::move(moved));
    }
    return out;
}

}
