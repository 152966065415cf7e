#include "support/glasses.h"

#include <fmt/format.h>
#include <opencv2/imgproc.hpp>

#include <random>

namespace yelvin::test {

namespace {

class Things {
  public:
    Things(std::filesystem::path folder, unsigned seed) : folder_(std::move(folder)), random_(seed), seed_(seed) {}
    double between(double least, double most) { return std::uniform_real_distribution(least, most)(random_); }
    bool chance(double share) { return between(0, 1) < share; }

    std::filesystem::path drawing(double w, double h, const std::string& body) {
        const auto file = folder_ / fmt::format("thing-{}-{}.svg", seed_, made_++);
        write_file(file,
                   fmt::format("<svg xmlns='http://www.w3.org/2000/svg' width='{0}mm' height='{1}mm' viewBox='0 0 {0} "
                               "{1}'>{2}</svg>",
                               w, h, body));
        return file;
    }
    // A landscape: a sky that may be as bright as paper, hills, water, a few things in the foreground.
    std::string landscape(double x, double y, double w, double h, bool bright_sky) {
        const char* sky = bright_sky ? "#ffffff" : chance(0.5) ? "#9db4c8" : "#b9b3a2";
        std::string out =
            fmt::format("<linearGradient id='s{0}' x1='0' y1='0' x2='0' y2='1'><stop offset='0' "
                        "stop-color='{1}'/><stop offset='1' stop-color='#cfd8dc'/></linearGradient><rect x='{2}' "
                        "y='{3}' width='{4}' height='{5}' fill='url(#s{0})'/>",
                        made_, sky, x, y, w, h);
        const double ground = y + h * between(0.4, 0.6);
        out += fmt::format("<path d='M{} {} Q{} {} {} {} L{} {} L{} {} Z' fill='{}'/>", x, ground,
                           x + w * between(0.2, 0.7), ground - h * 0.2, x + w, ground + h * 0.05, x + w, y + h, x,
                           y + h, chance(0.5) ? "#55663f" : "#6d5d49");
        for (int i = 0; i < 12; ++i)
            out += fmt::format("<ellipse cx='{}' cy='{}' rx='{}' ry='{}' fill='{}' opacity='0.7'/>",
                               x + w * between(0.1, 0.9), ground + (y + h - ground) * between(0.2, 0.8),
                               w * between(0.02, 0.07), h * between(0.01, 0.05), chance(0.5) ? "#2f3a2c" : "#8b8f7a");
        return out;
    }
    std::string lines_of_text(double x, double y, double w, double h, double size) {
        std::string out;
        for (double at = y + size; at < y + h; at += size * 1.6) {
            std::string words;
            const double length = w * between(0.6, 1);
            for (double used = 0; used < length - 4 * size;) {
                const int letters = static_cast<int>(between(2, 9));
                for (int i = 0; i < letters; ++i) words += static_cast<char>('a' + static_cast<int>(between(0, 25.9)));
                words += ' ';
                used += (letters + 1) * size * 0.52;
            }
            out +=
                fmt::format("<text x='{}' y='{}' font-family='Inter,sans-serif' font-size='{}' fill='#222'>{}</text>",
                            x, at, size, words);
        }
        return out;
    }
    struct Thing {
        std::filesystem::path file;
        SizeMm size;
    };
    Thing photograph(bool border, bool bright_sky) {
        const double sizes[][2] = {{90, 60}, {105, 74}, {127, 89}, {75, 50}, {60, 90}, {89, 127}};
        const auto& s = sizes[static_cast<size_t>(between(0, 5.99))];
        const double b = border ? between(3, 6) : 0;
        const std::string paper = fmt::format("<rect width='{}' height='{}' fill='#fdfdfb'/>", s[0], s[1]);
        return {drawing(s[0], s[1], paper + landscape(b, b, s[0] - 2 * b, s[1] - 2 * b, bright_sky)), {s[0], s[1]}};
    }
    Thing card() {
        const char* ground = chance(0.5) ? "#dfe9e4" : "#7a2e5d";
        return {drawing(85.6, 53.98,
                        fmt::format("<rect width='85.6' height='53.98' fill='{}'/>{}", ground,
                                    lines_of_text(8, 12, 60, 30, 4))),
                {85.6, 53.98}};
    }
    Thing receipt() {
        const double h = between(110, 190);
        return {drawing(80, h,
                        fmt::format("<rect width='80' height='{}' fill='#ffffff'/>{}", h,
                                    lines_of_text(6, 6, 66, h - 20, 3))),
                {80, h}};
    }
    Thing sheet() {
        const bool small = chance(0.5);
        const double w = small ? 105 : 148, h = small ? 148 : 210;
        return {drawing(w, h,
                        fmt::format("<rect width='{}' height='{}' fill='#ffffff'/>{}", w, h,
                                    lines_of_text(14, 14, w - 28, h * 0.7, 3.6))),
                {w, h}};
    }

  private:
    std::filesystem::path folder_;
    std::mt19937 random_;
    unsigned seed_;
    int made_ = 0;
};

std::vector<cv::Point2f> corners(const Region& r, double grown = 0) {
    const cv::RotatedRect box({static_cast<float>(r.x_mm), static_cast<float>(r.y_mm)},
                              {static_cast<float>(r.w_mm + grown), static_cast<float>(r.h_mm + grown)},
                              static_cast<float>(r.angle_degrees));
    std::vector<cv::Point2f> out(4);
    box.points(out.data());
    return out;
}

double shared_area(const Region& a, const Region& b, double grown = 0) {
    std::vector<cv::Point2f> both;
    return cv::intersectConvexConvex(corners(a, grown), corners(b, grown), both);
}

bool on_glass(const Region& r) {
    return std::ranges::all_of(
        corners(r), [](const cv::Point2f& p) { return p.x > 0.3 && p.y > 0.3 && p.x < 215.7 && p.y < 296.7; });
}

}

double overlap(const Region& a, const Region& b) {
    const double both = shared_area(a, b);
    return both / (a.w_mm * a.h_mm + b.w_mm * b.h_mm - both);
}

std::vector<Glass> hard_glasses(const std::filesystem::path& folder, int count) {
    constexpr int lids[] = {250, 232, 168, 120, 30};
    constexpr const char* lid_names[] = {"white", "pale", "grey", "dark grey", "black"};
    std::vector<Glass> glasses;
    for (int i = 0; i < count; ++i) {
        Things things(folder, static_cast<unsigned>(i) + 1);
        Glass glass;
        glass.seed = static_cast<unsigned>(i) + 1;
        glass.bench.lid_level = lids[i % 5];
        glass.bench.sensor.seed = static_cast<std::uint64_t>(i) + 7;
        glass.dust = things.chance(0.5);
        glass.rim_bar = things.chance(0.3);
        glass.name = fmt::format("{} lid{}{}", lid_names[i % 5], glass.dust ? ", dust" : "",
                                 glass.rim_bar ? ", edge of the lid" : "");
        const int wanted = 1 + i % 5;
        const bool close = i % 3 == 0; // 4 mm from each other, no more
        for (int tries = 0; tries < 400 && static_cast<int>(glass.truth.size()) < wanted; ++tries) {
            const int kind = static_cast<int>(things.between(0, 7.99));
            const auto thing = kind < 2    ? things.photograph(false, false)
                               : kind == 2 ? things.photograph(false, true)
                               : kind == 3 ? things.photograph(true, false)
                               : kind == 4 ? things.photograph(true, true)
                               : kind == 5 ? things.card()
                               : kind == 6 ? things.receipt()
                                           : things.sheet();
            Region place{0, 0, thing.size.width, thing.size.height, things.chance(0.3) ? 0 : things.between(-44, 44)};
            if (things.chance(0.5)) place.angle_degrees /= 9;
            const double reach = 0.5 * std::min(place.w_mm, place.h_mm);
            place.x_mm = things.between(reach, 216 - reach);
            place.y_mm = things.between(reach, 297 - reach);
            // A bar at the right edge hides 3 mm of the lid.
            Region seen = place;
            if (glass.rim_bar) seen.x_mm += 5;
            if (!on_glass(place) || !on_glass(seen)) continue;
            const auto apart = [&](const Region& other) { return shared_area(place, other, 4) <= 0; };
            if (!std::ranges::all_of(glass.truth, apart)) continue;
            if (close && !glass.truth.empty()) { // pushed towards the last one until 4 mm are left
                const Region& last = glass.truth.back();
                const double dx = last.x_mm - place.x_mm, dy = last.y_mm - place.y_mm, far = std::hypot(dx, dy);
                for (double step = 0.25; step < far; step += 0.25) {
                    Region next = place;
                    next.x_mm += dx / far * 0.25;
                    next.y_mm += dy / far * 0.25;
                    const auto free = [&](const Region& other) { return shared_area(next, other, 4) <= 0; };
                    if (!std::ranges::all_of(glass.truth, free)) break;
                    place = next;
                }
            }
            glass.truth.push_back(place);
            glass.bench.glass.push_back({thing.file, place.x_mm, place.y_mm, place.angle_degrees});
        }
        glasses.push_back(std::move(glass));
    }
    return glasses;
}

Raster scan_glass(const Glass& glass, double dpi, RectMm area) {
    SimulatedScanner scanner(glass.bench);
    RasterSink sink;
    const auto done = scanner.scan(fitted({Source::Glass, area, dpi, Ink::Colour}, scanner.capabilities()), sink, {});
    if (!done || sink.pages.empty()) return {};
    Raster raster = sink.pages.front();
    const auto px = [&](double mm) { return cvRound(mm_to_px(mm, dpi) * 16); }; // sixteenths, for cv's drawing
    const double left = area.x, top = area.y;
    std::mt19937 random(glass.seed);
    const auto between = [&](double least, double most) { return std::uniform_real_distribution(least, most)(random); };
    if (glass.dust) {
        for (int i = 0; i < 60; ++i) {
            const cv::Point at(px(between(2, 214) - left), px(between(2, 295) - top));
            const double grey = between(60, 190);
            cv::circle(raster.pixels, at, px(between(0.1, 0.35)), cv::Scalar::all(grey), cv::FILLED, cv::LINE_AA, 4);
        }
        for (int i = 0; i < 5; ++i) { // hairs
            const double x = between(10, 200), y = between(10, 280), a = between(0, 3.1), length = between(6, 18);
            cv::line(raster.pixels, {px(x - left), px(y - top)},
                     {px(x + length * std::cos(a) - left), px(y + length * std::sin(a) - top)}, cv::Scalar::all(110),
                     std::max(1, static_cast<int>(mm_to_px(0.12, dpi))), cv::LINE_AA, 4);
        }
    }
    if (glass.rim_bar)
        cv::rectangle(raster.pixels, {px(213 - left), px(-top - 1)}, {px(217 - left), px(300 - top)},
                      cv::Scalar::all(70), cv::FILLED, cv::LINE_8, 4);
    return raster;
}

}
