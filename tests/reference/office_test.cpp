// Office documents as LibreOffice opens them, and ten drawn pages of columns, tables, lists and headings that are read
// and saved in every text format.
#include "core/ocr/reader.h"
#include "support/drawn.h"
#include "support/sheet.h"

#include <fmt/format.h>

#include <sstream>

namespace yelvin::test {
namespace {

std::vector<std::string> found_words(const nlohmann::json& found) { return found["words"]; }

TEST(Office, OpensTheFilesWeSave) {
    const auto pages = drawn_document();
    const Rows table{{"Boats", "3", "24.00"}, {"Dinghies", "12", "4.50"}, {"Rafts", "1", ",5\""}};
    for (const Format format : {Format::Docx, Format::Odt}) {
        SCOPED_TRACE(format_key(format));
        const TempFolder folder;
        const auto made = made_of(pages, folder.path(), make_as(format));
        ASSERT_TRUE(made);
        const auto found = read_by_others("office", made->front().path);
        EXPECT_EQ(found_words(found), words_of(pages));
        EXPECT_EQ(found["headings"], nlohmann::json({{1, "Rules of the basin"}, {2, "Mooring <and> fees"}}));
        EXPECT_EQ(found["tables"], nlohmann::json({table}));
        EXPECT_EQ(found["pictures"].size(), 1U);
    }
}

// Each line is where it was printed, and as wide: LibreOffice prints the document, and poppler says where the words
// are.
TEST(Office, LinesKeepTheirPositionsInExactLayout) {
    Drawn page;
    page.line(150, 150, "Rules of the basin", 40, true).line(700, 400, "Beside it, further right", 20);
    page.line(150, 900, "Boats 3 24.00", 24, false, {150, 600, 900});
    for (const Format format : {Format::Docx, Format::Odt}) {
        SCOPED_TRACE(format_key(format));
        const TempFolder folder;
        Ticket::Make make = make_as(format);
        make.as_it_looks = true;
        const auto made = made_of({page}, folder.path(), make);
        ASSERT_TRUE(made);
        EXPECT_EQ(found_words(read_by_others(std::string(format_key(format)), made->front().path)), words_of({page}));
        // LibreOffice visits frames in its own order.
        auto opened = found_words(read_by_others("office", made->front().path)), words = words_of({page});
        std::ranges::sort(opened);
        std::ranges::sort(words);
        EXPECT_EQ(opened, words);
        const Ran printed =
            run({"soffice", "-env:UserInstallation=file://" + (folder / "profile").string(), "--headless",
                 "--convert-to", "pdf", "--outdir", folder.path().string(), made->front().path.string()});
        ASSERT_EQ(printed.status, 0) << printed.err;
        const std::string places = run({"pdftotext", "-bbox", (folder / "Rules.pdf").string(), "-"}).out;
        for (const TextLine& line : page.text.lines)
            for (const Word& word : {line.words.front(), line.words.back()}) {
                const size_t end = places.find(">" + word.text + "</word>");
                ASSERT_NE(end, std::string::npos) << word.text << places;
                double left = 0, top = 0, right = 0, bottom = 0;
                const std::string found = places.substr(places.rfind("<word", end), 120);
                ASSERT_EQ(std::sscanf(found.c_str(), // NOLINT: a test's own input
                                      "<word xMin=\"%lf\" yMin=\"%lf\" xMax=\"%lf\" yMax=\"%lf\"", &left, &top, &right,
                                      &bottom),
                          4);
                const auto px = [](double pt) { return pt / points_per_inch * drawn_dpi; };
                const double mm = drawn_dpi / mm_per_inch;
                EXPECT_NEAR(px(left), word.box.x, 6 * mm) << word.text;
                EXPECT_NEAR(px(right), word.box.br().x, 6 * mm) << word.text;
                EXPECT_GT(px(bottom), word.box.y + word.box.height / 2) << word.text;
                EXPECT_LT(px(top), word.box.y + word.box.height / 2) << word.text;
            }
    }
}

struct Generated {
    Drawn read;
    std::vector<std::string> headings;
    std::vector<Rows> tables;
    int columns = 1, items = 0;
};

// Sets headings, paragraphs, lists and tables one below the other, and remembers what they are.
class Setter {
  public:
    explicit Setter(unsigned seed) : sheet_(300) {
        sheet_.colour({0.06, 0.06, 0.06});
        while (words_.size() < 700)
            for (const std::string& word : test::words_of(set_words({}, ++seed * 7))) words_.push_back(word);
        next_ = words_.begin();
    }

    void heading(const std::string& words, double points) {
        face(points, true);
        at_ += points * 0.36;
        line(14, words);
        made.headings.push_back(words);
        at_ += 3;
    }
    double paragraph(double x, double y, double width, int count) {
        face(9, false);
        y += 3.2;
        for (double at = x; count > 0; --count) {
            const double wide = sheet_.wide(*next_);
            if (at > x && at + wide > x + width) at = x, y += 4.3;
            sheet_.word(at, y, *next_++);
            at += wide + sheet_.wide(" ");
        }
        return y + 4;
    }
    void text(int count) { at_ = paragraph(14, at_, 122, count); }
    void columns(int count) {
        const double ends = std::max(paragraph(14, at_, 55, count), paragraph(80, at_, 55, count));
        at_ = ends + 2;
        made.columns = 2;
    }
    void list(int count) {
        face(9, false);
        for (int i = 1; i <= count; ++i, at_ += 4.6) {
            at_ += 0.4;
            line(16, fmt::format("{}. {} {} {}.", i, *next_, *(next_ + 1), *(next_ + 2)));
            next_ += 3;
            ++made.items;
        }
        at_ += 4;
    }
    void table(int rows, int across, bool ruled) {
        face(9, false);
        at_ += 3;
        const double wide = 122.0 / across, high = 6.5;
        Rows out;
        for (int r = 0; r < rows; ++r) {
            out.emplace_back();
            for (int c = 0; c < across; ++c) {
                const std::string cell = c == 0   ? fmt::format("{} boat", *next_++)
                                         : r == 0 ? fmt::format("Lock {}", c)
                                                  : fmt::format("{}.{}0", 17 * r + 31 * c, (r + c) % 10);
                out.back().push_back(cell);
                sheet_.word(16 + c * wide, at_ + 4.4, cell);
            }
            at_ += high;
        }
        const double top = at_ - rows * high;
        for (int r = 0; ruled && r <= rows; ++r) sheet_.rule({14, top + r * high}, {14 + 122, top + r * high}, 0.25);
        for (int c = 0; ruled && c <= across; ++c) sheet_.rule({14 + c * wide, top}, {14 + c * wide, at_}, 0.25);
        made.tables.push_back(out);
        at_ += 5;
    }
    Generated take() {
        cv::Mat pixels = sheet_.take(), grey;
        pixels.convertTo(pixels, CV_8UC3, 255);
        cv::cvtColor(pixels, grey, cv::COLOR_BGR2GRAY);
        made.read.page = {grey, 300, Ink::Grey};
        return std::move(made);
    }

  private:
    Sheet sheet_;
    std::vector<std::string> words_;
    std::vector<std::string>::const_iterator next_;
    Generated made;
    double at_ = 12;

    void face(double points, bool bold) {
        Look look;
        look.face = "Liberation Sans";
        look.points = points;
        look.bold = bold;
        sheet_.face(look);
    }
    void line(double x, const std::string& words) { sheet_.word(x, at_ + 3, words); }
};

std::vector<Generated> ten_pages() {
    std::vector<Generated> pages;
    for (unsigned i = 0; i < 10; ++i) {
        Setter setter(i + 1);
        setter.heading(fmt::format("Report number {}", i + 21), i % 2 == 0 ? 16 : 13);
        setter.text(26);
        if (i % 3 == 0) setter.columns(34);
        if (i % 3 == 1) setter.list(3);
        if (i % 2 == 1) setter.heading("What was counted", 11);
        if (i % 5 < 3) setter.table(3 + static_cast<int>(i) % 3, 3 + static_cast<int>(i) % 2, i % 2 == 0);
        setter.text(30);
        pages.push_back(setter.take());
    }
    return pages;
}

TEST(Office, TenPagesAreSavedInEveryTextFormat) {
    std::vector<Generated> pages = ten_pages();
    std::vector<Drawn> read;
    Reader reader;
    std::vector<Rows> tables;
    std::vector<std::string> headings;
    int items = 0;
    for (Generated& page : pages) {
        auto text = reader.read(page.read.page, {"eng"});
        ASSERT_TRUE(text);
        page.read.text = *text;
        read.push_back(page.read);
        tables.insert(tables.end(), page.tables.begin(), page.tables.end());
        headings.insert(headings.end(), page.headings.begin(), page.headings.end());
        items += page.items;
    }
    for (const Format format : {Format::Docx, Format::Odt, Format::Html, Format::Epub, Format::Text}) {
        SCOPED_TRACE(format_key(format));
        const TempFolder folder;
        const auto made = made_of(read, folder.path(), make_as(format));
        ASSERT_TRUE(made) << made.error().sentence;
        if (format == Format::Text) {
            std::istringstream in(read_file(made->front().path));
            EXPECT_EQ(std::vector<std::string>(std::istream_iterator<std::string>(in), {}), words_of(read));
            continue;
        }
        const auto found = read_by_others(std::string(format_key(format)), made->front().path);
        EXPECT_EQ(found_words(found), words_of(read));
        EXPECT_EQ(found["tables"].get<std::vector<Rows>>(), tables);
        std::vector<std::string> headed;
        for (const auto& heading : found["headings"]) headed.push_back(heading[1]);
        int right = 0;
        for (const std::string& heading : headings) right += std::ranges::count(headed, heading) > 0 ? 1 : 0;
        EXPECT_GE(10 * right, 9 * static_cast<int>(headings.size())) << nlohmann::json(headed).dump();
        EXPECT_LE(headed.size(), headings.size() + 1) << nlohmann::json(headed).dump();
        EXPECT_EQ(static_cast<int>(found["lists"].size()), items);
        if (format == Format::Odt) {
            EXPECT_GE(found["sections"], 4) << "pages with columns";
        }
    }
}

}
}
