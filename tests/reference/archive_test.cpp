// What a PDF contains besides its pictures: its structure as poppler reads it, its bookmarks and labels as QPDF lists
// them, and that an archive PDF follows the rules of ISO 19005-1 (pdfbox' preflight).
#include "core/output/pdf_tags.h"
#include "support/drawn.h"

#include <opencv2/imgproc.hpp>

#include <fmt/format.h>

#include <sstream>

namespace yelvin::test {
namespace {

nlohmann::json parts_of(const std::filesystem::path& file, const std::string& part) {
    const Ran ran = run({"qpdf", "--json", "--json-key=" + part, file.string()});
    EXPECT_EQ(ran.status, 0) << ran.err;
    return nlohmann::json::parse(ran.out)[part];
}

Ran preflight(const std::filesystem::path& file) {
    std::string parts;
    for (const char* part :
         {"pdfbox2", "preflight", "xmpbox", "fontbox2", "commons-logging", "javax.activation", "jaxb-api"})
        parts += std::string("/usr/share/java/") + part + ".jar:";
    return run({"java", "-cp", parts, "org.apache.pdfbox.preflight.Validator_A1b", file.string()});
}

TEST(Archive, APdfIsTaggedInTheOrderOfReading) {
    const TempFolder folder;
    auto pages = drawn_document();
    pages.back().text.lines.front().language = "deu";
    const auto made = made_of(pages, folder.path(), make_as(Format::Pdf));
    ASSERT_TRUE(made) << made.error().sentence;
    const auto found = read_by_others("tagged-pdf", made->front().path);
    std::vector<std::string> words; // a parted word stays parted, as it is printed
    for (const Drawn& page : pages)
        for (const TextLine& line : page.text.lines)
            for (const Word& word : line.words) words.push_back(word.text);
    words.erase(std::ranges::find(words, "morn-"));
    *std::ranges::find(words, "ing") = "morn-ing";
    EXPECT_EQ(found["words"].get<std::vector<std::string>>(), words);
    EXPECT_EQ(found["headings"], nlohmann::json({{1, "Rules of the basin"}, {2, "Mooring <and> fees"}}));
    const Rows table{{"Boats", "3", "24.00"}, {"Dinghies", "12", "4.50"}, {"Rafts", "1", ",5\""}};
    EXPECT_EQ(found["tables"], nlohmann::json({table}));
    EXPECT_EQ(found["lists"], nlohmann::json({"Pay the toll before you pass.", "Shut the gates behind you."}));
    EXPECT_EQ(found["pictures"].size(), 1U);
    const Ran about = run({"pdfinfo", "-struct", made->front().path.string()});
    EXPECT_NE(about.out.find("/BBox"), std::string::npos) << about.out;
    const auto objects = run({"qpdf", "--qdf", "--object-streams=disable", made->front().path.string(), "-"}).out;
    EXPECT_NE(objects.find("/Lang (en)"), std::string::npos);
    EXPECT_NE(objects.find("/Lang (de)"), std::string::npos);
    EXPECT_NE(objects.find("/Alt (Picture on page 1)"), std::string::npos);
    EXPECT_NE(objects.find("/MarkInfo"), std::string::npos);
    // The figure is where the picture is, 30 mm from the left, 150 mm from above and 60 by 40 mm large, to within a
    // millimetre.
    const size_t at = objects.find("/BBox [");
    ASSERT_NE(at, std::string::npos);
    std::istringstream box(objects.substr(at + 7));
    for (const double mm : {30.0, 297.0 - 190, 90.0, 297.0 - 150}) {
        double pt = 0;
        box >> pt;
        EXPECT_NEAR(pt / points_per_inch * mm_per_inch, mm, 1);
    }
}

TEST(Archive, TextCanBeLeftOutAndHeadingsCanBecomeBookmarks) {
    const TempFolder folder;
    Ticket::Make make = make_as(Format::Pdf);
    make.searchable = false;
    make.bookmarks = true;
    const auto made = made_of(drawn_document(), folder.path(), make);
    ASSERT_TRUE(made);
    const std::string file = made->front().path.string();
    EXPECT_EQ(run({"pdftotext", file, "-"}).out, "\f\f");
    EXPECT_EQ(run({"pdffonts", file}).out.find("YelvinText"), std::string::npos);
    EXPECT_NE(run({"pdfinfo", file}).out.find("Tagged:          no"), std::string::npos);
    const auto outlines = parts_of(file, "outlines");
    ASSERT_EQ(outlines.size(), 1U) << outlines.dump();
    EXPECT_EQ(outlines[0]["title"], "Rules of the basin");
    EXPECT_EQ(outlines[0]["destpageposfrom1"], 1);
    ASSERT_EQ(outlines[0]["kids"].size(), 1U);
    EXPECT_EQ(outlines[0]["kids"][0]["title"], "Mooring <and> fees");
    EXPECT_EQ(run({"qpdf", "--check", file}).status, 0);
}

TEST(Archive, PageLabelsFollowPrintedNumbers) {
    std::vector<Drawn> pages(5);
    pages[0].line(150, 150, "A title on the cover");
    pages[1].line(150, 150, "What is in it");
    for (size_t i = 2; i < 5; ++i)
        pages[i]
            .line(150, 150, "A page of text, of which there are several")
            .line(600, 1700, fmt::format("- {} -", i - 1));
    pages[3].text.lines.back().words[1].text = "9"; // one that was read wrongly does not count
    const TempFolder folder;
    const auto made = made_of(pages, folder.path(), make_as(Format::Pdf));
    ASSERT_TRUE(made);
    EXPECT_EQ(run({"pdfinfo", made->front().path.string()}).status, 0);
    const auto labels = parts_of(made->front().path, "pagelabels");
    ASSERT_EQ(labels.size(), 2U) << labels.dump();
    EXPECT_EQ(labels[0]["label"]["/S"], "/r");
    EXPECT_EQ(labels[1]["index"], 2);
    EXPECT_EQ(labels[1]["label"]["/S"], "/D");
    EXPECT_EQ(printed_number(as_it_was_read(pages[4].text)), 3);
    EXPECT_EQ(printed_number(as_it_was_read(pages[0].text)), std::nullopt);
}

TEST(Archive, AnArchivePdfConformsToPdfA) {
    for (const Ink ink : {Ink::Grey, Ink::Colour, Ink::Black}) {
        const TempFolder folder;
        auto pages = drawn_document();
        for (Drawn& page : pages) {
            if (ink == Ink::Colour) cv::cvtColor(page.page.pixels, page.page.pixels, cv::COLOR_GRAY2BGR);
            if (ink == Ink::Black) page.page.pixels = page.page.pixels > 128;
            page.page.ink = ink;
        }
        pages.emplace_back().page.pixels = cv::Scalar(240); // without any words
        if (ink == Ink::Colour) cv::cvtColor(pages.back().page.pixels, pages.back().page.pixels, cv::COLOR_GRAY2BGR);
        if (ink == Ink::Black) pages.back().page.pixels = cv::Scalar(255);
        pages.back().page.ink = ink;
        Ticket::Make make = make_as(Format::PdfA);
        make.bookmarks = true;
        make.pdf_a_level = PdfALevel::A1b;
        make.stamp.parts = {{NamePart::Kind::Words, "Łódź Ωmega"}, {NamePart::Kind::Counter, "", 3}};
        make.properties.author = {{NamePart::Kind::Words, "Harriet Quillfeather"}};
        make.properties.subject = {{NamePart::Kind::Heading, ""}};
        make.properties.keywords = {{NamePart::Kind::Words, "basin, <rules>"}};
        const auto first = made_of(pages, folder.path(), make);
        ASSERT_TRUE(first) << first.error().sentence;
        const Ran checked = preflight(first->front().path);
        EXPECT_EQ(checked.status, 0) << checked.out << checked.err;
        EXPECT_NE(checked.out.find("is a valid PDF/A-1b file"), std::string::npos) << checked.out;
        // Debian has no checker for part 2. Its requirements for metadata, colours and fonts are checked here, and that
        // the checker for part 1 objects only to what is new in part 2.
        make.pdf_a_level = PdfALevel::A2u;
        const auto second = made_of(pages, folder.path(), make);
        ASSERT_TRUE(second);
        const std::string file = second->front().path.string();
        std::istringstream complaints(preflight(file).out);
        for (std::string line; std::getline(complaints, line);) {
            const bool new_in_second = line.starts_with("1.4 ") || line.starts_with("7.11");
            EXPECT_TRUE(line.empty() || line.starts_with("The file") || new_in_second) << line;
        }
        const Ran said = run({"exiftool", "-s3", "-XMP:Part", "-XMP:Conformance", "-XMP:Title", "-PDF:Title",
                              "-XMP:CreatorTool", "-PDF:Creator", file});
        EXPECT_EQ(said.out, "2\nU\nRules\nRules\nYelvin\nYelvin\n");
        const Ran dates = run({"exiftool", "-s3", "-XMP:CreateDate", "-PDF:CreateDate", file});
        EXPECT_EQ(dates.out.substr(0, dates.out.size() / 2), dates.out.substr(dates.out.size() / 2)) << dates.out;
        EXPECT_NE(run({"pdffonts", file}).out.find("yes no  yes"), std::string::npos) << run({"pdffonts", file}).out;
    }
}

}
}
