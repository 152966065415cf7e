// The meaning of options, however a backend names and constrains them; and frames, however they are divided. The names
// are those of the SANE Standard 1.06 (4.5) and of its reference for well-known values; others are common practice, no
// source.
#include "devices/sane/frame_decoder.h"
#include "devices/sane/option_table.h"

#include <gtest/gtest.h>

namespace yelvin::sane {
namespace {

Option words(const char* name, std::vector<std::string> all) {
    Option option{1, name, name};
    option.type = Type::Text;
    option.words = std::move(all);
    return option;
}
Option list(const char* name, std::vector<double> numbers) {
    Option option{1, name, name};
    option.numbers = std::move(numbers);
    return option;
}
Option range(const char* name, double least, double most, double step, Unit unit = Unit::Mm) {
    Option option{1, name, name};
    option.type = Type::Fixed;
    option.unit = unit;
    option.least = least;
    option.most = most;
    option.step = step;
    return option;
}

TEST(Options, SourcesAreRecognisedByTheirNames) {
    const std::pair<const char*, std::optional<Source>> all[] = {
        {"Flatbed", Source::Glass},
        {"FlatBed", Source::Glass},
        {"ADF", Source::FeederFront},
        {"ADF Front", Source::FeederFront},
        {"ADF Duplex", Source::FeederBoth},
        {"ADF Back", std::nullopt},
        {"Automatic Document Feeder", Source::FeederFront},
        {"Automatic Document Feeder(centrally aligned,Duplex)", Source::FeederBoth},
        {"Transparency Unit", std::nullopt},
        {"Auto", std::nullopt}};
    for (const auto& [word, source] : all) {
        EXPECT_EQ(source_of(word), source) << word;
    }
}

TEST(Options, DuplexCanBeASeparateOption) {
    const Meaning meaning =
        meaning_of({words("source", {"Flatbed", "Automatic Document Feeder"}), words("adf-mode", {"Simplex", "Duplex"}),
                    words("mode", {"Lineart", "Gray", "Color"})});
    EXPECT_TRUE(meaning.can.has(Source::FeederBoth));
    EXPECT_EQ(meaning.duplex_option, "adf-mode");
}

TEST(Options, ModesAndDepthsBecomeColourModes) {
    const Meaning named = meaning_of({words("mode", {"Lineart", "Halftone", "Gray", "Color"})});
    EXPECT_EQ(named.can.inks, (std::vector{Ink::Colour, Ink::Grey, Ink::Black}));
    const Meaning colour_only = meaning_of({words("mode", {"24bit Color"})});
    EXPECT_EQ(colour_only.can.inks, std::vector{Ink::Colour});
    // If there is no mode for it, black and white is grey with a depth of one bit, or made from grey here.
    const Meaning by_depth = meaning_of({words("mode", {"Gray"}), list("depth", {1, 8, 16})});
    EXPECT_EQ(by_depth.modes.back().second.depth, 1);
    EXPECT_FALSE(by_depth.modes.back().second.brought_down);
    const Meaning brought = meaning_of({words("mode", {"True Gray"})});
    EXPECT_TRUE(brought.modes.back().second.brought_down);
}

TEST(Options, ResolutionsComeAsListsAndRanges) {
    EXPECT_EQ(meaning_of({list("resolution", {600, 75, 300})}).can.resolutions, (std::vector{75, 300, 600}));
    const Meaning meaning = meaning_of({range("x-resolution", 50, 1200, 50, Unit::Dpi)});
    EXPECT_EQ(meaning.resolution_option, "x-resolution");
    EXPECT_EQ(meaning.can.range, (ResolutionRange{50, 1200, 50}));
    EXPECT_EQ(fitted({Source::Glass, {}, 240, Ink::Grey}, meaning.can).dpi, 250);
}

TEST(Options, AreasInPixelsUseTheCurrentResolution) {
    Option resolution = list("resolution", {150, 300});
    resolution.value = 150.0;
    const Meaning meaning =
        meaning_of({words("source", {"Flatbed"}), resolution, range("br-x", 0, 1275, 1, Unit::Pixel),
                    range("br-y", 0, 1754, 1, Unit::Pixel)});
    EXPECT_NEAR(meaning.can.glass.width, 215.9, 0.01);
    EXPECT_TRUE(meaning.area_in_px);
}

// A backend whose range for the area depends on the source: Legal sheets (216 x 356 mm) in the feeder of a scanner with
// an A4 glass.
TEST(Options, EachSourceHasItsLargestArea) {
    const auto with = [](double height) {
        return std::vector{words("source", {"Flatbed", "ADF", "ADF Duplex"}), range("br-x", 0, 216, 1),
                           range("br-y", 0, height, 1)};
    };
    Meaning meaning = meaning_of(with(297));
    EXPECT_EQ(meaning.can.feeder.height, 297) << "all that one table says";
    std::vector<std::string> asked;
    ask_areas(meaning, [&](const std::string& source) {
        asked.push_back(source);
        return with(source == "Flatbed" ? 297 : source == "ADF" ? 356 : 300);
    });
    EXPECT_EQ(asked.size(), 3U) << "each once";
    EXPECT_EQ(meaning.can.glass.height, 297);
    EXPECT_EQ(meaning.can.feeder.height, 356);
    const ScanRequest legal{Source::FeederFront, {0, 0, 216, 356}, 300, Ink::Grey};
    EXPECT_EQ(fitted(legal, meaning.can).area.height, 356);
    EXPECT_EQ(fitted({Source::Glass, {0, 0, 216, 356}}, meaning.can).area.height, 297);
    // A device that does not answer keeps the values of its first answer.
    ask_areas(meaning, [](const std::string&) { return std::vector<Option>{}; });
    EXPECT_EQ(meaning.can.feeder.height, 356);
}

TEST(Options, ButtonsAreSensorsThatCannotBeSet) {
    Option button{1, "scan", "Scan button"};
    button.type = Type::Flag;
    button.settable = false;
    button.by_hand = true;
    Option numbered{2, "button-2", "Button 2"};
    numbered.type = Type::Int;
    numbered.settable = false;
    Option loaded = button;
    loaded.name = "page-loaded"; // a sensor, but nobody's finger
    EXPECT_EQ(meaning_of({button, numbered, loaded}).can.buttons, (std::vector<std::string>{"scan", "button-2"}));
    button.settable = true;
    EXPECT_TRUE(meaning_of({button}).can.buttons.empty());
}

TEST(Options, InactiveOnesAreNotOffered) {
    Option lamp = range("lamp", 0, 10, 1);
    EXPECT_EQ(meaning_of({lamp}).can.more.size(), 1U);
    lamp.active = false;
    EXPECT_TRUE(meaning_of({lamp}).can.more.empty());
}

TEST(Options, ValuesAreLimitedToTheOptionsConstraint) {
    EXPECT_EQ(range("x", 0, 215.9, 0.5).nearest(100.3), 100.5);
    EXPECT_EQ(range("x", 0, 215.9, 0.5).nearest(100.1, true), 100.5);
    EXPECT_EQ(range("x", 0, 215.9, 0).nearest(400), 215.9);
    EXPECT_EQ(list("d", {75, 150, 300}).nearest(151, true), 300);
    EXPECT_EQ(list("d", {75, 150, 300}).nearest(151), 150);
}

TEST(Frames, PaddedLinesAreIndependentOfBlockSizes) {
    FrameParameters frame{Frame::Rgb, true, 20, 5, 6, 8}; // 15 bytes of picture, 5 of padding
    std::vector<std::uint8_t> bytes;
    for (int i = 0; i < 120; ++i) bytes.push_back(static_cast<std::uint8_t>(i % 20 < 15 ? i : 0xEE));
    for (const size_t cut : {1U, 7U, 20U, 33U, 120U}) {
        FrameDecoder decoder;
        ASSERT_TRUE(decoder.begin(frame));
        cv::Mat all;
        for (size_t at = 0; at < bytes.size(); at += cut) {
            const cv::Mat rows = decoder.feed(std::span(bytes).subspan(at, std::min(cut, bytes.size() - at)));
            if (!rows.empty()) all.push_back(rows);
        }
        ASSERT_EQ(all.rows, 6) << cut;
        EXPECT_EQ(all.at<cv::Vec3b>(2, 1), cv::Vec3b(45, 44, 43)) << "BGR from RGB";
        EXPECT_EQ(all.at<cv::Vec3b>(5, 4), cv::Vec3b(114, 113, 112));
    }
}

TEST(Frames, SixteenBitsAreRoundedToEight) {
    FrameDecoder decoder;
    ASSERT_TRUE(decoder.begin({Frame::Grey, true, 8, 4, -1, 16}));
    const std::uint16_t samples[] = {0, 65535, 32768, 128};
    const cv::Mat rows = decoder.feed({reinterpret_cast<const std::uint8_t*>(samples), 8});
    EXPECT_EQ(rows.at<uchar>(0, 0), 0);
    EXPECT_EQ(rows.at<uchar>(0, 1), 255);
    EXPECT_EQ(rows.at<uchar>(0, 2), 128);
    EXPECT_EQ(rows.at<uchar>(0, 3), 0);
}

TEST(Frames, InvalidParametersAreRejected) {
    FrameDecoder decoder;
    EXPECT_FALSE(decoder.begin({Frame::Grey, true, 3, 5, 4, 8})) << "lines shorter than their pixels";
    EXPECT_FALSE(decoder.begin({Frame::Grey, true, 5, 5, 4, 12}));
    ASSERT_TRUE(decoder.begin({Frame::Red, false, 5, 5, 4, 8}));
    EXPECT_FALSE(decoder.begin({Frame::Green, false, 6, 6, 4, 8})) << "passes of different widths";
}

}
}
