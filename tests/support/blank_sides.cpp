#include "support/blank_sides.h"

#include <fmt/format.h>

#include <random>

namespace yelvin::test {

namespace {

class Sides {
  public:
    explicit Sides(std::filesystem::path folder, unsigned seed = 20261125)
        : folder_(std::move(folder)), random_(seed) {}
    std::vector<HardSide> all;

    HardSide& add(const std::string& name, bool used, const std::string& body, const std::string& paper = "#ffffff") {
        const auto file = folder_ / fmt::format("side-{:02}.svg", all.size());
        write_file(
            file,
            fmt::format("<svg xmlns='http://www.w3.org/2000/svg' width='210mm' height='297mm' viewBox='0 0 210 297'>"
                        "<defs><radialGradient id='soft'><stop offset='0' stop-color='#555'/><stop offset='1' "
                        "stop-color='#555' stop-opacity='0'/></radialGradient></defs>"
                        "<rect width='210' height='297' fill='{}'/>{}</svg>",
                        paper, body));
        HardSide side{name, used, {{file}, {}}};
        side.sheet.skew_degrees = std::uniform_real_distribution(-1.2, 1.2)(random_);
        all.push_back(std::move(side));
        return all.back();
    }
    double between(double least, double most) { return std::uniform_real_distribution(least, most)(random_); }

    std::string smudge(double opacity) {
        return fmt::format("<ellipse cx='{}' cy='{}' rx='{}' ry='{}' fill='url(#soft)' opacity='{}'/>",
                           between(40, 170), between(40, 260), between(8, 26), between(5, 18), opacity);
    }
    // A fold: a long, not quite straight line, dark on one side.
    std::string crease(bool across, double opacity) {
        std::string path;
        const double at = across ? between(90, 200) : between(70, 140), slant = between(-3, 3);
        for (int i = 0; i <= 20; ++i) {
            const double along = i * (across ? 10.5 : 14.85), off = at + slant * i / 20 + between(-0.15, 0.15);
            path += fmt::format("{}{} {}", i ? " L" : "M", across ? along : off, across ? off : along);
        }
        return fmt::format("<path d='{}' fill='none' stroke='#777' stroke-width='{}' opacity='{}'/>", path,
                           between(0.25, 0.5), opacity);
    }
    static std::string holes(int count, const char* colour) {
        std::string out;
        for (int i = 0; i < count; ++i)
            out +=
                fmt::format("<circle cx='12' cy='{}' r='3' fill='{}'/>", 148.5 + (i - (count - 1) / 2.0) * 80, colour);
        return out;
    }
    // Words in pencil: small waves with ascenders, like handwriting.
    std::string pencil(double x, double y, int letters, double darkness) {
        std::string path = fmt::format("M{} {}", x, y);
        for (int i = 0; i < letters; ++i) {
            const double height = between(1.4, 2.4) * (i % 4 == 1 ? 2 : 1);
            path += fmt::format(" q{} {} {} 0 q{} {} {} 0", 0.5, -height, 1.0, 0.4, between(0.3, 1.1), 0.9);
            if (i % 5 == 4) path += fmt::format(" m{} {}", between(1.2, 2.2), 0.0);
        }
        const int level = static_cast<int>(255 - darkness);
        return fmt::format("<path d='{}' fill='none' stroke='rgb({},{},{})' stroke-width='{}' stroke-linecap='round'/>",
                           path, level, level, level + 3 > 255 ? 255 : level + 3, between(0.35, 0.5));
    }
    static std::string typed(double x, double y, double pt, const std::string& text, const char* colour = "#222") {
        return fmt::format("<text x='{}' y='{}' font-family='DejaVu Sans' font-size='{}' fill='{}'>{}</text>", x, y,
                           pt * 25.4 / 72, colour, text);
    }
    std::string stamp(const char* colour, double opacity, bool round) {
        const double x = between(60, 150), y = between(60, 240);
        const std::string frame =
            round ? fmt::format("<circle cx='{}' cy='{}' r='9' fill='none'", x, y)
                  : fmt::format("<rect x='{}' y='{}' width='26' height='10' fill='none'", x - 13, y - 6);
        return fmt::format("<g opacity='{}'>{} stroke='{}' stroke-width='0.6'/>{}</g>", opacity, frame, colour,
                           typed(x - (round ? 7 : 10), y + 1, 8, round ? "PAID 7" : "RECEIVED", colour));
    }

    // A stain of a cup or a drop: pale with a darker rim, and no edge sharper than a third of a millimetre.
    std::string stain() {
        const double x = between(40, 170), y = between(40, 250), radius = between(4, 40), rim = between(0.4, 1.5);
        const double inner = 1 - 2 * rim / radius, middle = 1 - rim / radius;
        const double pale = between(0.02, 0.1), dark = pale + between(0.05, 0.25);
        return fmt::format("<defs><radialGradient id='stain'><stop offset='0' stop-color='#8a6a3a' "
                           "stop-opacity='{0}'/><stop offset='{1}' stop-color='#8a6a3a' stop-opacity='{0}'/><stop "
                           "offset='{2}' stop-color='#8a6a3a' stop-opacity='{3}'/><stop offset='1' "
                           "stop-color='#8a6a3a' stop-opacity='0'/></radialGradient></defs><circle cx='{4}' cy='{5}' "
                           "r='{6}' fill='url(#stain)'/>",
                           pale, std::max(0.0, inner), std::max(0.1, middle), dark, x, y, radius);
    }
    // A single letter as a signature, 5 to 10 mm high.
    std::string initial(double paper) {
        const char* letters[] = {"M0 0 l2 -6 l2 6 m-3.2 -2.2 l2.4 0", "M0 0 q0 -7 3 -6 q2 1 -1 3 q4 1 1 3 q-2 1 -4 0",
                                 "M4 -5 q-4 -2 -4 2 q0 4 4 2", "M0 0 l0 -6 m0 3 l3 -3 m-3 3 l3.4 3",
                                 "M0 -6 q1 8 2.5 5 q1.5 -3 2 -5 q0 6 1 6"};
        const int level = static_cast<int>(paper - between(45, 150));
        const double size = between(0.9, 1.7);
        return fmt::format("<path transform='translate({} {}) rotate({}) scale({})' d='{}' fill='none' "
                           "stroke='rgb({},{},{})' stroke-width='{}' stroke-linecap='round'/>",
                           between(30, 170), between(40, 280), between(-20, 20), size, letters[below(5)], level, level,
                           std::min(255, level + static_cast<int>(between(0, 40))), between(0.3, 0.6) / size);
    }
    int below(int count) { return static_cast<int>(between(0, count - 1e-9)); }
    // On paper of this grey level.
    std::string faint_note(double paper) {
        const char* numbers[] = {"7", "12", "- 3 -", "iv", "Page 2", "1"};
        switch (below(4)) {
        case 0:
            return pencil(between(20, 150), between(20, 285), 4 + below(9), 255 - paper + between(28, 80));
        case 1:
            return stamp(below(2) ? "#2a3f9a" : "#a02030", between(0.25, 0.5), below(2) == 1);
        case 2:
            return initial(paper);
        default:
            return typed(103, 285, between(8, 11), numbers[below(6)], below(2) ? "#222" : "#8a8a8a");
        }
    }

  private:
    std::filesystem::path folder_;
    std::mt19937 random_;
};

}

std::vector<HardSide> hard_sides(const std::filesystem::path& folder) {
    Sides s(folder);
    const char* papers[] = {"#ffffff", "#fbf6df", "#e9ebe6", "#f3e3e3"};
    const auto behind = [](HardSide& side, double strength) {
        side.sheet.back.file = original("lease-1");
        side.sheet.show_through = strength;
    };
    // Blank sides.
    for (const char* paper : papers) s.add(fmt::format("bare paper {}", paper), false, "", paper);
    for (const double opacity : {0.08, 0.16, 0.28, 0.4}) s.add("smudge", false, s.smudge(opacity) + s.smudge(opacity));
    for (const double opacity : {0.3, 0.5, 0.8}) s.add("crease", false, s.crease(opacity > 0.4, opacity));
    s.add("folded twice", false, s.crease(true, 0.6) + s.crease(false, 0.6));
    s.add("two punch holes", false, Sides::holes(2, "#333"));
    s.add("four punch holes", false, Sides::holes(4, "#404040"), papers[1]);
    s.add("holes over a white lid", false, Sides::holes(2, "#d8d8d8"));
    for (const double shadow : {0.15, 0.35, 0.6}) s.add("lift edge shadow", false, "").sheet.edge_shadow = shadow;
    for (const double strength : {0.06, 0.1, 0.14, 0.18}) behind(s.add("print shining through", false, ""), strength);
    for (const int specks : {15, 40, 90}) s.add("dust", false, "").sheet.dust = specks;
    s.add("staple holes", false,
          "<circle cx='14' cy='12' r='0.4' fill='#444'/><circle cx='24' cy='13' r='0.4' fill='#444'/>");
    s.add("streak of a dirty sensor", false, "<rect x='131' y='0' width='0.12' height='297' fill='#999'/>");
    s.add("bent corner", false,
          "<path d='M186 0 L210 26 L210 0 Z' fill='#dddddd'/><path d='M186 0 L210 26' stroke='#aaa' "
          "stroke-width='0.4'/>");
    behind(s.add("through, holes and shadow", false, Sides::holes(2, "#333")), 0.12);
    s.all.back().sheet.edge_shadow = 0.3;
    behind(s.add("through, crease and dust", false, s.crease(true, 0.5), papers[1]), 0.12);
    s.all.back().sheet.dust = 40;
    s.add("smudge and crease on grey paper", false, s.smudge(0.25) + s.crease(false, 0.5), papers[2]).sheet.dust = 20;
    // Used sides.
    for (const double darkness : {28.0, 36.0, 45.0, 60.0, 90.0})
        s.add(fmt::format("pencil note, {} levels", darkness), true, s.pencil(70, 90, 9, darkness));
    s.add("pencil note at the edge", true, s.pencil(150, 285, 7, 45));
    s.add("pencil on tinted paper", true, s.pencil(40, 200, 12, 60), papers[1]);
    s.add("a pencilled tick", true, "<path d='M100 120 l3 5 l7 -12' fill='none' stroke='#b4b4b4' stroke-width='0.5'/>");
    for (const char* number : {"7", "12", "- 3 -", "iv", "Page 2"})
        s.add(fmt::format("page number {}", number), true, Sides::typed(103, 285, 9, number));
    s.add("page number 1", true, Sides::typed(103, 285, 11, "1"));
    s.add("grey page number", true, Sides::typed(103, 285, 9, "24", "#8a8a8a"));
    for (const char* colour : {"#2a3f9a", "#a02030", "#287a45"})
        s.add(fmt::format("stamp {}", colour), true, s.stamp(colour, 0.55, colour[1] == '2'));
    s.add("pale stamp", true, s.stamp("#2a3f9a", 0.3, true));
    s.add("pale stamp on grey paper", true, s.stamp("#a02030", 0.35, false), papers[2]);
    s.add("initials", true,
          "<path d='M150 250 q3 -9 5 0 q1 4 3 -3 m2 4 q2 -12 4 -2 q3 3 5 -2' fill='none' stroke='#33418f' "
          "stroke-width='0.5'/>");
    s.add("one short line", true, Sides::typed(25, 40, 10, "See over."));
    s.add("small print", true, Sides::typed(25, 280, 6, "Wendle Navigation Trust, form 12b, reprinted in May"));
    s.add("faint print", true, Sides::typed(25, 60, 10, "Keep with the lease.", "#b0b0b0"));
    behind(s.add("pencil over print shining through", true, s.pencil(60, 140, 10, 60)), 0.1);
    behind(s.add("page number over print shining through", true, Sides::typed(103, 285, 9, "8")), 0.12);
    s.add("pencil and a smudge", true, s.pencil(120, 60, 8, 50) + s.smudge(0.2));
    s.add("page number and a crease", true, Sides::typed(103, 285, 9, "16") + s.crease(true, 0.5));
    s.add("page number and punch holes", true, Sides::typed(103, 285, 9, "4") + Sides::holes(2, "#333"));
    s.add("stamp and an edge shadow", true, s.stamp("#2a3f9a", 0.5, false)).sheet.edge_shadow = 0.4;
    s.add("pencil and dust", true, s.pencil(90, 230, 9, 55)).sheet.dust = 40;
    s.add("pencil between punch holes", true, s.pencil(30, 148, 9, 60) + Sides::holes(2, "#404040"));
    return std::move(s.all);
}

WornSide worn_side(const std::filesystem::path& folder, int number, Note note) {
    Sides s(folder, static_cast<unsigned>(number) * 7919U + 17U);
    const char* behind[] = {"lease-1", "lease-2", "invoice", "minutes-punched", "towpath-form", "log-sheet"};
    const std::pair<const char*, double> papers[] = {
        {"#ffffff", 255}, {"#ffffff", 255}, {"#fbf6df", 245}, {"#e9ebe6", 234}};
    const auto& [paper, level] = papers[s.below(4)];
    const bool is_stained = s.below(3) == 0;
    const std::string body = (is_stained ? s.stain() : "") + (note == Note::Faint ? s.faint_note(level) : "");
    WornSide out;
    StackSheet sheet = s.add("worn", note == Note::Faint, body, paper).sheet;
    const auto drawing = folder / fmt::format("worn-{}-{}.svg", number, note == Note::Faint);
    std::filesystem::rename(sheet.front.file, drawing);
    sheet.front.file = drawing;
    sheet.back.file = original(behind[s.below(6)]);
    sheet.show_through = s.between(0.05, 0.2);
    sheet.show_through_blur_mm = s.between(0.1, 0.5);
    sheet.dust = s.below(60);
    sheet.fibres = s.below(5);
    sheet.creases = s.below(3);
    sheet.marks_seed = static_cast<unsigned>(number);
    out.bench.stack = {sheet};
    out.bench.sensor.grain = s.between(1, 4);
    out.bench.sensor.seed = static_cast<std::uint64_t>(number);
    out.dpi = s.below(2) ? 300 : 200;
    out.name =
        fmt::format("{} {}: through {:.2f} blur {:.2f} mm of {}, grain {:.1f}, dust {} fibres {} creases {}{} at "
                    "{} dpi",
                    note == Note::Faint ? "note" : "bare", number, sheet.show_through, sheet.show_through_blur_mm,
                    sheet.back.file.stem().string(), out.bench.sensor.grain, sheet.dust, sheet.fibres, sheet.creases,
                    is_stained ? " stain" : "", out.dpi);
    return out;
}

}
