// The simulated feeder: its pictures, with known truth, and each of its faults.
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

TEST(Feeder, DeliversFrontsAndBacksUntilItIsEmpty) {
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

TEST(Feeder, StopsAfterTheRequestedSheets) {
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

// The sizes and tilts of a mixed stack are measured in the pictures.
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

TEST(Feeder, APictureOfTheGlassIsNotCroppedToASheet) {
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

TEST(Feeder, TwoSheetsNotDetectedMakeALongPicture) {
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

TEST(Feeder, SimulatesShowThroughDustAndShadows) {
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

TEST(Feeder, SimulatesFibresCreasesAndBlurredShowThrough) {
    const auto sides_of = [](const StackSheet& sheet) {
        BenchSetup bench;
        bench.stack = {sheet};
        bench.sensor = ideal_sensor;
        SimulatedScanner scanner(bench);
        RasterSink sink;
        EXPECT_TRUE(scanner.scan({Source::FeederBoth, a4_area, 200, Ink::Grey}, sink, {}));
        std::vector<cv::Mat> sides; // without the sheet's own edges
        for (const Raster& page : sink.pages)
            sides.push_back(page.pixels(cv::Rect(4, 4, page.pixels.cols - 10, page.pixels.rows - 10)));
        return sides;
    };
    StackSheet sheet;
    sheet.fibres = 4;
    for (const cv::Mat& side : sides_of(sheet)) {
        const int pixels = cv::countNonZero(side < 230);
        EXPECT_GT(pixels, 20);
        EXPECT_LT(pixels, 600) << "thin and short";
    }
    sheet.fibres = 0;
    sheet.creases = 1;
    const auto creased = sides_of(sheet);
    cv::Mat mirrored;
    cv::flip(creased[1], mirrored, 1);
    EXPECT_GT(cv::countNonZero(creased[0] < 250), 2000) << "from edge to edge";
    cv::Mat here = creased[0] < 250, there = mirrored < 250;
    cv::dilate(here, here, cv::Mat::ones(7, 7, CV_8U));
    EXPECT_LT(cv::countNonZero(there & ~here), 0.02 * cv::countNonZero(there)) << "the same fold";
    StackSheet printed{{}, {original("lease-1")}};
    printed.show_through = 0.2;
    double steepest[2] = {};
    for (const int soft : {0, 1}) {
        printed.show_through_blur_mm = soft ? 0.5 : 0.1;
        cv::Mat steps;
        cv::morphologyEx(sides_of(printed)[0], steps, cv::MORPH_GRADIENT, cv::Mat::ones(3, 3, CV_8U));
        cv::minMaxLoc(steps, nullptr, &steepest[soft]);
    }
    EXPECT_GT(steepest[0], 2.5 * steepest[1]);
}

// A step from paper to ink, 1/8 mm further down in blue and further up in red.
TEST(Feeder, SimulatesMisregisteredSensorLines) {
    constexpr double dpi = 400, apart_mm = 0.125;
    Sensor sensor = ideal_sensor;
    sensor.apart_mm = apart_mm;
    const int reach = reach_px(sensor, dpi), rows = 100;
    cv::Mat light(rows + 2 * reach, 8, CV_8UC3, cv::Scalar::all(200));
    light.rowRange(reach + rows / 2, light.rows).setTo(cv::Scalar::all(40));
    const cv::Mat seen = sensed(light, sensor, dpi, reach, 0, 0, 216);
    ASSERT_EQ(seen.rows, rows);
    const cv::Scalar dark = cv::sum(cv::Scalar::all(200) - seen) / (160.0 * 8); // rows of ink in each channel
    EXPECT_NEAR(dark[1], rows / 2.0, 0.01);
    EXPECT_NEAR(dark[0] - dark[1], -mm_to_px(apart_mm, dpi), 0.02);
    EXPECT_NEAR(dark[2] - dark[1], mm_to_px(apart_mm, dpi), 0.02);
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
