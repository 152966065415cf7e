// The simulated feeder: what it delivers, with known truth, and each of its faults.
#include "core/scanner/faults.h"
#include "core/seeing/sheet.h"
#include "support/support.h"

#include <opencv2/imgproc.hpp>

#include <set>

namespace yelvin::test {
namespace {

BenchSetup stack_of(int sheets, const char* front = "lease-1", const char* back = "lease-2") {
    BenchSetup bench;
    for (int i = 0; i < sheets; ++i) bench.stack.push_back({{original(front)}, {*back ? original(back) : ""}});
    return bench;
}

const ScanRequest both{Source::FeederBoth, {}, 75, Ink::Grey, true};
const ScanRequest fronts{Source::FeederFront, {}, 75, Ink::Grey, true};

TEST(Feeder, DeliversFrontsAndBacksInTurnUntilItIsEmpty) {
    SimulatedScanner scanner(stack_of(3));
    EXPECT_EQ(scanner.sheets_waiting(), 3);
    RasterSink sink;
    ASSERT_TRUE(scanner.scan(both, sink, {}));
    ASSERT_EQ(sink.pages.size(), 6U);
    for (size_t i = 0; i < 6; ++i) {
        EXPECT_EQ(sink.starts[i].sheet, static_cast<int>(i) / 2 + 1);
        EXPECT_EQ(sink.starts[i].back, i % 2 == 1);
        EXPECT_EQ(sink.starts[i].height_px, 0) << "the length is not known before the end";
    }
    EXPECT_EQ(scanner.sheets_waiting(), 0);
    const auto again = scanner.scan(both, sink, {});
    ASSERT_FALSE(again);
    EXPECT_EQ(again.error().kind, ErrorKind::FeederEmpty);
    EXPECT_EQ(scanner.state(), ScannerState::FeederEmpty);
}

TEST(Feeder, StopsAfterSoManySheets) {
    SimulatedScanner scanner(stack_of(5));
    ScanRequest two = both;
    two.sheets = 2;
    RasterSink sink;
    ASSERT_TRUE(scanner.scan(two, sink, {}));
    EXPECT_EQ(sink.pages.size(), 4U);
    EXPECT_EQ(scanner.sheets_waiting(), 3);
    scanner.put_back();
    EXPECT_EQ(scanner.sheets_waiting(), 4);
}

// Sizes and tilts of a mixed stack are found again from the pictures.
TEST(Feeder, SheetsOfAllSizesAreFoundOnTheRoller) {
    const std::tuple<const char*, double, SizeMm> sheets[] = {
        {"lease-1", 0, {210, 297}},         {"lease-1", 1.7, {210, 297}}, {"till-receipt", -2.3, {}},
        {"membership-card-front", 0.8, {}}, {"photo-top-lock", -0.6, {}}, {"towpath-form", 3.0, {}}};
    for (const auto& [name, skew, size] : sheets) {
        BenchSetup bench;
        bench.stack = {{{original(name)}, {}, skew}};
        SimulatedScanner scanner(bench);
        RasterSink sink;
        ScanRequest request = fronts;
        request.dpi = 200;
        ASSERT_TRUE(scanner.scan(request, sink, {}));
        const auto sheet = find_sheet(sink.pages.front());
        ASSERT_TRUE(sheet) << name;
        const SizeMm truth = *original_size(original(name));
        EXPECT_NEAR(sheet->w_mm, truth.width, 0.7) << name;
        EXPECT_NEAR(sheet->h_mm, truth.height, 0.7) << name;
        EXPECT_NEAR(sheet->angle_degrees, skew, 0.15) << name;
    }
}

TEST(Feeder, TheGlassPictureHasNoSheetToCutTo) {
    EXPECT_FALSE(find_sheet(scan("lease-1", 0, 100, Ink::Colour)));
    EXPECT_FALSE(find_sheet(scan("photo-top-lock", 0, 100, Ink::Colour, {40, 80, 120, 90}))) << "a picture without rim";
}

TEST(Feeder, EachFaultHappensOnceAndTheSheetCanBePutBack) {
    const std::tuple<ErrorKind, size_t, ScannerState> faults[] = {
        {ErrorKind::Jam, 4, ScannerState::Jam},
        {ErrorKind::TwoSheets, 4, ScannerState::Jam},
        {ErrorKind::LidOpen, 4, ScannerState::LidOpen},
        {ErrorKind::Offline, 4, ScannerState::Offline},
        {ErrorKind::Busy, 4, ScannerState::Ready},
        {ErrorKind::NoMemory, 4, ScannerState::Ready},
        {ErrorKind::FeederEmpty, 4, ScannerState::FeederEmpty}};
    std::set<std::string> sentences;
    for (const auto& [kind, pages_before, state] : faults) {
        BenchSetup bench = stack_of(4);
        bench.faults = {{kind, 3}};
        SimulatedScanner scanner(bench);
        RasterSink sink;
        const auto done = scanner.scan(both, sink, {});
        ASSERT_FALSE(done);
        EXPECT_EQ(done.error().kind, kind);
        EXPECT_EQ(sink.pages.size(), pages_before) << done.error().sentence;
        EXPECT_EQ(scanner.state(), state) << done.error().sentence;
        EXPECT_EQ(scanner.sheets_waiting(), 2) << "the sheet is still to be scanned";
        EXPECT_TRUE(can_go_on(kind));
        sentences.insert(done.error().sentence);
        ASSERT_TRUE(scanner.scan(both, sink, {})) << "once it is put right";
        EXPECT_EQ(sink.pages.size(), 8U);
    }
    EXPECT_EQ(sentences.size(), std::size(faults));
}

TEST(Feeder, TwoSheetsThatNobodySensedMakeALongPicture) {
    BenchSetup bench = stack_of(4);
    bench.faults = {{ErrorKind::TwoSheets, 2, false}};
    SimulatedScanner scanner(bench);
    RasterSink sink;
    ASSERT_TRUE(scanner.scan(fronts, sink, {}));
    ASSERT_EQ(sink.pages.size(), 3U);
    EXPECT_GT(sink.pages[1].height_px(), 1.4 * sink.pages[0].height_px());
    scanner.turn_over();
    EXPECT_EQ(scanner.sheets_waiting(), 4);
    EXPECT_EQ(scanner.bench().stack.front().front.file, original("lease-2"));
}

TEST(Feeder, TheOtherSideShinesThroughAndDustAndShadowsShow) {
    const auto front_of = [](const StackSheet& sheet) {
        BenchSetup bench;
        bench.stack = {sheet};
        bench.sensor = ideal_sensor;
        SimulatedScanner scanner(bench);
        RasterSink sink;
        EXPECT_TRUE(scanner.scan({Source::FeederFront, a4_area, 100, Ink::Grey}, sink, {}));
        const cv::Mat& page = sink.pages.front().pixels; // without the sheet's own edges
        return cv::Mat(page(cv::Rect(2, 2, page.cols - 6, page.rows - 6)));
    };
    StackSheet sheet{{}, {original("lease-1")}};
    EXPECT_EQ(cv::countNonZero(front_of(sheet) < 250), 0) << "bare paper";
    sheet.show_through = 0.15;
    const cv::Mat through = front_of(sheet);
    double darkest = 0;
    cv::minMaxLoc(through, &darkest);
    EXPECT_GT(darkest, 180) << "pale";
    EXPECT_GT(cv::countNonZero(through < 250), 2000);
    sheet.show_through = 0;
    sheet.dust = 30;
    EXPECT_GT(cv::countNonZero(front_of(sheet) < 245), 20);
    sheet.dust = 0;
    sheet.edge_shadow = 0.5;
    const cv::Mat shadow = front_of(sheet);
    EXPECT_LT(cv::mean(shadow.col(2))[0], cv::mean(shadow.col(40))[0] - 60);
}

TEST(Feeder, TheButtonIsReportedOnce) {
    SimulatedScanner scanner;
    EXPECT_FALSE(scanner.take_button_press());
    scanner.press_button("copy");
    EXPECT_EQ(scanner.take_button_press(), "copy");
    EXPECT_FALSE(scanner.take_button_press());
}

}
}
