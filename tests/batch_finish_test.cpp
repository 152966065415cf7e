// From the command line: passwords that are stored nowhere, adding to a PDF, and pages of PDFs that already have text.
#include "support/batch.h"

#include <cairo-pdf.h>

#include <fcntl.h>
#include <unistd.h>

namespace fs = std::filesystem;

namespace yelvin::test {
namespace {

// Letters that OCR cannot read, drawn on A5.
const std::vector<std::string> odd_lines{"Zyqxv 0O1lI rnm", "mooring basin towpath",
                                         "the boats of the basin are in the lock"};

void draw(const fs::path& file) {
    cairo_surface_t* surface = cairo_pdf_surface_create(file.c_str(), 420, 595);
    cairo_t* cairo = cairo_create(surface);
    cairo_select_font_face(cairo, "Liberation Serif", CAIRO_FONT_SLANT_NORMAL, CAIRO_FONT_WEIGHT_NORMAL);
    cairo_set_font_size(cairo, 12);
    double y = 80;
    for (const std::string& line : odd_lines) {
        cairo_move_to(cairo, 60, y);
        cairo_show_text(cairo, line.c_str());
        y += 40;
    }
    cairo_show_page(cairo);
    cairo_destroy(cairo);
    cairo_surface_destroy(surface);
}

std::string all_words(const fs::path& pdf) {
    std::string out;
    for (const PrintedWord& word : words_of_pdf(pdf)) out += (out.empty() ? "" : " ") + word.text;
    return out;
}
const std::string odd_words = odd_lines[0] + " " + odd_lines[1] + " " + odd_lines[2];

TEST(BatchFinish, PasswordsComeFromFilesAndDescriptors) {
    const TempFolder folder;
    draw(folder / "in.pdf");
    write_file(folder / "open", "Sesam öffne\nsecond line\n");
    write_file(folder / "owner", "the owner");
    write_file(folder / "empty", "\n");
    const std::string out = folder.path().string(), in = (folder / "in.pdf").string();
    const auto make = [&](std::vector<std::string> more) {
        std::vector<std::string> all{"make", "--out", out, "--set", "save.name=\"out\""};
        all.insert(all.end(), more.begin(), more.end());
        all.push_back(in);
        return batch(all);
    };
    const Ran made =
        make({"--password-file", (folder / "open").string(), "--owner-password-file", (folder / "owner").string(),
              "--set", "make.permissions={\"print\":\"none\",\"copy\":false}"});
    ASSERT_EQ(made.status, 0) << made.err;
    const std::string file = json::parse(made.out)["path"];
    EXPECT_EQ(run({"qpdf", "--requires-password", file}).status, 0);
    const auto shown = run({"qpdf", "--show-encryption", "--password=Sesam öffne", file}).out;
    EXPECT_NE(shown.find("print low resolution: not allowed"), std::string::npos) << shown;
    EXPECT_NE(shown.find("modify anything: allowed"), std::string::npos) << shown;
    EXPECT_NE(shown.find("extract for any purpose: not allowed"), std::string::npos) << shown;
    const int descriptor = ::open((folder / "open").c_str(), O_RDONLY);
    const Ran by_descriptor = make({"--password-fd", std::to_string(descriptor)});
    ::close(descriptor);
    EXPECT_EQ(by_descriptor.status, 0) << by_descriptor.err;
    const auto refused = [&](std::vector<std::string> more, const char* part) {
        const Ran ran = make(std::move(more));
        EXPECT_EQ(ran.status, 1);
        EXPECT_NE(ran.err.find(part), std::string::npos) << ran.err;
        EXPECT_EQ(lines(ran.err).size(), 1U) << ran.err;
    };
    refused({"--password-file", (folder / "nowhere").string()}, "cannot be read from");
    refused({"--password-file", (folder / "empty").string()}, "contains no password");
    refused({"--set", "make.permissions={\"change\":false}"}, "Without an owner password");
    refused({"--set", "make.format=png", "--password-file", (folder / "open").string()}, "The format PNG");
}

TEST(BatchFinish, PagesAreAddedToAPdf) {
    const TempFolder folder;
    draw(folder / "whole.pdf");
    draw(folder / "more.pdf");
    const std::string whole = (folder / "whole.pdf").string(), more = (folder / "more.pdf").string();
    const std::string stamp = "make.stamp={\"parts\":[{\"words\":\"added\"}]}";
    for (const char* at : {"end", "start", "1"}) {
        const Ran ran = batch({"make", "--add-to", whole, "--at", at, "--set", stamp, more});
        ASSERT_EQ(ran.status, 0) << ran.err;
        EXPECT_EQ(json::parse(ran.out)["path"], whole);
    }
    // Adds pages at the end, at the start, and after the first page.
    std::string order;
    std::istringstream pages(run({"pdftotext", whole, "-"}).out);
    for (std::string page; std::getline(pages, page, '\f');)
        order += page.find("added") == std::string::npos ? "-" : "+";
    EXPECT_EQ(order, "++-+");
    EXPECT_EQ(run({"qpdf", "--check", whole}).status, 0);
    const std::string before = read_file(whole);
    EXPECT_EQ(batch({"make", "--add-to", whole, "--at", "middle", more}).status, 2);
    EXPECT_EQ(batch({"make", more}).status, 2) << "neither a folder nor a PDF";
    const Ran far = batch({"make", "--add-to", whole, "--at", "9", more});
    EXPECT_EQ(far.status, 1);
    EXPECT_NE(far.err.find("has 4 pages"), std::string::npos) << far.err;
    const Ran kind = batch({"make", "--add-to", whole, "--set", "make.format=jpeg", more});
    EXPECT_EQ(kind.status, 1);
    EXPECT_NE(kind.err.find("Pages can be added"), std::string::npos) << kind.err;
    EXPECT_EQ(read_file(whole), before);
}

TEST(BatchFinish, PagesOfAPdfKeepTheirTextAndDrawing) {
    const TempFolder folder;
    draw(folder / "in.pdf");
    const std::string in = (folder / "in.pdf").string();
    const auto made = [&](const char* name, std::vector<std::string> more) {
        std::vector<std::string> all{"make", "--out", folder.path().string(), "--set",
                                     std::string("save.name=") + name};
        all.insert(all.end(), more.begin(), more.end());
        all.push_back(in);
        const Ran ran = batch(all);
        EXPECT_EQ(ran.status, 0) << ran.err;
        return ran.status == 0 ? fs::path(json::parse(ran.out)["path"].get<std::string>()) : fs::path();
    };
    const auto places = words_of_pdf(in);
    const fs::path plain = made("plain", {});
    EXPECT_EQ(all_words(plain), odd_words);
    const auto fonts = [](const fs::path& file) { return run({"pdffonts", file.string()}).out; };
    EXPECT_NE(fonts(plain).find("LiberationSerif"), std::string::npos) << "it is as it was drawn";
    EXPECT_EQ(run({"pdfimages", "-list", plain.string()}).out.find("image "), std::string::npos);
    EXPECT_EQ(run({"qpdf", "--check", plain.string()}).status, 0);
    // In black and white the page is a picture, with its words where they were.
    const fs::path black = made("black", {"--set", "how.ink=black"});
    EXPECT_EQ(all_words(black), odd_words);
    EXPECT_NE(fonts(black).find("YelvinText"), std::string::npos);
    const auto now = words_of_pdf(black);
    ASSERT_EQ(now.size(), places.size());
    for (size_t i = 0; i < now.size(); ++i) {
        EXPECT_NEAR(now[i].box.x, places[i].box.x, 0.5) << now[i].text;
        EXPECT_NEAR(now[i].box.x + now[i].box.width, places[i].box.x + places[i].box.width, 0.5);
        EXPECT_NEAR(now[i].box.y + now[i].box.height, places[i].box.y + places[i].box.height, 1);
    }
    EXPECT_EQ(all_words(made("coarse", {"--set", "how.dpi=150"})), odd_words);
    const std::string text = read_file(made("words", {"--set", "make.format=text"}));
    EXPECT_NE(text.find(odd_lines[0]), std::string::npos) << text;
    const fs::path anew = made("anew", {"--read-anew"});
    EXPECT_NE(all_words(anew), odd_words) << "or the letters are not odd enough";
    EXPECT_NE(fonts(anew).find("YelvinText"), std::string::npos);
    // A stamp is drawn over the drawing.
    const fs::path stamped =
        made("stamped", {"--set", "make.stamp={\"parts\":[{\"words\":\"Copy\"}],\"at\":\"top-left\"}"});
    EXPECT_NE(fonts(stamped).find("LiberationSerif"), std::string::npos);
    const auto words = words_of_pdf(stamped);
    const auto copy = std::ranges::find(words, "Copy", &PrintedWord::text);
    ASSERT_NE(copy, words.end());
    EXPECT_NEAR(copy->box.x, 8, 1);
    EXPECT_EQ(words.size(), places.size() + 1);
}

}
}
