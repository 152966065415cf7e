// How files are added to the cabinet and followed there.
#include "core/cabinet/cabinet_updater.h"
#include "core/raster/image_file.h"
#include "jobs/reader_pool.h"
#include "jobs/save_job.h"
#include "support/support.h"

#include <fmt/format.h>
#include <gtest/gtest.h>

#include <fstream>

using namespace yelvin;
using namespace yelvin::test;
namespace fs = std::filesystem;

namespace {

class TakingInTest : public ::testing::Test {
  protected:
    TempFolder base;
    fs::path papers = base / "papers";
    std::optional<Cabinet> cabinet;
    std::optional<CabinetUpdater> taking;
    void SetUp() override {
        fs::create_directories(papers);
        cabinet.emplace(std::move(*Cabinet::open(base / "cabinet")));
        taking.emplace(*cabinet, common_paper_words(), PageReader{}, std::stop_token{});
    }
    fs::path fill(const std::string& name, const std::vector<std::string>& lines) {
        fs::create_directories((papers / name).parent_path());
        write_file(papers / name, pdf_with_text(lines));
        return papers / name;
    }
    CabinetPaper at(const fs::path& file) { return cabinet->paper_at(file)->value(); }
};

using Outcome = CabinetUpdater::Outcome;

}

TEST_F(TakingInTest, OnlyDocumentsOfAFolderAreAdded) {
    fill("b.pdf", {"b"});
    fill("in/A.PDF", {"a"});
    fill(".hidden/c.pdf", {"c"});
    fill(".d.pdf", {"d"});
    write_file(papers / "notes.txt", "no paper");
    fs::create_symlink(papers / "b.pdf", papers / "link.pdf");
    fs::create_directory_symlink(papers / "in", papers / "round");
    EXPECT_EQ(paper_files_in(papers), (std::vector<fs::path>{papers / "b.pdf", papers / "in/A.PDF"}));
    EXPECT_TRUE(paper_files_in(base / "nowhere").empty());
}

TEST_F(TakingInTest, ACopyIsAnotherDocumentAndAMovedFileTheSame) {
    const fs::path file = fill("lease.pdf", {"Lease of a mooring for Patient Heron"});
    EXPECT_EQ(taking->take(file, papers), Outcome::Added);
    EXPECT_EQ(taking->take(file, papers), Outcome::KnownAlready);
    EXPECT_EQ(at(file).taken_from, papers.string());
    EXPECT_EQ(at(file).text_state, TextState::Read);
    const fs::path copy = papers / "copy.pdf";
    fs::copy_file(file, copy);
    EXPECT_EQ(taking->take(copy, papers), Outcome::Added);
    EXPECT_NE(at(file).id, at(copy).id);
    const long long id = at(file).id;
    fs::rename(file, papers / "moved.pdf");
    EXPECT_EQ(taking->take(papers / "moved.pdf", papers), Outcome::Moved);
    EXPECT_EQ(at(papers / "moved.pdf").id, id);
    EXPECT_EQ(cabinet->all()->size(), 2U);
    // A new modification time alone is no change.
    fs::last_write_time(copy, fs::file_time_type::clock::now() + std::chrono::hours(1));
    EXPECT_EQ(taking->take(copy, papers), Outcome::KnownAlready);
    EXPECT_EQ(taking->take(papers / "nothing.pdf", papers).error().kind, ErrorKind::Missing);
}

TEST_F(TakingInTest, AChangedFileIsReadAgainAndKeepsItsTicket) {
    const fs::path file = fill("bill.pdf", {"two mooring pins"});
    NewPaper saved = *paper_of_file(file, common_paper_words(), {}, {});
    saved.ticket = "Bills";
    saved.document = "d1";
    saved.saved = std::chrono::sys_days(std::chrono::year(2024) / 5 / 6);
    ASSERT_TRUE(cabinet->add(saved));
    fill("bill.pdf", {"three tiller pins, and more of them"});
    EXPECT_EQ(taking->take(file, {}), Outcome::ReadAgain);
    EXPECT_EQ(at(file).ticket, "Bills");
    EXPECT_EQ(at(file).document, "d1");
    EXPECT_EQ(at(file).saved, saved.saved);
    EXPECT_EQ(cabinet->words(at(file).id)->at(0).lines.at(0).words.at(0).text, "three");
}

TEST_F(TakingInTest, AFileIsMissingOnlyIfItsFolderExists) {
    const fs::path here = fill("here/a.pdf", {"a paper about herons"});
    const fs::path there = fill("there/b.pdf", {"a paper about swans"});
    for (const fs::path& each : {here, there}) ASSERT_TRUE(taking->take(each, {}));
    EXPECT_TRUE(taking->look_after()->nothing());
    fs::remove(here);
    fs::rename(papers / "there", base / ".away");
    const auto round = taking->look_after();
    ASSERT_TRUE(round);
    EXPECT_EQ(round->gone, 1);
    EXPECT_EQ(round->away, 1);
    EXPECT_EQ(at(here).place, Place::Gone);
    EXPECT_EQ(at(there).place, Place::Away);
    // A folder was renamed: all files in it are followed.
    fs::rename(base / ".away", papers / "elsewhere");
    EXPECT_EQ(taking->look_after()->moved, 0) << "what is known to be away is not looked for each time";
    const auto found = taking->look_for_gone();
    ASSERT_TRUE(found);
    EXPECT_EQ(found->moved, 1);
    EXPECT_EQ(at(papers / "elsewhere/b.pdf").place, Place::Here);
    EXPECT_EQ(at(here).place, Place::Gone); // its line stays
    fill("here/a.pdf", {"a paper about herons"});
    EXPECT_EQ(taking->look_after()->back, 1);
    // The file is back, with the same contents and modification time.
    fs::rename(here, base / ".kept");
    EXPECT_EQ(taking->look_after()->gone, 1);
    fs::rename(base / ".kept", here);
    EXPECT_EQ(taking->look_after()->back, 1);
    EXPECT_EQ(at(here).place, Place::Here);
    EXPECT_EQ(taking->look_after()->back, 0);
    EXPECT_EQ(at(here).place, Place::Here);
}

TEST_F(TakingInTest, OfTwoEqualFilesTheDeletedOneIsMissing) {
    const fs::path one = fill("one/a.pdf", {"a paper about herons"}), two = papers / "two" / "a.pdf";
    fs::create_directories(two.parent_path());
    fs::copy_file(one, two);
    for (const fs::path& each : {one, two}) ASSERT_TRUE(taking->take(each, {}));
    const long long id = at(two).id;
    fs::remove(one);
    const auto round = taking->look_after();
    ASSERT_TRUE(round);
    EXPECT_EQ(round->gone, 1);
    EXPECT_EQ(round->moved, 0) << "the other was known all the time";
    EXPECT_EQ(at(one).place, Place::Gone);
    EXPECT_EQ(at(two).id, id);
    EXPECT_EQ(at(two).place, Place::Here);
    ASSERT_TRUE(taking->look_for_gone(true));
    EXPECT_EQ(at(one).place, Place::Gone);
    EXPECT_EQ(cabinet->all()->size(), 2U);
}

TEST_F(TakingInTest, ACopyOfAFileInAnAbsentFolderIsAnotherDocument) {
    const fs::path share = fill("share/leases/a.pdf", {"a paper about herons"});
    ASSERT_TRUE(taking->take(share, {}));
    const fs::path copy = fill("desk/a.pdf", {"a paper about herons"});
    fs::rename(papers / "share", base / ".away");
    const char* home = std::getenv("HOME");
    const std::string before = home ? home : "";
    setenv("HOME", papers.c_str(), 1); // the share was at a name in the home folder
    const auto taken = taking->take(copy, {});
    const auto round = taking->look_after();
    setenv("HOME", before.c_str(), 1);
    ASSERT_TRUE(taken && round);
    EXPECT_EQ(round->away, 1);
    EXPECT_EQ(*taken, CabinetUpdater::Outcome::Added);
    EXPECT_EQ(at(share).place, Place::Away);
    EXPECT_EQ(at(copy).place, Place::Here);
}

// Unchanged folders cost one look at their modification time, and a file that is known to be missing is not searched
// for, neither when the cabinet is opened nor at each event.
TEST_F(TakingInTest, MissingFilesAreSearchedOnceAnHour) {
    const fs::path file = fill("here/a.pdf", {"a paper about herons"}), other = fill("there/b.pdf", {"about swans"});
    for (const fs::path& each : {file, other}) ASSERT_TRUE(taking->take(each, {}));
    fs::rename(file, base / "a.pdf"); // out of sight
    EXPECT_EQ(taking->look_into(papers / "here")->gone, 1);
    ASSERT_TRUE(taking->look_for_gone());
    fs::rename(base / "a.pdf", papers / "there/a.pdf"); // where a search would find it
    EXPECT_TRUE(taking->look_into(papers / "here")->nothing());
    EXPECT_TRUE(taking->look_after()->nothing());
    EXPECT_TRUE(taking->look_for_gone()->nothing()) << "within the hour";
    EXPECT_EQ(taking->look_for_gone(true)->moved, 1);
    EXPECT_EQ(at(papers / "there/a.pdf").place, Place::Here);
}

// Two programs add the same folder at the same time: each file is added by one of them.
TEST_F(TakingInTest, ADocumentAddedByAnotherProgramIsNotAddedAgain) {
    const fs::path file = fill("a.pdf", {"a paper about herons"});
    auto other = Cabinet::open(cabinet->folder());
    ASSERT_TRUE(other);
    NewPaper paper;
    paper.file = file;
    paper.mark = *mark_of(file);
    paper.words.resize(1);
    EXPECT_TRUE(cabinet->add_unless_known(paper).value());
    EXPECT_FALSE(other->add_unless_known(paper).value());
    EXPECT_EQ(cabinet->all()->size(), 1U);
}

TEST_F(TakingInTest, TextIsReadOnlyIfWanted) {
    const cv::Mat blank(400, 300, CV_8UC1, cv::Scalar(250));
    write_file(papers / "scan.png", *encode_png({blank, 100, Ink::Grey}));
    ASSERT_EQ(taking->take(papers / "scan.png", {}), Outcome::Added);
    EXPECT_EQ(at(papers / "scan.png").text_state, TextState::Missing);
    int asked = 0;
    CabinetUpdater reading(
        *cabinet, common_paper_words(),
        [&](const Raster& page) -> Result<TextLayer> {
            ++asked;
            TextLayer layer{{}, page.width_px(), page.height_px(), "eng"};
            layer.lines.push_back({{{"windlass", {30, 40, 80, 12}, 95}}, {30, 52}, {110, 52}, 10, 2, "eng"});
            return layer;
        },
        {});
    EXPECT_EQ(reading.take(papers / "scan.png", {}), Outcome::ReadAgain);
    EXPECT_EQ(reading.take(papers / "scan.png", {}), Outcome::KnownAlready);
    EXPECT_EQ(asked, 1);
    const auto words = cabinet->words(at(papers / "scan.png").id);
    ASSERT_EQ(words->at(0).lines.size(), 1U);
    EXPECT_NEAR(words->at(0).lines[0].words[0].box.x, 30 * 25.4 / 100, 0.3);
    EXPECT_NEAR(words->at(0).width_mm, 300 * 25.4 / 100, 0.3);
}

// A saved document enters its words, whatever its format and however its pages are divided into files.
TEST_F(TakingInTest, ASavedDocumentProvidesTheTextOfEachPage) {
    const auto text_of = [](int page) {
        TextLayer layer{{}, 300, 400, "eng"};
        layer.lines.push_back(
            {{{fmt::format("page{}", page), {30, 40, 80, 12}, 95}}, {30, 52}, {110, 52}, 10, 2, "eng"});
        return layer;
    };
    const cv::Mat paper(400, 300, CV_8UC1, cv::Scalar(250));
    ReaderPool readers;
    const std::pair<Format, Per> kinds[] = {
        {Format::Pdf, Per::Document}, {Format::Png, Per::Page}, {Format::Text, Per::Document}};
    for (const auto& [format, per] : kinds) {
        SaveJob job;
        job.page_count = 4;
        job.folder = papers;
        job.fixed_name = fmt::format("saved {}", format_key(format));
        job.ticket.make.format = format;
        job.ticket.make.per = per;
        job.page = [&](size_t i) -> Result<std::optional<FinishedPage>> {
            if (i == 1) return std::optional<FinishedPage>(); // a blank one
            return std::optional(FinishedPage{{paper, 100, Ink::Grey}, text_of(static_cast<int>(i))});
        };
        GatheredWords words;
        job.on_text = [&](const PageText& text, double dpi) { words.add(text, dpi); };
        const auto made = save_document(job, readers, {});
        ASSERT_TRUE(made) << made.error().sentence;
        ASSERT_EQ(words.pages.size(), 3U) << format_key(format);
        EXPECT_EQ(words.pages[1].lines.at(0).words.at(0).text, "page2");
        std::vector<fs::path> files;
        for (const MadeFile& each : *made) files.push_back(each.path);
        PaperFile about;
        about.ticket = "Everyday paper";
        const auto entered = papers_of_saved(files, words, common_paper_words(), about);
        ASSERT_EQ(entered.size(), per == Per::Page ? 3U : 1U);
        EXPECT_EQ(entered.back().words.size(), per == Per::Page ? 1U : 3U);
        EXPECT_EQ(entered.back().words.back().lines.at(0).words.at(0).text, "page3");
        about.text_state = TextState::Protected;
        for (const NewPaper& each : papers_of_saved(files, words, common_paper_words(), about))
            for (const PageWords& page : each.words) EXPECT_TRUE(page.empty());
        files.push_back(papers / "gone.pdf");
        EXPECT_EQ(papers_of_saved(files, words, common_paper_words(), about).size(), files.size() - 1);
    }
}

TEST_F(TakingInTest, ADocumentMadeSearchableIsRecognisedByItsNewFile) {
    const fs::path file = fill("a.pdf", {});
    ASSERT_EQ(*taking->take(file, {}), Outcome::Added);
    EXPECT_EQ(at(file).text_state, TextState::Missing);
    taking->make_searchable_by([](const fs::path& pdf) -> Result<int> {
        write_file(pdf, pdf_with_text({"a lease of a berth"}));
        return 1;
    });
    ASSERT_EQ(*taking->take(file, {}), Outcome::ReadAgain);
    EXPECT_EQ(at(file).mark.contents, mark_of(file)->contents);
    EXPECT_FALSE(cabinet->words(at(file).id)->front().empty());
}
