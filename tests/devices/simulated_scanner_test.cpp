#include "devices/simulated/simulated_scanner.h"

#include "core/seeing/regions.h"
#include "support/support.h"

#include <opencv2/imgproc.hpp>

namespace yelvin::test {
namespace {

TEST(SimulatedScanner, DeliversTheAreaAtTheRequestedResolutionAndColourMode) {
    for (const double dpi : {75.0, 300.0}) {
        for (const Ink ink : {Ink::Colour, Ink::Grey, Ink::Black}) {
            const Raster page = scan("till-receipt", 0, dpi, ink, {50, 60, 85.6, 53.98});
            EXPECT_EQ(page.width_px(), scanned_px(85.6, dpi));
            EXPECT_EQ(page.height_px(), scanned_px(53.98, dpi));
            EXPECT_EQ(page.dpi, dpi);
            EXPECT_EQ(page.ink, ink);
            EXPECT_EQ(page.pixels.channels(), ink == Ink::Colour ? 3 : 1);
        }
    }
}

// The scan of an area equals that area of the whole scan.
TEST(SimulatedScanner, PlacesPaperAtItsTrueSizePositionAndAngle) {
    BenchSetup setup;
    setup.sensor = ideal_sensor;
    setup.glass = {{original("membership-card-front"), 80, 120, -12}};
    SimulatedScanner scanner(setup);
    RasterSink sink;
    ASSERT_TRUE(scanner.scan({Source::Glass, {}, 150, Ink::Colour}, sink, {}));
    const auto regions = find_regions(sink.pages.front());
    ASSERT_EQ(regions.size(), 1U);
    EXPECT_NEAR(regions[0].x_mm, 80, 0.4);
    EXPECT_NEAR(regions[0].y_mm, 120, 0.4);
    EXPECT_NEAR(regions[0].w_mm, 85.6, 0.9); // with its shadow
    EXPECT_NEAR(regions[0].h_mm, 53.98, 0.9);
    EXPECT_NEAR(regions[0].angle_degrees, -12, 0.2);
}

TEST(SimulatedScanner, IsDeterministicAsAWholeAndInStrips) {
    const Raster a = scan("lease-1", 2, 100, Ink::Grey), b = scan("lease-1", 2, 100, Ink::Grey);
    EXPECT_EQ(cv::norm(a.pixels, b.pixels, cv::NORM_INF), 0);
    EXPECT_GT(cv::norm(a.pixels, scan("lease-2", 2, 100, Ink::Grey).pixels, cv::NORM_INF), 0);
    // An area that begins at whole pixels from the corner, so that it has the pixels of the whole scan, in other
    // strips.
    const Raster whole = scan("lease-1", 2, 100, Ink::Grey, a4_area, ideal_sensor),
                 part = scan("lease-1", 2, 100, Ink::Grey, {25.4, 50.8, 76.2, 101.6}, ideal_sensor);
    ASSERT_EQ(part.pixels.size(), cv::Size(300, 400));
    EXPECT_LE(cv::norm(part.pixels, whole.pixels(cv::Rect(100, 200, 300, 400)), cv::NORM_INF), 1);
}

TEST(SimulatedScanner, HasARealisticSensor) {
    const Raster real = scan("lease-1", 0, 150, Ink::Grey),
                 ideal = scan("lease-1", 0, 150, Ink::Grey, a4_area, ideal_sensor);
    cv::Scalar mean, spread;
    cv::meanStdDev(real.pixels(cv::Rect(500, 1350, 200, 150)), mean, spread); // empty paper
    EXPECT_GT(mean[0], 230);
    EXPECT_LT(mean[0], 250);
    EXPECT_NEAR(spread[0], Sensor{}.grain, 0.6);
    cv::meanStdDev(ideal.pixels(cv::Rect(500, 1350, 200, 150)), mean, spread);
    EXPECT_EQ(spread[0], 0);
    const double left = cv::mean(real.pixels(cv::Rect(5, 1350, 40, 200)))[0],
                 middle = cv::mean(real.pixels(cv::Rect(600, 1350, 40, 200)))[0];
    EXPECT_GT(middle - left, 2) << "the lamp is brighter in the middle";
}

class Collecting : public PageSink {
  public:
    int begun = 0, ended = 0, strips = 0, stop_after = 1 << 30;
    std::stop_source stop;
    Result<void> begin_page(const PageStart&) override {
        ++begun;
        return {};
    }
    Result<void> strip(const cv::Mat&) override {
        if (++strips >= stop_after) stop.request_stop();
        return {};
    }
    Result<void> end_page() override {
        ++ended;
        return {};
    }
};

TEST(SimulatedScanner, StopsWithinAStripWithoutEndingThePage) {
    SimulatedScanner scanner;
    Collecting sink;
    sink.stop_after = 3;
    const auto done = scanner.scan({Source::Glass, {}, 300, Ink::Grey}, sink, sink.stop.get_token());
    ASSERT_FALSE(done);
    EXPECT_EQ(done.error().kind, ErrorKind::Stopped);
    EXPECT_EQ(sink.begun, 1);
    EXPECT_EQ(sink.ended, 0);
    EXPECT_EQ(sink.strips, 3);
    EXPECT_EQ(scanner.state(), ScannerState::Ready) << "and can scan again";
}

TEST(SimulatedScanner, IsBusyWhileItScans) {
    SimulatedScanner scanner;
    class Asking : public Collecting {
      public:
        explicit Asking(SimulatedScanner& s) : scanner(s) {}
        SimulatedScanner& scanner;
        Result<void> begin_page(const PageStart& start) override {
            EXPECT_EQ(scanner.state(), ScannerState::Busy);
            Collecting second;
            const auto refused = scanner.scan({}, second, {});
            EXPECT_FALSE(refused);
            EXPECT_EQ(refused.error().kind, ErrorKind::Busy);
            return Collecting::begin_page(start);
        }
    } sink(scanner);
    EXPECT_TRUE(scanner.scan({Source::Glass, {0, 0, 30, 30}, 75, Ink::Grey}, sink, {}));
}

TEST(SimulatedScanner, AnErrorOfTheSinkEndsTheJob) {
    class Full : public Collecting {
        Result<void> strip(const cv::Mat&) override { return fail(ErrorKind::DiskFull, "The disk is full."); }
    } sink;
    SimulatedScanner scanner;
    const auto done = scanner.scan({Source::Glass, {}, 75, Ink::Grey}, sink, {});
    ASSERT_FALSE(done);
    EXPECT_EQ(done.error().kind, ErrorKind::DiskFull);
    EXPECT_EQ(sink.ended, 0);
}

TEST(SimulatedScanner, ReportsAnOriginalThatCannotBeRead) {
    const TempFolder folder;
    write_file(folder / "broken.svg", "<svg xmlns='http://www.w3.org/2000/svg'");
    write_file(folder / "sizeless.svg", "<svg xmlns='http://www.w3.org/2000/svg' width='0' height='0'/>");
    for (const char* name : {"broken.svg", "sizeless.svg", "absent.svg", "absent.png"}) {
        SimulatedScanner scanner(BenchSetup{{{folder / name}}});
        RasterSink sink;
        const auto done = scanner.scan({}, sink, {});
        ASSERT_FALSE(done) << name;
        EXPECT_NE(done.error().sentence.find(name), std::string::npos) << done.error().sentence;
    }
}

TEST(Request, IsAdaptedToTheScanner) {
    const Capabilities can = SimulatedScanner().capabilities();
    EXPECT_EQ(fitted({Source::Glass, {}, 300, Ink::Grey}, can).area, (RectMm{0, 0, can.glass.width, can.glass.height}))
        << "nothing drawn is all of it";
    const RectMm beyond = fitted({Source::Glass, {200, 290, 100, 100}, 300, Ink::Grey}, can).area;
    EXPECT_LE(beyond.x + beyond.width, can.glass.width + 1e-9);
    EXPECT_LE(beyond.y + beyond.height, can.glass.height + 1e-9);
    const RectMm outside = fitted({Source::Glass, {900, 900, 10, 10}, 300, Ink::Grey}, can).area;
    EXPECT_GE(outside.width, 2);
    EXPECT_GE(outside.height, 2);
    EXPECT_EQ(fitted({Source::Glass, {}, 240, Ink::Grey}, can).dpi, 300) << "the next finer one";
    EXPECT_EQ(fitted({Source::Glass, {}, 9600, Ink::Grey}, can).dpi, 1200);
    const Capabilities feeder = SimulatedScanner({}, bench_feed_scanner()).capabilities();
    EXPECT_EQ(fitted({Source::FeederBoth, {}, 300, Ink::Grey}, feeder).source, Source::FeederFront);
    EXPECT_TRUE(needs_two_passes(Source::FeederBoth, feeder));
    EXPECT_FALSE(needs_two_passes(Source::FeederBoth, can));
    EXPECT_EQ(fitted({Source::Glass, {}, 300, Ink::Grey}, feeder).source, Source::FeederFront) << "it has no glass";
    EXPECT_EQ(fitted({Source::HandFed, {}, 300, Ink::Grey}, can).sheets, 1);
    EXPECT_EQ(fitted({Source::FeederFront, {}, 75, Ink::Black}, feeder).dpi, 150);
    EXPECT_EQ(fitted({Source::FeederFront, {}, 75, Ink::Black}, feeder).ink, Ink::Colour) << "made black afterwards";
    EXPECT_EQ(fitted({Source::Glass, {}, 300, Ink::Colour}, {{Source::Glass}, {Ink::Grey}, {300}, {100, 100}}).ink,
              Ink::Grey);
}

// The size of a picture file on the glass follows from its resolution.
TEST(Originals, APictureFileHasTheSizeOfItsResolution) {
    const TempFolder folder;
    ASSERT_EQ(run({"convert", "-size", "600x300", "xc:rgb(200,30,30)", "-units", "PixelsPerInch", "-density", "300",
                   (folder / "red.png").string()})
                  .status,
              0);
    EXPECT_NEAR(original_size(folder / "red.png")->width, 50.8, 0.01);
    BenchSetup bench;
    bench.glass = {{folder / "red.png", 100, 100, 0}};
    bench.sensor = ideal_sensor;
    SimulatedScanner scanner(bench);
    RasterSink sink;
    ASSERT_TRUE(scanner.scan({Source::Glass, {}, 100, Ink::Colour}, sink, {}));
    cv::Mat mask;
    cv::inRange(sink.pages.front().pixels, cv::Scalar(25, 25, 190), cv::Scalar(35, 35, 210), mask);
    EXPECT_NEAR(cv::countNonZero(mask), 200 * 100, 500);
}

}
}
