#include "support/kinds.h"

#include <fmt/format.h>

#include <random>

namespace yelvin::test {

namespace {

class Pages {
  public:
    explicit Pages(std::filesystem::path folder) : folder_(std::move(folder)) {}
    std::vector<KindOfPage> all;

    double between(double least, double most) { return std::uniform_real_distribution(least, most)(random_); }
    KindOfPage& add(const std::string& name, Ink ink, PageKind kind, const std::string& body, double w = 148,
                    double h = 210) {
        const auto file = folder_ / fmt::format("page-{:02}.svg", all.size());
        write_file(
            file,
            fmt::format("<svg xmlns='http://www.w3.org/2000/svg' width='{0}mm' height='{1}mm' viewBox='0 0 {0} {1}'>"
                        "{2}</svg>",
                        w, h, body));
        all.push_back({name, file, 1.5, ink, kind});
        return all.back();
    }
    static std::string paper(const char* colour, double w = 148, double h = 210) {
        return fmt::format("<rect width='{}' height='{}' fill='{}'/>", w, h, colour);
    }
    std::string text(double x, double y, double w, double h, double size, const char* colour = "#1c1c1c") {
        std::string out;
        for (double at = y + size; at < y + h; at += size * 1.7) {
            std::string words;
            for (double used = 0; used < w * between(0.7, 1) - 4 * size;) {
                const int letters = static_cast<int>(between(2, 9));
                for (int i = 0; i < letters; ++i) words += static_cast<char>('a' + static_cast<int>(between(0, 25.9)));
                words += ' ';
                used += (letters + 1) * size * 0.5;
            }
            out += fmt::format("<text x='{}' y='{}' font-family='Inter,sans-serif' font-size='{}' fill='{}'>{}</text>",
                               x, at, size, colour, words);
        }
        return out;
    }
    std::string letter() { return text(18, 18, 112, 150, 3.6); }
    std::string handwriting(double x, double y, int letters, const char* colour, double width) {
        std::string path = fmt::format("M{} {}", x, y);
        for (int i = 0; i < letters; ++i)
            path += fmt::format(" q{} {} {} 0 q{} {} {} 0", 0.6, -between(1.6, 4.2), 1.3, 0.4, between(0.3, 1.4), 1.1);
        return fmt::format("<path d='{}' fill='none' stroke='{}' stroke-width='{}'/>", path, colour, width);
    }
    static std::string stamp(double x, double y, double r, const char* colour) {
        return fmt::format(
            "<circle cx='{0}' cy='{1}' r='{2}' fill='none' stroke='{3}' stroke-width='0.8'/><text x='{0}' y='{4}' "
            "text-anchor='middle' font-size='{5}' font-family='Inter,sans-serif' fill='{3}'>PAID</text>",
            x, y, r, colour, y + r * 0.2, r * 0.55);
    }
    // Sky, land and water; without any colour if `grey`.
    std::string picture(double x, double y, double w, double h, bool grey, int variant) {
        static constexpr const char* skies[] = {"#8fb0cc", "#d9b98a", "#b7c4cf"};
        static constexpr const char* lands[] = {"#5d6f42", "#7a6448", "#49604f"};
        const char* sky = grey ? "#b9b9b9" : skies[variant % 3];
        const char* land = grey ? "#5f5f5f" : lands[variant % 3];
        std::string out =
            fmt::format("<linearGradient id='g{0}' x1='0' y1='0' x2='0' y2='1'><stop offset='0' stop-color='{1}'/>"
                        "<stop offset='1' stop-color='#e6e6e6'/></linearGradient><rect x='{2}' y='{3}' width='{4}' "
                        "height='{5}' fill='url(#g{0})'/>",
                        made_++, sky, x, y, w, h);
        const double ground = y + h * 0.55;
        out += fmt::format("<path d='M{} {} Q{} {} {} {} L{} {} L{} {} Z' fill='{}'/>", x, ground,
                           x + w * between(0.3, 0.7), ground - h * 0.25, x + w, ground + h * 0.04, x + w, y + h, x,
                           y + h, land);
        for (int i = 0; i < 30; ++i) {
            const int level = static_cast<int>(between(60, 190));
            const std::string colour = grey ? fmt::format("rgb({0},{0},{0})", level)
                                            : fmt::format("rgb({},{},{})", level, level * 9 / 10, level * 6 / 10);
            out += fmt::format("<ellipse cx='{}' cy='{}' rx='{}' ry='{}' fill='{}' opacity='0.8'/>",
                               x + w * between(0.06, 0.94), y + h * between(0.6, 0.94), w * between(0.01, 0.05),
                               h * between(0.01, 0.04), colour);
        }
        return out;
    }

  private:
    std::filesystem::path folder_;
    std::mt19937 random_{2026};
    int made_ = 0;
};

void add_text_pages(Pages& p) {
    const auto white = Pages::paper("#ffffff");
    for (int i = 0; i < 4; ++i) p.add("printed letter", Ink::Black, PageKind::Text, white + p.letter());
    p.add("small print", Ink::Black, PageKind::Text, white + p.text(14, 14, 120, 170, 2.2));
    p.add("a few lines", Ink::Black, PageKind::Text, white + p.text(20, 30, 90, 20, 4));
    p.add("large heading", Ink::Black, PageKind::Text,
          white + p.text(15, 20, 120, 30, 12) + p.text(18, 70, 110, 60, 3.6));
    p.add("ruled table", Ink::Black, PageKind::Text,
          white + p.text(20, 20, 100, 120, 3.6) +
              "<g stroke='#222' stroke-width='0.3'><path d='M15 20H133M15 60H133M15 100H133M15 140H133M15 20V140M75 "
              "20V140M133 "
              "20V140'/></g>");
    p.add("line drawing", Ink::Black, PageKind::Text,
          white + p.text(20, 160, 100, 20, 3.6) +
              "<g fill='none' stroke='#222' stroke-width='0.5'><circle cx='74' cy='80' r='40'/><path d='M20 40L130 "
              "120M20 120L130 "
              "40'/></g>");
    // The colour of yellowed and tinted paper need not be kept.
    for (const char* tint : {"#f6ecd2", "#efe2c0", "#e9dcc0", "#f2f2e4"})
        p.add(fmt::format("yellowed paper {}", tint), Ink::Black, PageKind::Text, Pages::paper(tint) + p.letter());
    // The colour noise of a poor sensor.
    for (const double grain : {4.0, 6.0, 8.0}) {
        p.add(fmt::format("colour noise {}", grain), Ink::Black, PageKind::Text, white + p.letter()).grain = grain;
    }
    // Pencil and faded print disappear in black and white.
    p.add("dark pencil, which black keeps", Ink::Black, PageKind::Text,
          white + p.letter() + p.handwriting(25, 185, 26, "#8a8a8a", 0.5));
    for (const char* grey : {"#a8a8a8", "#b2b2b2", "#bcbcbc"})
        p.add(fmt::format("pencil note {}", grey), Ink::Grey, PageKind::Text,
              white + p.letter() + p.handwriting(25, 185, 26, grey, 0.5));
    p.add("grey stamp", Ink::Grey, PageKind::Text, white + p.letter() + Pages::stamp(110, 180, 12, "#aaaaaa"));
    // A page that faded as a whole is still dark enough against its paper: black and white keeps it.
    p.add("faded receipt with a total in black", Ink::Black, PageKind::Text,
          Pages::paper("#ffffff", 80, 160) + p.text(6, 8, 66, 100, 3.2, "#b0b0b0") + p.text(6, 120, 50, 12, 6), 80,
          160);
}

void add_coloured_pages(Pages& p) {
    const auto white = Pages::paper("#ffffff");
    for (const double r : {4.0, 7.0, 12.0})
        p.add(fmt::format("small red stamp of {} mm", 2 * r), Ink::Colour, PageKind::Text,
              white + p.letter() + Pages::stamp(112, 185, r, "#b5342b"));
    for (const double width : {0.35, 0.5, 0.7})
        p.add(fmt::format("blue signature {} mm", width), Ink::Colour, PageKind::Text,
              white + p.letter() + p.handwriting(30, 188, 20, "#2b3f9b", width));
    p.add("blue signature on yellowed paper", Ink::Colour, PageKind::Text,
          Pages::paper("#f1e6cb") + p.letter() + p.handwriting(30, 188, 20, "#2b3f9b", 0.5));
    p.add("red stamp on yellowed paper", Ink::Colour, PageKind::Text,
          Pages::paper("#efe2c0") + p.letter() + Pages::stamp(112, 185, 7, "#b5342b"));
    p.add("red stamp under colour noise", Ink::Colour, PageKind::Text,
          white + p.letter() + Pages::stamp(112, 185, 7, "#b5342b"))
        .grain = 6;
    p.add("highlighter", Ink::Colour, PageKind::Text,
          white + "<rect x='18' y='40' width='70' height='5' fill='#f7ef6a'/>" + p.letter());
    p.add("red figures", Ink::Colour, PageKind::Text, white + p.letter() + p.text(90, 175, 40, 12, 3.6, "#c0271d"));
    p.add("letterhead in green", Ink::Colour, PageKind::Text,
          white + "<rect x='0' y='0' width='148' height='12' fill='#2f6b4c'/>" + p.letter())
        .also = {PageKind::Mixed}; // an even bar is no picture, but it has a tone
}

void add_pictures(Pages& p) {
    for (int i = 0; i < 4; ++i)
        p.add("colour photograph", Ink::Colour, PageKind::Photo, p.picture(0, 0, 150, 100, false, i), 150, 100);
    for (int i = 0; i < 2; ++i)
        p.add("colour photograph with a white border", Ink::Colour, PageKind::Photo,
              Pages::paper("#ffffff", 150, 100) + p.picture(5, 5, 140, 90, false, i), 150, 100);
    for (int i = 0; i < 3; ++i)
        p.add("grey photograph", Ink::Grey, PageKind::Photo, p.picture(0, 0, 130, 90, true, i), 130, 90);
    for (int i = 0; i < 2; ++i)
        p.add("colour picture in a page of text", Ink::Colour, PageKind::Mixed,
              Pages::paper("#ffffff") + p.text(18, 18, 112, 60, 3.6) + p.picture(20, 90, 100, 65, false, i) +
                  p.text(18, 165, 112, 30, 3.6));
    for (int i = 0; i < 2; ++i)
        p.add("grey picture in a page of text", Ink::Grey, PageKind::Mixed,
              Pages::paper("#ffffff") + p.text(18, 18, 112, 60, 3.6) + p.picture(20, 90, 100, 65, true, i) +
                  p.text(18, 165, 112, 30, 3.6));
}

}

std::vector<KindOfPage> kinds_of_pages(const std::filesystem::path& folder) {
    Pages pages(folder);
    add_text_pages(pages);
    add_coloured_pages(pages);
    add_pictures(pages);
    return std::move(pages.all);
}

Raster scan_page(const KindOfPage& page, double dpi) {
    const SizeMm size = original_size(page.file).value_or(SizeMm{100, 100});
    BenchSetup bench;
    bench.sensor.grain = page.grain;
    bench.glass = {{page.file, size.width / 2, size.height / 2, 0}};
    SimulatedScanner scanner(bench);
    RasterSink sink;
    const RectMm area{0, 0, size.width, size.height};
    if (!scanner.scan(fitted({Source::Glass, area, dpi, Ink::Colour}, scanner.capabilities()), sink, {})) return {};
    return sink.pages.front();
}

}
