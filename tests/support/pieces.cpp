#include "support/pieces.h"

#include "core/raster/image_file.h"
#include "devices/simulated/originals.h"

#include <fmt/format.h>
#include <opencv2/imgproc.hpp>

#include <cmath>
#include <random>

namespace yelvin::test {

namespace {

class Objects {
  public:
    Objects(unsigned seed, SizeMm size) : random_(seed), size_(size) {}
    double between(double least, double most) { return std::uniform_real_distribution(least, most)(random_); }
    int whole_between(int least, int most) { return std::uniform_int_distribution(least, most)(random_); }

    std::string drawing(const std::string& body, const char* paper = "#f4f1e8") const {
        return fmt::format("<svg xmlns='http://www.w3.org/2000/svg' width='{0}mm' height='{1}mm' viewBox='0 0 {0} {1}'>"
                           "<rect width='{0}' height='{1}' fill='{2}'/>{3}</svg>",
                           size_.width, size_.height, paper, body);
    }

    std::string word() {
        std::string out;
        for (int n = whole_between(2, 9); n > 0; --n) out += static_cast<char>('a' + whole_between(0, 25));
        return out;
    }
    std::string label(double x, double y, double size, const std::string& text, const char* colour = "#222") const {
        return fmt::format(
            "<text x='{:.2f}' y='{:.2f}' font-family='Inter,sans-serif' font-size='{}' fill='{}'>{}</text>", x, y, size,
            colour, text);
    }
    static std::string line(double x1, double y1, double x2, double y2, double width, const char* colour = "#333") {
        return fmt::format("<path d='M{:.2f} {:.2f}L{:.2f} {:.2f}' stroke='{}' stroke-width='{}' fill='none'/>", x1, y1,
                           x2, y2, colour, width);
    }

    std::string text() {
        std::string out;
        for (double y = 16; y < size_.height - 12; y += 6.2) {
            if (between(0, 1) < 0.08) continue; // between paragraphs
            std::string words;
            const double end = size_.width - (between(0, 1) < 0.15 ? between(30, 120) : 14);
            for (double x = 14; x < end - 20;) {
                const std::string w = word();
                words += w + ' ';
                x += static_cast<double>(w.size() + 1) * 1.95;
            }
            out += label(14, y, 3.7, words);
        }
        return drawing(out);
    }

    // Rivers, roads and fields.
    std::string drawn() {
        std::string out;
        for (int i = 0; i < 26; ++i) {
            double x = between(0, size_.width), y = between(0, size_.height), angle = between(0, 6.3);
            std::string path = fmt::format("M{:.1f} {:.1f}", x, y);
            for (int k = 0; k < 24; ++k) {
                angle += between(-0.6, 0.6);
                x += 14 * std::cos(angle);
                y += 14 * std::sin(angle);
                path += fmt::format(" L{:.1f} {:.1f}", x, y);
            }
            static constexpr const char* colours[] = {"#2b5a8c", "#8a5a2b", "#333", "#5b7a46"};
            out += fmt::format("<path d='{}' fill='none' stroke='{}' stroke-width='{:.2f}' stroke-linejoin='round'/>",
                               path, colours[i % 4], between(0.3, 1.4));
        }
        for (int i = 0; i < static_cast<int>(size_.width * size_.height / 1500); ++i)
            out += label(between(5, size_.width - 25), between(5, size_.height - 5), between(2.4, 4), word());
        return drawing(out);
    }

    std::string table() {
        std::string out;
        const double row = 8.5, column = 26;
        for (double y = 20; y < size_.height - 10; y += row) {
            out += line(10, y, size_.width - 10, y, 0.3);
            for (double x = 10; x < size_.width - 30; x += column)
                if (between(0, 1) < 0.75)
                    out += label(x + 2, y + row - 2.6, 3.4, fmt::format("{}", whole_between(1, 99999)));
        }
        for (double x = 10; x < size_.width - 9; x += column) out += line(x, 20, x, size_.height - 12, 0.3);
        return drawing(out, "#ffffff");
    }

    // A few walls and hardly any words.
    std::string plan() {
        std::string out;
        std::vector<double> xs, ys;
        for (double x = between(14, 30); x < size_.width - 10; x += between(38, 75)) xs.push_back(x);
        for (double y = between(14, 30); y < size_.height - 10; y += between(38, 75)) ys.push_back(y);
        const auto some = [&](const std::vector<double>& of) {
            return of[static_cast<size_t>(whole_between(0, static_cast<int>(of.size()) - 1))];
        };
        for (const double x : xs) out += line(x, some(ys) - 6, x, size_.height - between(8, 40), 0.7);
        for (const double y : ys) out += line(some(xs) - 6, y, size_.width - between(8, 40), y, 0.7);
        for (const double x : xs)
            for (const double y : ys) {
                if (between(0, 1) < 0.4)
                    out += label(x + 6, y + 12, 3.6, fmt::format("{} {}", word(), whole_between(1, 60)));
                if (between(0, 1) < 0.35)
                    out += fmt::format(
                        "<path d='M{0} {1}a{2} {2} 0 0 1 {2} {2}' fill='none' stroke='#444' stroke-width='0.35'/>", x,
                        y, between(7, 11));
            }
        return drawing(out, "#fbfaf6");
    }

    // Clouds of every size, hills, and a few sharp things: generated in place of a photograph.
    cv::Mat photograph(double dpi) {
        const cv::Size size(scanned_px(size_.width, dpi), scanned_px(size_.height, dpi));
        cv::RNG noise(random_());
        cv::Mat sum(size, CV_32FC3, cv::Scalar(105, 118, 126));
        for (double cell = 400; cell > 2.5; cell /= 2) {
            const cv::Size coarse(static_cast<int>(size.width / cell) + 3, static_cast<int>(size.height / cell) + 3);
            cv::Mat small(coarse, CV_32FC3), large;
            noise.fill(small, cv::RNG::NORMAL, 0, 10 * std::pow(cell / 10, 0.35));
            cv::resize(small, large, size, 0, 0, cv::INTER_CUBIC);
            sum += large;
        }
        for (int i = 0; i < 60; ++i) {
            const cv::Point at(noise.uniform(0, size.width), noise.uniform(0, size.height));
            const cv::Scalar colour(noise.uniform(20, 230), noise.uniform(20, 230), noise.uniform(20, 230));
            cv::ellipse(sum, at, {noise.uniform(8, 90), noise.uniform(8, 90)}, noise.uniform(0, 180), 0, 360, colour,
                        i % 2 ? -1 : 3, cv::LINE_AA);
        }
        cv::Mat out;
        sum.convertTo(out, CV_8U);
        cv::GaussianBlur(out, out, {}, 0.8);
        return out;
    }

  private:
    std::mt19937 random_;
    SizeMm size_;
};

std::filesystem::path made(const std::filesystem::path& folder, const std::string& name, ObjectKind kind, unsigned seed,
                           SizeMm size) {
    Objects objects(seed, size);
    if (kind == ObjectKind::Photograph) {
        const auto file = folder / (name + ".png");
        write_file(file, encode_png({objects.photograph(200), 200, Ink::Colour}).value());
        return file;
    }
    const auto file = folder / (name + ".svg");
    std::string svg;
    if (kind == ObjectKind::Text) svg = objects.text();
    if (kind == ObjectKind::Drawing) svg = objects.drawn();
    if (kind == ObjectKind::Table) svg = objects.table();
    if (kind == ObjectKind::Plan) svg = objects.plan();
    write_file(file, svg);
    return file;
}

Raster scanned(const LaidPaper& paper, SizeMm area, double dpi, Ink ink, double grain, std::uint64_t seed) {
    BenchSetup bench;
    bench.glass = {paper};
    bench.sensor.grain = grain;
    bench.sensor.seed = seed;
    SimulatedScanner scanner(bench);
    RasterSink sink;
    const auto done = scanner.scan({Source::Glass, {0, 0, area.width, area.height}, dpi, ink}, sink, {});
    if (!done || sink.pages.empty())
        ADD_FAILURE() << "no scan of " << paper.file << (done ? "" : done.error().sentence);
    return sink.pages.empty() ? Raster{} : sink.pages.front();
}

// The middle of the item is at (x, y) on the glass, turned by `degrees`.
Pose object_to_glass(SizeMm object, double x, double y, double degrees) {
    Pose turn{degrees * CV_PI / 180, 0, 0, 1};
    const cv::Point2d middle = turn({object.width / 2, object.height / 2});
    turn.x = x - middle.x;
    turn.y = y - middle.y;
    return turn;
}

}

PieceSet laid_in_pieces(const std::filesystem::path& folder, const std::string& name, ObjectKind kind, unsigned seed,
                        const Laying& laying) {
    std::mt19937 random(seed * 7919 + 17);
    const auto between = [&](double a, double b) { return std::uniform_real_distribution(a, b)(random); };
    PieceSet set;
    set.name = name;
    const double step_x = laying.glass.width * (1 - laying.overlap),
                 step_y = laying.glass.height * (1 - laying.overlap);
    // A little smaller than what the pieces cover, so that tilted ones leave nothing out.
    set.size = {step_x * (laying.columns - 1) + laying.glass.width - 8,
                step_y * (laying.rows - 1) + laying.glass.height - 8};
    set.file = made(folder, name, kind, seed, set.size);
    for (int row = 0; row < laying.rows; ++row) {
        for (int column = 0; column < laying.columns; ++column) {
            const double tilt = between(-laying.most_tilt, laying.most_tilt);
            const int quarter = laying.any_way_round ? static_cast<int>(between(0, 3.999)) : 0;
            SizeMm area = laying.glass;
            if (quarter % 2 == 1) std::swap(area.width, area.height);
            // The part of the item that is to be in the middle of the glass.
            const cv::Point2d middle(-4 + step_x * column + laying.glass.width / 2,
                                     -4 + step_y * row + laying.glass.height / 2);
            const Pose turn{(tilt + 90 * quarter) * CV_PI / 180, 0, 0, 1};
            const cv::Point2d off = turn(cv::Point2d(set.size.width / 2, set.size.height / 2) - middle);
            const LaidPaper paper{set.file, area.width / 2 + off.x, area.height / 2 + off.y, tilt + 90 * quarter};
            TruePiece piece{scanned(paper, area, laying.dpi, laying.ink, laying.grain, random()),
                            object_to_glass(set.size, paper.x_mm, paper.y_mm, paper.angle_degrees).inverse()};
            piece.raster.pixels *= 1 - between(0, laying.most_brighter);
            set.pieces.push_back(std::move(piece));
        }
    }
    for (int i = 0; i < laying.strangers; ++i) {
        const auto other = made(folder, name + "-stranger", kind, seed + 1000 + static_cast<unsigned>(i), set.size);
        const LaidPaper paper{other, set.size.width / 2 - 20, set.size.height / 2 - 20,
                              between(-laying.most_tilt, laying.most_tilt)};
        TruePiece piece{scanned(paper, laying.glass, laying.dpi, laying.ink, laying.grain, random()), {}, false};
        set.pieces.insert(set.pieces.begin() + static_cast<long>(set.pieces.size() / 2), std::move(piece));
    }
    return set;
}

Raster whole(const PieceSet& set, double dpi, Ink ink) {
    return scanned({set.file, set.size.width / 2, set.size.height / 2, 0}, set.size, dpi, ink, 0, 1);
}

PieceSet hard_set(const std::filesystem::path& folder, HardSet which) {
    using enum ObjectKind;
    using enum HardSet;
    const auto laid = [&](const char* name, ObjectKind kind, unsigned seed, const Laying& laying) {
        return laid_in_pieces(folder, name, kind, seed, laying);
    };
    switch (which) {
    case TextOfTwo:
        return laid("text of two", Text, 1, {.columns = 2, .rows = 1});
    case TextOfSixAndAStranger:
        return laid("text of six with a stranger", Text, 2, {.columns = 3, .rows = 2, .strangers = 1});
    case DrawingOfTwo:
        return laid("drawing of two, 8 % overlap", Drawing, 3,
                    {.columns = 1, .rows = 2, .overlap = 0.08, .most_tilt = 1});
    case DrawingOfNine:
        return laid("drawing of nine", Drawing, 4, {.columns = 3, .rows = 3});
    case DrawingOfTwelve:
        return laid("drawing of twelve", Drawing, 5, {.columns = 4, .rows = 3, .overlap = 0.15});
    case PhotographOfTwo:
        return laid("photograph of two", Photograph, 6, {.columns = 2, .rows = 1});
    case PhotographOfFourAndAStranger:
        return laid("photograph of four with a stranger", Photograph, 7, {.columns = 2, .rows = 2, .strangers = 1});
    case PhotographOfSix:
        return laid("photograph of six, grey", Photograph, 8, {.columns = 2, .rows = 3, .ink = Ink::Grey});
    case TableOfTwo:
        return laid("table of two", Table, 9, {.columns = 2, .rows = 1});
    case TableOfFour:
        return laid("table of four", Table, 10, {.columns = 2, .rows = 2});
    case TableOfEight:
        return laid("table of eight", Table, 11, {.columns = 4, .rows = 2, .ink = Ink::Grey});
    case PlanOfTwo:
        return laid("plan of two", Plan, 12, {.columns = 2, .rows = 1});
    case PlanOfFour:
        return laid("plan of four", Plan, 13, {.columns = 2, .rows = 2, .overlap = 0.2});
    case PlanOfNine:
        break;
    }
    return laid("plan of nine", Plan, 14, {.columns = 3, .rows = 3, .overlap = 0.2});
}

std::vector<PieceSet> hard_sets(const std::filesystem::path& folder) {
    std::vector<PieceSet> out;
    for (int i = 0; i < hard_set_count; ++i) out.push_back(hard_set(folder, static_cast<HardSet>(i)));
    return out;
}

CornerErrors corner_errors(const std::vector<cv::Point2d>& found, const std::vector<cv::Point2d>& truth) {
    const Pose best = rigid_between(found, truth);
    CornerErrors out;
    for (size_t i = 0; i < found.size(); ++i) {
        const double off = cv::norm(best(found[i]) - truth[i]);
        out.worst_mm = std::max(out.worst_mm, off);
        out.mean_mm += off / static_cast<double>(found.size());
    }
    return out;
}

CornerErrors corner_errors(const std::vector<Pose>& found, const std::vector<Pose>& truth,
                           const std::vector<SizeMm>& sizes) {
    std::vector<cv::Point2d> from, to;
    for (size_t i = 0; i < found.size(); ++i) {
        for (const cv::Point2d& c : corners_of(found[i], sizes[i])) from.push_back(c);
        for (const cv::Point2d& c : corners_of(truth[i], sizes[i])) to.push_back(c);
    }
    return corner_errors(from, to);
}

}
