// The SANE scanner with libsane's own test backend (sane-test(5)) and its pnm backend. The values of the test pictures
// are those that the backend documents and computes.
#include "devices/sane/sane_scanner.h"
#include "support/support.h"

#include "core/raster/image_file.h"

#include <opencv2/imgproc.hpp>

#include <netinet/in.h>
#include <sys/socket.h>
#include <unistd.h>

#include <atomic>
#include <set>
#include <thread>

namespace yelvin {
namespace {

using test::TempFolder;

// libsane reads its configuration when it is first used.
void configure() {
    static const TempFolder folder;
    static const bool done = [] {
        test::write_file(folder / "dll.conf", "test\npnm\nnet\n");
        test::write_file(folder / "net.conf", ""); // no other computer is asked
        return setenv("SANE_CONFIG_DIR", folder.path().c_str(), 1) == 0;
    }();
    ASSERT_TRUE(done);
}

struct Sane : testing::Test {
    std::unique_ptr<SaneScanner> scanner;
    // The backend keeps its settings for the life of the process; each test starts with the same ones.
    OptionValues more{{"test-picture", std::string("Color pattern")},
                      {"hand-scanner", false},
                      {"three-pass", false},
                      {"read-limit", false},
                      {"read-delay", false},
                      {"non-blocking", false},
                      {"select-fd", false},
                      {"fuzzy-parameters", false},
                      {"ppl-loss", 0.0},
                      {"read-return-value", std::string("Default")}};
    ScanRequest request{Source::Glass, {0, 0, 40, 30}, 100, Ink::Grey};

    void SetUp() override {
        configure();
        scanner = std::make_unique<SaneScanner>(sane::Listing{"test:0", "Noname", "frontend-tester", "virtual device"});
        const auto ready = scanner->prepare();
        ASSERT_TRUE(ready) << ready.error().sentence;
    }
    Result<void> scan(RasterSink& sink, std::stop_token stop = {}) {
        request.more = more;
        return scanner->scan(request, sink, stop);
    }
    Raster one() {
        RasterSink sink;
        const auto done = scan(sink);
        EXPECT_TRUE(done) << (done ? "" : done.error().sentence + " " + done.error().detail);
        EXPECT_EQ(sink.pages.size(), 1U);
        return sink.pages.empty() ? Raster{} : sink.pages.front();
    }
};

void expect_same(const cv::Mat& ours, const cv::Mat& truth, const std::string& what) {
    ASSERT_EQ(ours.size(), truth.size()) << what;
    ASSERT_EQ(ours.type(), truth.type()) << what;
    EXPECT_EQ(cv::norm(ours, truth, cv::NORM_INF), 0) << what;
}

// The backend's patterns, in millimetre squares or in pixels.
uchar grid(int x, int y, double dpi) {
    const double square = 10 * dpi / 25.4;
    const int lines = static_cast<int>(2 * square + 0.5);
    const bool lower = y % lines > static_cast<int>(square + 0.5);
    return (static_cast<int>(x / square) % 2 == 1) != lower ? 0 : 255;
}
uchar grey_steps(int x, int y) {
    if (y % 5 == 0 || x % 5 == 0) return 0x55;
    const int step = x / 5 & 0xFF;
    return static_cast<uchar>(y % 10 > 5 ? 255 - step : step);
}
cv::Vec3b colour_steps(int x, int y) { // BGR
    if (y % 5 == 0 || x % 5 == 0) return {0x55, 0x55, 0x55};
    const int band = y % 30 / 5, step = x / 5 & 0xFF;
    cv::Vec3b out{0, 0, 0};
    out[2 - band / 2] = static_cast<uchar>(band % 2 ? 255 - step : step);
    return out;
}
cv::Vec3b one_bit_colours(int x, int y) {
    const int colour = y % 32 < 16 ? x / 16 % 8 : 7 - x / 16 % 8;
    return {static_cast<uchar>(colour & 1 ? 255 : 0), static_cast<uchar>(colour & 2 ? 255 : 0),
            static_cast<uchar>(colour & 4 ? 255 : 0)};
}

template <class Value>
cv::Mat filled(cv::Size size, Value value) {
    cv::Mat_<decltype(value(0, 0))> out(size);
    for (int y = 0; y < size.height; ++y) {
        for (int x = 0; x < size.width; ++x) out(y, x) = value(x, y);
    }
    return out;
}

const cv::Size area_px(157, 118); // 40 x 30 mm at 100 dpi, rounded down as the backend does

TEST_F(Sane, EveryTestPictureIsExactInGreyBlackAndColour) {
    for (const Ink ink : {Ink::Grey, Ink::Black, Ink::Colour}) {
        request.ink = ink;
        const auto plain = [&](uchar level) {
            return cv::Mat(area_px, ink == Ink::Colour ? CV_8UC3 : CV_8UC1, cv::Scalar::all(level));
        };
        more["test-picture"] = std::string("Solid black");
        expect_same(one().pixels, plain(0), "black");
        more["test-picture"] = std::string("Solid white");
        expect_same(one().pixels, plain(255), "white");
        more["test-picture"] = std::string("Grid");
        cv::Mat squares = filled(area_px, [](int x, int y) { return grid(x, y, 100); });
        // With a depth of one bit the backend counts a set bit as black and inverts the pattern.
        if (ink == Ink::Colour) cv::cvtColor(squares, squares, cv::COLOR_GRAY2BGR);
        const Raster page = one();
        expect_same(page.pixels, squares, std::string("grid in ") + std::string(ink_word(ink)));
        EXPECT_EQ(page.ink, ink);
        EXPECT_EQ(page.dpi, 100);
    }
}

TEST_F(Sane, PatternsAreExactInEightBitsAndOne) {
    expect_same(one().pixels, filled(area_px, grey_steps), "grey");
    request.ink = Ink::Colour;
    expect_same(one().pixels, filled(area_px, colour_steps), "colour");
    more["depth"] = 1.0;
    expect_same(one().pixels, filled(area_px, one_bit_colours), "colour of one bit a channel");
    request.ink = Ink::Black;
    more.erase("depth");
    expect_same(one().pixels,
                filled(area_px, [](int x, int y) { return static_cast<uchar>((x / 16 + y / 16) % 2 ? 0 : 255); }),
                "black");
}

// Sixteen bits: ramps of 256 by 256 values, 4 pixels of 0x5555 between them, in colour one channel after the other;
// reduced to eight bits as value / 257, rounded to the nearest.
TEST_F(Sane, SixteenBitsAreReducedToEight) {
    request.area = {0, 0, 60, 20};
    request.dpi = 400;
    more["depth"] = 16.0;
    const cv::Size size(static_cast<int>(400 * 60 / 25.4), static_cast<int>(400 * 20 / 25.4));
    const auto ramp = [](int x, int y) {
        const bool gap = y % 260 < 4 || x < 4 || (x - 4) % 260 >= 256;
        const int value = gap ? 0x5555 : ((x - 4) % 260 << 8) + (y % 260 - 4);
        return static_cast<uchar>(std::lround(value / 257.0));
    };
    const Raster grey = one();
    expect_same(grey.pixels, filled(size, ramp), "grey");
    EXPECT_EQ(grey.ink, Ink::Grey);
    request.ink = Ink::Colour;
    expect_same(one().pixels,
                filled(size,
                       [&](int x, int y) {
                           const bool gap = y % 260 < 4 || x < 4 || (x - 4) % 260 >= 256;
                           cv::Vec3b pixel = gap ? cv::Vec3b::all(0x55) : cv::Vec3b::all(0);
                           if (!gap) pixel[2 - x / 260 % 3] = ramp(x, y);
                           return pixel;
                       }),
                "colour");
    more["test-picture"] = std::string("Grid");
    cv::Mat squares = filled(size, [](int x, int y) { return grid(x, y, 400); }), in_colour;
    cv::cvtColor(squares, in_colour, cv::COLOR_GRAY2BGR);
    expect_same(one().pixels, in_colour, "grid");
}

TEST_F(Sane, ThreePassesInAnyOrderMakeOnePicture) {
    request.ink = Ink::Colour;
    more["three-pass"] = true;
    for (const char* order : {"RGB", "RBG", "GBR", "GRB", "BRG", "BGR"}) {
        more["three-pass-order"] = std::string(order);
        expect_same(one().pixels, filled(area_px, colour_steps), order);
    }
}

TEST_F(Sane, AHandScannerReportsItsLengthAtTheEnd) {
    more["hand-scanner"] = true;
    RasterSink sink;
    ASSERT_TRUE(scan(sink));
    EXPECT_EQ(sink.starts.front().height_px, 0) << "unknown at the start";
    const cv::Size size(static_cast<int>(110 * 100 / 25.4), static_cast<int>(170 * 100 / 25.4)); // mm of sane-test(5)
    expect_same(sink.pages.front().pixels, filled(size, grey_steps), "hand scanner");
}

TEST_F(Sane, TheFeederDeliversTenSheets) {
    request.source = Source::FeederFront;
    RasterSink sink;
    ASSERT_TRUE(scan(sink));
    EXPECT_EQ(sink.pages.size(), 10U);
    EXPECT_EQ(sink.starts.back().sheet, 10);
    EXPECT_EQ(scanner->state(), ScannerState::FeederEmpty);
    expect_same(sink.pages.back().pixels, filled(area_px, grey_steps), "the tenth");
    request.sheets = 3;
    RasterSink some;
    ASSERT_TRUE(scan(some));
    EXPECT_EQ(some.pages.size(), 3U);
}

// The watch for two sheets at once ends a job in this way.
TEST_F(Sane, AnErrorOfTheSinkIsReturned) {
    struct Refusing : RasterSink {
        Result<void> end_page() override {
            if (auto ended = RasterSink::end_page(); !ended) return ended;
            return pages.size() < 2 ? Result<void>() : fail(ErrorKind::TwoSheets, "");
        }
    } sink;
    request.source = Source::FeederFront;
    const auto done = scan(sink);
    ASSERT_FALSE(done);
    EXPECT_EQ(done.error(), (Error{ErrorKind::TwoSheets, "", ""}));
    EXPECT_EQ(sink.pages.size(), 2U);
}

TEST_F(Sane, EachStatusOfTheDeviceHasItsOwnMessage) {
    const std::pair<const char*, ErrorKind> all[] = {{"SANE_STATUS_UNSUPPORTED", ErrorKind::Unsupported},
                                                     {"SANE_STATUS_CANCELLED", ErrorKind::Stopped},
                                                     {"SANE_STATUS_DEVICE_BUSY", ErrorKind::Busy},
                                                     {"SANE_STATUS_INVAL", ErrorKind::WrongSetting},
                                                     {"SANE_STATUS_EOF", ErrorKind::Device},
                                                     {"SANE_STATUS_JAMMED", ErrorKind::Jam},
                                                     {"SANE_STATUS_NO_DOCS", ErrorKind::FeederEmpty},
                                                     {"SANE_STATUS_COVER_OPEN", ErrorKind::LidOpen},
                                                     {"SANE_STATUS_IO_ERROR", ErrorKind::Offline},
                                                     {"SANE_STATUS_NO_MEM", ErrorKind::NoMemory},
                                                     {"SANE_STATUS_ACCESS_DENIED", ErrorKind::AccessDenied}};
    std::set<std::string> sentences;
    for (const auto& [status, kind] : all) {
        more["read-return-value"] = std::string(status);
        RasterSink sink;
        const auto done = scan(sink);
        ASSERT_FALSE(done) << status;
        EXPECT_EQ(done.error().kind, kind) << status;
        EXPECT_TRUE(sink.pages.empty()) << status << ": no half page";
        EXPECT_TRUE(done.error().sentence.contains("frontend-tester")) << done.error().sentence;
        sentences.insert(done.error().sentence);
    }
    EXPECT_EQ(sentences.size(), std::size(all));
    more["read-return-value"] = std::string("Default");
    one(); // and the next scan works
}

TEST_F(Sane, EveryWayOfReadingGivesTheSamePicture) {
    const cv::Mat truth = filled(area_px, grey_steps);
    more["read-limit"] = true;
    more["read-limit-size"] = 1.0;
    expect_same(one().pixels, truth, "one byte");
    more.erase("read-limit-size");
    more["read-limit"] = false;
    more["read-delay"] = true;
    more["read-delay-duration"] = 1000.0;
    expect_same(one().pixels, truth, "delays");
    more["non-blocking"] = true;
    expect_same(one().pixels, truth, "non-blocking");
    more["select-fd"] = true;
    expect_same(one().pixels, truth, "non-blocking with a descriptor");
    more["fuzzy-parameters"] = true;
    more["ppl-loss"] = 7.0; // lines padded with pixels that do not belong to the picture
    const Raster padded = one();
    expect_same(padded.pixels, truth.colRange(0, 150), "padded lines");
}

TEST_F(Sane, StoppingEndsTheJobAndTheNextOneWorks) {
    more["read-delay"] = true;
    more["read-delay-duration"] = 200000.0;
    request.area = {};
    request.dpi = 300;
    for (const bool non_blocking : {false, true}) {
        more["non-blocking"] = non_blocking;
        std::stop_source stop;
        RasterSink sink;
        sink.on_strip = [&](const Raster&, int) { stop.request_stop(); };
        const auto done = scan(sink, stop.get_token());
        ASSERT_FALSE(done);
        EXPECT_EQ(done.error().kind, ErrorKind::Stopped);
        EXPECT_TRUE(sink.pages.empty());
    }
    // Options that are no longer set have the device's values again.
    more.erase("read-delay");
    more.erase("read-delay-duration");
    more.erase("non-blocking");
    request.area = {0, 0, 40, 30};
    request.dpi = 100;
    expect_same(one().pixels, filled(area_px, grey_steps), "after the stops");
}

// The backend waits 0.2 s before each piece of data. The caller sees how long it has been silent and may stop; the
// picture is complete.
TEST_F(Sane, ASilenceIsReportedAndTheScanContinues) {
    using namespace std::chrono_literals;
    more["read-delay"] = true;
    more["read-delay-duration"] = 200000.0;
    scanner.reset();
    scanner = std::make_unique<SaneScanner>(sane::Listing{"test:0", "Noname", "frontend-tester", "virtual device"},
                                            SanePatience{20ms, 0ms});
    ASSERT_TRUE(scanner->prepare());
    std::atomic<bool> told = false;
    {
        const std::jthread watch([&](const std::stop_token& over) {
            while (!over.stop_requested() && !told) told = scanner->silent_for() >= 20ms;
        });
        expect_same(one().pixels, filled(area_px, grey_steps), "after silences");
    }
    EXPECT_TRUE(told);
    EXPECT_EQ(scanner->silent_for(), 0ms) << "all is well again";
}

TEST_F(Sane, CapabilitiesComeFromTheOptions) {
    const Capabilities can = scanner->capabilities();
    EXPECT_EQ(can.sources, (std::vector{Source::Glass, Source::FeederFront}));
    EXPECT_EQ(can.inks, (std::vector{Ink::Colour, Ink::Grey, Ink::Black}));
    ASSERT_TRUE(can.range);
    EXPECT_EQ(*can.range, (ResolutionRange{1, 1200, 1}));
    EXPECT_EQ(can.glass, (SizeMm{200, 200}));
    const auto option = [&](const char* name) {
        const auto at = std::ranges::find(can.more, name, &DeviceOption::name);
        return at == can.more.end() ? DeviceOption{} : *at;
    };
    EXPECT_EQ(option("hand-scanner").kind, DeviceOption::Kind::Flag);
    EXPECT_EQ(option("test-picture").choices.size(), 4U);
    EXPECT_EQ(option("ppl-loss").most, 128);
    EXPECT_EQ(option("ppl-loss").unit, "px");
    EXPECT_TRUE(option("resolution").name.empty()) << "what the ticket says is not offered twice";
    EXPECT_EQ(scanner->title(), "Noname frontend-tester");
}

TEST_F(Sane, ListedDevicesCanBeUsed) {
    const auto all = sane_scanners();
    EXPECT_TRUE(std::ranges::any_of(all, [](const auto& s) { return s->name() == "test:0"; }));
    EXPECT_TRUE(std::ranges::any_of(all, [](const auto& s) { return s->name() == "test:1"; }));
    EXPECT_EQ(sane::connection_of("epson2:libusb:001:004"), "USB");
    EXPECT_EQ(sane::connection_of("net:printhouse:test"), "network");
    SaneScanner nobody(sane::Listing{"test:99", "", "", ""});
    const auto opened = nobody.prepare();
    ASSERT_FALSE(opened);
    EXPECT_FALSE(opened.error().sentence.empty());
}

// The pnm backend scans a picture file, whose name is an option.
TEST_F(Sane, APictureOfThePnmBackendIsExact) {
    const TempFolder folder;
    std::string ppm = "P6\n120 90\n255\n";
    for (int i = 0; i < 120 * 90; ++i)
        ppm += {static_cast<char>(i % 251), static_cast<char>(i / 120 * 2), static_cast<char>(i * 7 % 256)};
    test::write_file(folder / "picture.ppm", ppm);
    SaneScanner pnm(sane::Listing{"pnm:0", "Noname", "PNM file reader", "virtual device"});
    ASSERT_TRUE(pnm.prepare());
    RasterSink sink;
    ScanRequest all{Source::Glass, {}, 75, Ink::Colour};
    all.more = {{"filename", (folder / "picture.ppm").string()}};
    const auto done = pnm.scan(all, sink, {});
    ASSERT_TRUE(done) << done.error().sentence << done.error().detail;
    ASSERT_EQ(sink.pages.size(), 1U);
    const cv::Mat rgb(90, 120, CV_8UC3, ppm.data() + ppm.size() - 120 * 90 * 3);
    cv::Mat truth;
    cv::cvtColor(rgb, truth, cv::COLOR_RGB2BGR);
    expect_same(sink.pages.front().pixels, truth, "pnm");
}

// A scanner on another computer that accepts the connection and is silent: opening it hangs inside libsane. Other calls
// that need libsane wait with a time limit, and return an error.
TEST(SaneHangs, AHangingBackendIsWaitedForWithALimit) {
    configure();
    const int listener = ::socket(AF_INET, SOCK_STREAM | SOCK_CLOEXEC, 0), yes = 1;
    ::setsockopt(listener, SOL_SOCKET, SO_REUSEADDR, &yes, sizeof yes);
    sockaddr_in address{};
    address.sin_family = AF_INET;
    address.sin_port = htons(6566); // of saned(8)
    address.sin_addr.s_addr = htonl(INADDR_LOOPBACK);
    if (::bind(listener, reinterpret_cast<const sockaddr*>(&address), sizeof address) != 0 ||
        ::listen(listener, 4) != 0)
        GTEST_SKIP() << "another program has the port of the network's scanners";
    using namespace std::chrono_literals;
    const auto has_test = [](const std::vector<sane::Listing>& list) {
        return std::ranges::any_of(list, [](const sane::Listing& each) { return each.name == "test:0"; });
    };
    EXPECT_TRUE(has_test(sane::list_devices()));
    sane::Session hangs("net:127.0.0.1:test:0");
    EXPECT_NE(hangs.open(300ms), 0);
    EXPECT_TRUE(hangs.lost());
    EXPECT_TRUE(has_test(sane::list_devices(200ms))) << "what was found before";
    EXPECT_TRUE(has_test(sane::list_devices(200ms))) << "and again, by the same listing";
    sane::Session other("test:0");
    EXPECT_NE(other.open(200ms), 0) << "it waits for its turn, with a limit";
    ::close(listener);
}

}
}
