// The test strip compared with what the simulated scanner delivers, with finished files, and on a page with details
// that are easily lost.
#include "core/ocr/reader.h"
#include "core/strip/test_strip.h"
#include "jobs/reader_pool.h"
#include "jobs/save_job.h"
#include "support/support.h"

#include <fmt/format.h>

namespace yelvin::test {
namespace {

double mean_difference(const Raster& a, const Raster& b) {
    cv::Mat difference;
    cv::absdiff(a.pixels, b.pixels, difference);
    const cv::Scalar mean = cv::mean(difference);
    return a.pixels.channels() == 3 ? (mean[0] + mean[1] + mean[2]) / 3 : mean[0];
}

TEST(TestStrip, MatchesARealScanWithinTwoGreyLevels) {
    const RectMm area{0, 0, 76.2, 279.4}; // whole pixels at each resolution
    for (const char* paper : {"lease-1", "photo-top-lock"}) {
        const Raster best = scan(paper, 0.7, 600, Ink::Colour, area);
        for (const int dpi : {75, 150, 300}) {
            for (const Ink ink : {Ink::Colour, Ink::Grey}) {
                const Raster own = scan(paper, 0.7, dpi, ink, area), made = strip_picture(best, dpi, ink);
                ASSERT_EQ(made.pixels.size(), own.pixels.size()) << dpi;
                EXPECT_LT(mean_difference(made, own), 2) << paper << " " << dpi << " " << ink_word(ink);
            }
        }
    }
}

TEST(TestStrip, ADetailHasThePixelsOfTheWholePicture) {
    const Raster best = scan("lease-1", 0, 600, Ink::Colour, {0, 0, 100, 80});
    for (const int dpi : strip_resolutions) {
        for (const Ink ink : strip_inks) {
            const Raster whole = strip_picture(best, dpi, ink);
            const RectMm detail{25.4, 25.4, 30, 20};
            const Raster part = strip_detail(best, dpi, ink, detail, black_threshold_at(best, dpi));
            const Raster same{whole.pixels(cv::Rect(dpi, dpi, part.width_px(), part.height_px())), whole.dpi,
                              whole.ink};
            EXPECT_NEAR(part.size_mm().width, 30, 0.4) << dpi;
            EXPECT_EQ(mean_difference(part, same), 0) << dpi << " " << ink_word(ink);
        }
    }
}

TEST(TestStrip, GrainIsMeasuredAndRestoredForEstimates) {
    for (const double grain : {0.8, 1.5, 3.0}) {
        Sensor sensor;
        sensor.grain = grain;
        const Raster best = scan("lease-1", 0, 600, Ink::Colour, {20, 20, 90, 70}, sensor);
        EXPECT_NEAR(grain_of(best), grain, 0.12 * grain);
        EXPECT_LT(grain_of(strip_picture(best, 150, Ink::Colour)), 0.6 * grain) << "averaged away";
        EXPECT_NEAR(grain_of(strip_weighed(best, 150, Ink::Colour)), grain, 0.2 * grain);
    }
}

TEST(TestStrip, SizesAreThoseOfSavedFilesWithinATenth) {
    const TempFolder out;
    const RectMm area{25.4, 25.4, 127, 152.4};
    const Raster best = scan("invoice", 0, 600, Ink::Colour, area);
    ReaderPool readers;
    for (const Format format : {Format::Pdf, Format::Png}) {
        for (const int dpi : {100, 300}) {
            for (const Ink ink : strip_inks) {
                Ticket ticket;
                ticket.make.format = format;
                ticket.read.languages.clear();
                const double said = finished_bytes(strip_weighed(best, dpi, ink), {}, ticket.make).value();
                SaveJob job;
                job.page_count = 1;
                job.ticket = ticket;
                job.folder = out.path();
                job.fixed_name = fmt::format("{} {} {}", format_key(format), dpi, ink_word(ink));
                // Compared with a scan at that resolution, not with what the strip made of the fine one; the colour
                // mode is made by the program.
                job.page = [&](size_t) -> Result<std::optional<FinishedPage>> {
                    const Raster scanned = scan("invoice", 0, dpi, ink == Ink::Black ? Ink::Grey : ink, area);
                    return std::optional(FinishedPage{with_ink(scanned, ink), std::nullopt});
                };
                const auto saved = save_document(job, readers, {});
                ASSERT_TRUE(saved) << saved.error().sentence;
                const auto real = static_cast<double>(saved->front().bytes);
                EXPECT_NEAR(said, real, 0.1 * real) << job.fixed_name;
            }
        }
    }
}

TEST(TestStrip, SmallPrintAndAPencilNoteAreBothKept) {
    const TempFolder folder;
    const double six_pt = 6 * mm_per_inch / points_per_inch;
    std::string body = "<rect width='120' height='90' fill='#fff'/>";
    const char* lines[] = {"The licensee shall keep the towpath clear of ropes and bicycles at all",
                           "times, and shall moor between the white posts numbered four and nine,",
                           "save where the lock keeper has agreed another place in writing for the",
                           "season. Rent falls due on the first Monday of each quarter and is paid",
                           "to the office at the lower basin, by cheque or across the counter."};
    for (int i = 0; i < 5; ++i)
        body += fmt::format("<text x='10' y='{}' font-family='Inter,sans-serif' font-size='{}' fill='#222'>{}</text>",
                            20 + i * 4.0, six_pt, lines[i]);
    std::string pencil = "M20 70";
    for (int i = 0; i < 14; ++i)
        pencil += fmt::format(" q0.6 {} 1.3 0.4 q0.8 0.9 1.5 {}", i % 3 ? -2.6 : -4.4, i % 2 ? 0.2 : -0.2);
    body += "<path d='" + pencil + "' fill='none' stroke='#b4b4b4' stroke-width='0.4'/>";
    write_file(folder / "note.svg",
               "<svg xmlns='http://www.w3.org/2000/svg' width='120mm' height='90mm' viewBox='0 0 120 90'>" + body +
                   "</svg>");
    BenchSetup bench;
    bench.glass = {{folder / "note.svg", 60, 45, 0}};
    SimulatedScanner scanner(bench);
    RasterSink sink;
    ASSERT_TRUE(scanner.scan({Source::Glass, {0, 0, 120, 90}, 600, Ink::Colour}, sink, {}));
    const Raster& best = sink.pages.front();
    const Notices notices = notice(best, Items::None);

    Reader reader;
    const TextLayer truth = reader.read(with_ink(best, Ink::Grey), {"eng"}).value();
    ASSERT_GT(truth.word_count(), 50);
    std::vector<StripCell> cells = strip_cells(best);
    ASSERT_EQ(cells.size(), 18U);
    for (StripCell& cell : cells) {
        const Raster page = strip_picture(best, cell.dpi, cell.ink);
        const auto reads = reads_as(truth, reader.read(page, {"eng"}).value());
        ASSERT_TRUE(reads);
        cell.reads = reads->share;
        cell.confidence = reads->confidence;
        cell.bytes = finished_bytes(page, {}, Ticket{}.make).value();
    }
    const auto at = [&](int dpi, Ink ink) {
        return *std::ranges::find_if(cells, [&](const StripCell& c) { return c.dpi == dpi && c.ink == ink; });
    };
    EXPECT_LT(*at(75, Ink::Grey).reads, 0.9) << "six points are not to be trusted at 75 dpi";
    EXPECT_GT(*at(300, Ink::Grey).reads, 0.9);
    EXPECT_LT(at(300, Ink::Black).bytes, at(300, Ink::Grey).bytes);
    EXPECT_LT(at(300, Ink::Grey).bytes, at(300, Ink::Colour).bytes);

    const auto advice = strip_advice(cells, notices, best.size_mm());
    ASSERT_FALSE(advice.empty());
    EXPECT_EQ(advice[0].ink, Ink::Grey) << "black would lose the pencil";
    EXPECT_GE(advice[0].dpi, 300);
    EXPECT_EQ(advice[0].reason, StripAdvice::Reason::SmallestThatReads);
    EXPECT_GE(*at(advice[0].dpi, Ink::Grey).reads, 0.95) << "the small print";
    // The pencil marks are kept in what is recommended, and lost in black and white.
    const cv::Rect note(cvRound(mm_to_px(18, advice[0].dpi)), cvRound(mm_to_px(62, advice[0].dpi)),
                        cvRound(mm_to_px(46, advice[0].dpi)), cvRound(mm_to_px(12, advice[0].dpi)));
    const auto marks_in = [&](Ink ink) {
        const Raster page = strip_picture(best, advice[0].dpi, ink);
        const Raster part{page.pixels(note), page.dpi, page.ink};
        return cv::countNonZero(find_marks(part).all);
    };
    EXPECT_GT(marks_in(Ink::Grey), 200);
    EXPECT_LT(marks_in(Ink::Black), 20);
    const auto black = std::ranges::find(advice, StripAdvice::Reason::BlackLosesFaint, &StripAdvice::reason);
    ASSERT_NE(black, advice.end()) << "and it says what black would lose";
    EXPECT_LT(black->size_ratio, 0.5);
}

// Advice computed from figures alone, without a scan.
TEST(TestStrip, TheRecommendationFollowsFromReadability) {
    using Reason = StripAdvice::Reason;
    std::vector<StripCell> cells;
    for (const Ink ink : strip_inks) {
        for (const int dpi : strip_resolutions)
            cells.push_back({dpi, ink, dpi * 1000.0 / (1 << static_cast<int>(ink)),
                             dpi < 150   ? 0.5
                             : dpi < 200 ? 0.9
                                         : 1.0,
                             90});
    }
    Notices plain;
    plain.ink.least = Ink::Black;
    const auto text = strip_advice(cells, plain, {210, 297});
    EXPECT_EQ(text[0], (StripAdvice{200, Ink::Black, Reason::SmallestThatReads, 1}));
    Notices stamped = plain;
    stamped.ink.least = Ink::Colour;
    const auto colour = strip_advice(cells, stamped, {210, 297});
    EXPECT_EQ(colour[0].ink, Ink::Colour);
    EXPECT_EQ(colour[1].reason, Reason::GreyLosesColour);
    Notices photograph;
    photograph.kind = PageKind::Photo;
    photograph.ink.least = Ink::Colour;
    EXPECT_EQ(strip_advice(cells, photograph, {150, 100})[0].dpi, 600) << "a small one";
    EXPECT_EQ(strip_advice(cells, photograph, {250, 200})[0].dpi, 300);
    for (StripCell& cell : cells) cell.reads.reset();
    EXPECT_EQ(strip_advice(cells, plain, {210, 297})[0].reason, Reason::NoWords);
    EXPECT_EQ(strip_advice(cells, plain, {210, 297})[0].dpi, 300) << "the usual choice";
    EXPECT_TRUE(strip_advice({}, plain, {210, 297}).empty());
}

}
}
