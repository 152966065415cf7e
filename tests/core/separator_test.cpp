// Separator sheets: what was printed is found again, however the sheet was fed; and the keys of ticket and name that go
// with them.
#include "core/naming/file_name.h"
#include "core/output/separator_sheet.h"
#include "core/raster/image_file.h"
#include "core/scanner/faults.h"
#include "core/seeing/barcode.h"
#include "core/ticket/ticket_json.h"
#include "support/support.h"

#include <opencv2/imgproc.hpp>

namespace yelvin::test {
namespace {

TEST(Separators, AreFoundAtEveryResolutionAndRotation) {
    const TempFolder folder;
    ASSERT_TRUE(write_separator_sheets(folder / "s.pdf", {"Top Lock — Wärter", ""}));
    EXPECT_EQ(run({"pdfinfo", (folder / "s.pdf").string()}).status, 0);
    const auto page = read_page(folder / "s.pdf", 0);
    ASSERT_TRUE(page);
    EXPECT_NEAR(page->raster.size_mm().width, 210, 0.5);
    for (const double dpi : {100.0, 150.0, 300.0}) {
        Raster small = at_resolution(page->raster, dpi);
        for (int turn = 0; turn < 4; ++turn) {
            const auto texts = barcodes(small);
            ASSERT_FALSE(texts.empty()) << dpi << " " << turn;
            EXPECT_EQ(texts.front(), "YELVIN DIVIDER Top Lock — Wärter");
            cv::rotate(small.pixels, small.pixels, cv::ROTATE_90_CLOCKWISE);
        }
    }
    EXPECT_EQ(barcodes(read_page(folder / "s.pdf", 1)->raster).front(), "YELVIN DIVIDER");
}

TEST(Separators, AFoldOverOneCodeDoesNotMatter) {
    const TempFolder folder;
    ASSERT_TRUE(write_separator_sheets(folder / "s.pdf", {"Heron"}));
    Raster page = at_resolution(read_page(folder / "s.pdf", 0)->raster, 150);
    cv::rectangle(page.pixels, cv::Rect(0, static_cast<int>(mm_to_px(110, 150)), page.width_px(), 40),
                  cv::Scalar::all(90), cv::FILLED);
    const auto texts = barcodes(page);
    ASSERT_FALSE(texts.empty());
    EXPECT_EQ(texts.front(), "YELVIN DIVIDER Heron");
}

TEST(Separators, ATextThatIsTooLongIsReported) {
    const TempFolder folder;
    const auto written = write_separator_sheets(folder / "s.pdf", {std::string(400, 'x')});
    ASSERT_FALSE(written);
    EXPECT_NE(written.error().sentence.find("too long"), std::string::npos);
    EXPECT_TRUE(folder.files().empty());
}

// A code made by another program (an EAN-13 drawn by its table in ISO/IEC 15420, digits 4006381333931).
TEST(Barcodes, AnEanFromItsOwnTableIsRead) {
    const char* left_odd[] = {"0001101", "0011001", "0010011", "0111101", "0100011",
                              "0110001", "0101111", "0111011", "0110111", "0001011"};
    const char* parity[] = {"LLLLLL", "LLGLGG", "LLGGLG", "LLGGGL", "LGLLGG",
                            "LGGLLG", "LGGGLL", "LGLGLG", "LGLGGL", "LGGLGL"};
    const std::string digits = "4006381333931";
    std::string bars = "101";
    for (size_t i = 1; i <= 6; ++i) {
        std::string code = left_odd[digits[i] - '0'];
        if (parity[digits[0] - '0'][i - 1] == 'G') { // the right-hand code read backwards
            for (char& bit : code) bit = bit == '0' ? '1' : '0';
            std::reverse(code.begin(), code.end());
        }
        bars += code;
    }
    bars += "01010";
    for (size_t i = 7; i <= 12; ++i) {
        for (const char* bit = left_odd[digits[i] - '0']; *bit; ++bit) bars += *bit == '0' ? '1' : '0';
    }
    bars += "101";
    cv::Mat page(400, 700, CV_8UC1, cv::Scalar(250));
    for (size_t i = 0; i < bars.size(); ++i) {
        if (bars[i] == '1') page(cv::Rect(150 + 4 * static_cast<int>(i), 120, 4, 160)).setTo(20);
    }
    EXPECT_EQ(barcodes({page, 200, Ink::Grey}), std::vector<std::string>{"4006381333931"});
    EXPECT_TRUE(barcodes({cv::Mat(400, 700, CV_8UC1, cv::Scalar(250)), 200, Ink::Grey}).empty());
}

TEST(Names, UseTheTextOfTheSeparator) {
    const std::vector<NamePart> parts{
        {NamePart::Kind::Barcode, ""}, {NamePart::Kind::Words, "lease"}, {NamePart::Kind::Counter, "", 2}};
    using namespace std::chrono;
    const auto day = 2026y / November / 25d;
    EXPECT_EQ(make_name(with_values(parts, {"Berth 7/8"}), day, 3), "Berth 7 8 lease 03")
        << "what file systems refuse goes";
    EXPECT_EQ(make_name(with_values(parts, {}), day, 3), "lease 03") << "no separator, no gap";
}

TEST(TicketKeys, OfStacksAreKeptAndInvalidOnesReported) {
    const auto json = nlohmann::json::parse(R"({"from": {"source": "hand-fed", "next_sheet_seconds": 9,
        "more": {"test:0": {"lamp": 3, "mode of light": "cold", "fast": true}}},
        "pages": {"split": "every", "split_every": 4, "separator": "WNT"}, "save": {"name": [{"barcode": true}, {"words": "x"}]}})");
    const auto ticket = ticket_from_json(json);
    ASSERT_TRUE(ticket) << ticket.error().sentence;
    EXPECT_EQ(ticket->from.next_sheet_seconds, 9);
    EXPECT_EQ(ticket->pages.split, SplitAt::Every);
    EXPECT_EQ(ticket->from.more.at("test:0").at("fast"), OptionValue(true));
    const auto again = ticket_from_json(ticket_to_json(*ticket));
    ASSERT_TRUE(again);
    EXPECT_TRUE(again->same_choices(*ticket));
    Ticket given_up = *ticket;
    given_up.from.more.clear();
    EXPECT_TRUE(ticket_from_json(ticket_to_json(given_up))->from.more.empty())
        << "an option given up does not come back";
    const std::pair<const char*, const char*> wrong[] = {
        {R"({"pages": {"split": "sometimes"}})", "pages.split is \"sometimes\"; allowed is \"never\", \"blank-sheet\""},
        {R"({"pages": {"split_every": 0}})", "pages.split_every is 0; allowed is a whole number from 1 to 1000"},
        {R"({"from": {"next_sheet_seconds": -1}})", "from.next_sheet_seconds is -1"},
        {R"({"from": {"more": {"test:0": {"lamp": [1]}}}})", "from.more is"},
        {R"({"pages": {"separator": 7}})", "pages.separator is 7"}};
    for (const auto& [text, words] : wrong) {
        const auto refused = ticket_from_json(nlohmann::json::parse(text));
        ASSERT_FALSE(refused) << text;
        EXPECT_NE(refused.error().sentence.find(words), std::string::npos) << refused.error().sentence;
    }
}

TEST(Faults, NameTheSheet) {
    const Error in_job = scanner_fault(ErrorKind::Jam, "Simulated scanner", 2);
    EXPECT_NE(in_job.sentence.find("sheet 2"), std::string::npos);
    EXPECT_NE(with_sheet(in_job, "Simulated scanner", 14).sentence.find("at sheet 14"), std::string::npos);
    EXPECT_EQ(with_sheet({ErrorKind::DiskFull, "The disk is full.", ""}, "x", 3).sentence, "The disk is full.");
    EXPECT_EQ(scanner_fault(ErrorKind::LidOpen, "Simulated scanner", 0).sentence,
              "The lid of Simulated scanner is open. Close it and scan again.");
    EXPECT_FALSE(can_go_on(ErrorKind::AccessDenied));
    EXPECT_FALSE(can_go_on(ErrorKind::WrongSetting));
}

}
}
