#include "support/fringed_pages.h"

#include <fmt/format.h>

#include <random>

namespace yelvin::test {

namespace {

class PrintedPage {
  public:
    explicit PrintedPage(unsigned seed)
        : random_(seed), paper(one_of({"#ffffff", "#ffffff", "#ececea", "#f7efd8", "#efe2c2"})) {}

    double between(double least, double most) { return std::uniform_real_distribution(least, most)(random_); }
    template <class T, size_t n>
    const T& one_of(const T (&all)[n]) {
        return all[random_() % n];
    }
    static std::string text(double x, double y, double pt, const std::string& words, const std::string& more) {
        return fmt::format("<text x='{:.2f}' y='{:.2f}' font-size='{:.2f}' {}>{}</text>", x, y, pt * 25.4 / 72, more,
                           words);
    }
    std::string words(int count) {
        const char* all[] = {"lock",  "gate",   "keeper", "mooring", "towpath", "the",   "of",   "on",    "winter",
                             "paid",  "summer", "lease",  "berth",   "heron",   "boats", "and",  "reach", "Cobble",
                             "rates", "weir",   "water",  "level",   "notice",  "1 May", "2026", "by",    "payment"};
        std::string out;
        for (int i = 0; i < count; ++i) out += std::string(i ? " " : "") + one_of(all);
        return out;
    }
    // Print in black and grey.
    std::string print() {
        const char* fonts[] = {"DejaVu Sans", "Liberation Serif", "Nimbus Sans", "P052", "Liberation Mono"};
        const char* inks[] = {"#0a0a0a", "#222222", "#333333", "#555555"};
        std::string out = fmt::format("<g font-family='{}' fill='{}'>", one_of(fonts), on_paper(one_of(inks)));
        const double pt = between(7, 12), heading = between(16, 60);
        out += text(20, 14 + heading / 3, heading, words(2), "font-weight='bold'");
        double y = 24 + heading / 3;
        for (const double step = pt * 0.5; y < 270; y += step) {
            if (random_() % 9 == 0) y += step;
            out += text(20, y, pt, words(static_cast<int>(130 / pt)), random_() % 12 == 0 ? "font-weight='bold'" : "");
        }
        out += "</g>";
        for (unsigned i = random_() % 4; i > 0; --i) // bars, boxes, rules
            out +=
                fmt::format("<rect x='{:.2f}' y='{:.2f}' width='{:.2f}' height='{:.2f}' fill='{}'/>", between(15, 90),
                            between(20, 250), between(20, 100), one_of({0.3, 1.0, 4.0, 12.0}), one_of(inks));
        if (random_() % 4 == 0) // a picture in grey
            out += fmt::format("<defs><linearGradient id='grey'><stop offset='0' stop-color='{}'/><stop offset='1' "
                               "stop-color='{}'/></linearGradient></defs><rect x='110' y='{:.1f}' width='70' "
                               "height='50' fill='url(#grey)'/>",
                               on_paper("#eeeeee"), on_paper("#333333"), between(60, 200));
        return out;
    }
    // One coloured thing, 1 to 20 mm across.
    std::string coloured() {
        const double x = between(30, 150), y = between(40, 250);
        const char* strong[] = {"#b01828", "#1f3fa0", "#0e6a3c", "#8a2a86"};
        const auto named = [&](const char* name, const std::string& svg) { return what = name, svg; };
        switch (random_() % 6) {
        case 0:
            return named("stamp", fmt::format("<g opacity='{:.2f}' font-family='Nimbus Sans' fill='{}'>{}</g>",
                                              between(0.4, 0.9), one_of(strong),
                                              text(x, y, between(10, 18), "RECEIVED", "font-weight='bold'")));
        case 1: {
            std::string path = fmt::format("M{:.1f} {:.1f}", x, y);
            for (int i = 0; i < 9; ++i)
                path += fmt::format(" q{:.1f} {:.1f} {:.1f} 0", between(0.3, 1), between(-5, 5), between(1, 3));
            return named("signature", fmt::format("<path d='{}' fill='none' stroke='#1c2f8c' stroke-width='{:.2f}'/>",
                                                  path, between(0.35, 0.6)));
        }
        case 2:
            return named("marked word", fmt::format("<rect x='{:.1f}' y='{:.1f}' width='{:.1f}' height='4.5' fill='{}' "
                                                    "opacity='{:.2f}'/>",
                                                    x, y, between(10, 40), one_of({"#fff200", "#7dff5a", "#ff8ac0"}),
                                                    between(0.4, 0.8)));
        case 3:
            return named("tinted row", fmt::format("<rect x='20' y='{:.1f}' width='170' height='6' fill='{}'/>", y,
                                                   one_of({"#d3e4f5", "#dcefd8", "#f6dfd3"})));
        case 4:
            return named("red number", text(x, y, between(9, 14), "No. 004 417",
                                            "fill='#c01a2a' font-family='Liberation Sans' font-weight='bold'"));
        default:
            return named("logo", fmt::format("<circle cx='{:.1f}' cy='{:.1f}' r='{:.1f}' fill='{}'/>", x, y,
                                             between(2, 6), one_of(strong)));
        }
    }
    int seed() { return static_cast<int>(random_() % 100000); }

  private:
    std::mt19937 random_;

    template <class T>
    T one_of(std::initializer_list<T> all) {
        return *(all.begin() + static_cast<std::ptrdiff_t>(random_() % all.size()));
    }
    // Ink absorbs its share of the light that the paper reflects. Colours as "#rrggbb".
    std::string on_paper(const std::string& ink) const {
        std::string out = "#";
        for (size_t i = 1; i < 7; i += 2)
            out += fmt::format("{:02x}", std::stoi(ink.substr(i, 2), nullptr, 16) *
                                             std::stoi(paper.substr(i, 2), nullptr, 16) / 255);
        return out;
    }

  public:
    const std::string paper;
    std::string what; // the thing in colour
};

}

FringedPage fringed_page(const std::filesystem::path& folder, int number, Tint tint) {
    PrintedPage page(static_cast<unsigned>(number) * 7919U + 3U);
    std::string body = page.print();
    if (tint == Tint::Some) body = page.coloured() + body; // a mark lies under its word
    const auto file = folder / fmt::format("fringed-{}-{}.svg", number, tint == Tint::Some);
    write_file(file, fmt::format("<svg xmlns='http://www.w3.org/2000/svg' width='210mm' height='297mm' "
                                 "viewBox='0 0 210 297'><rect width='210' height='297' fill='{}'/>{}</svg>",
                                 page.paper, body));
    FringedPage out;
    StackSheet sheet{{file, {}}};
    sheet.skew_degrees = page.between(-1, 1);
    out.bench.stack = {sheet};
    out.bench.sensor.grain = page.between(1, 4);
    out.bench.sensor.apart_mm = page.between(-0.1, 0.1);
    out.bench.sensor.seed = static_cast<std::uint64_t>(number);
    out.dpi = page.seed() % 2 ? 300 : 200;
    out.name = fmt::format("{} on {}: lines {:.3f} mm apart, grain {:.1f}, {} dpi{}{}", number, page.paper,
                           out.bench.sensor.apart_mm, out.bench.sensor.grain, out.dpi, page.what.empty() ? "" : ", ",
                           page.what);
    return out;
}

}
