// A PDF to which the documents of a ticket are added.
#include "app/models/tickets/growing_files.h"
#include "app/tickets_window.h"
#include "core/output/add_to_pdf.h"

namespace yelvin::test {
namespace {

class GrowingFilesWindow : public TicketsWindow {
  protected:
    using Grows = Ticket::Save::Grows;
    void start_with(Grows grows) {
        start();
        make_ticket("Logs", "moss", Format::Pdf);
        choose([&](Ticket& t) {
            t.save.folder = folder_of("Logs").string();
            t.save.grows = grows;
            t.pages.documents = Documents::EachScan;
        });
        desk_->tickets.keep();
    }
    // "Log 01.pdf:3|" stands for a file of three pages.
    std::string logs() const {
        std::vector<std::filesystem::path> files;
        for (const auto& each : std::filesystem::directory_iterator(folder_of("Logs"))) files.push_back(each.path());
        std::ranges::sort(files);
        std::string out;
        for (const auto& file : files) {
            const auto state = look_into_pdf(file, {});
            out += file.filename().string() + ":" + std::to_string(state ? state->pages : -1) + "|";
        }
        return out;
    }
    void scan_and_save() {
        scan();
        save_all();
    }
};

TEST_F(GrowingFilesWindow, DocumentsOfAMonthBecomeOneFileAndTheNextMonthStartsAnother) {
    start_with(Grows::Month);
    for (int i = 0; i < 3; ++i) scan();
    ASSERT_EQ(shape(), "1|1|1");
    save_all();
    EXPECT_EQ(logs(), "Log 01.pdf:3|") << "given together";
    EXPECT_EQ(document(2).saved_as, (folder_of("Logs") / "Log 01.pdf").string());
    start();
    scan();
    EXPECT_EQ(desk_->names.title_of(document(3)), "Log 01");
    save_all();
    EXPECT_EQ(logs(), "Log 01.pdf:4|");
    window_.reset();
    desk_->last.set("growing files", {{"Logs", {(folder_of("Logs") / "Log 01.pdf").string(), "2026-01-31"}}});
    start();
    scan_and_save();
    EXPECT_EQ(logs(), "Log 01.pdf:4|Log 02.pdf:1|");
    EXPECT_EQ(trouble_, "");
}

TEST_F(GrowingFilesWindow, AFileGrowsUntilTheUserStartsAnother) {
    start_with(Grows::Always);
    scan();
    EXPECT_FALSE(tray().word_rect(id(0), "starts a file, until you start another").isEmpty());
    save_all();
    scan_and_save();
    EXPECT_EQ(logs(), "Log 01.pdf:2|");
    scan();
    const QRect word = tray().word_rect(id(2), "added to it, until you start another");
    ASSERT_FALSE(word.isEmpty());
    QTest::mouseClick(&tray(), Qt::LeftButton, {}, word.center());
    press_row(sheet("growth-sheet"), "start another file");
    EXPECT_TRUE(wait([&] { return desk_->names.title_of(document(2)) == "Log 02"; }))
        << "the folder says what is there";
    save_all();
    scan_and_save();
    EXPECT_EQ(logs(), "Log 01.pdf:2|Log 02.pdf:2|");
    scan();
    desk_->document_tickets.change({id(4)}, [](Ticket& t) { t.save.grows = Grows::No; });
    save_all();
    EXPECT_EQ(logs(), "Log 01.pdf:2|Log 02.pdf:2|Log 03.pdf:1|") << "save as its own file";
}

TEST_F(GrowingFilesWindow, ARenamedFileIsFollowedAndAMissingOneIsStartedAgain) {
    start_with(Grows::Always);
    scan_and_save();
    scan_and_save();
    desk_->renaming.rename(document(1).id, "Journal");
    ASSERT_TRUE(wait([&] { return !desk_->renaming.at_work(); }));
    const std::string journal = (folder_of("Logs") / "Journal.pdf").string();
    EXPECT_EQ(document(0).saved_as, journal) << "its pages are in the same file";
    EXPECT_EQ(document(1).saved_as, journal);
    scan_and_save();
    EXPECT_EQ(logs(), "Journal.pdf:3|");
    desk_->tray.undo(); // the scan
    desk_->tray.undo(); // the name
    ASSERT_TRUE(wait([&] { return !desk_->renaming.at_work(); }));
    EXPECT_EQ(logs(), "Log 01.pdf:3|");
    std::filesystem::remove(folder_of("Logs") / "Log 01.pdf");
    scan_and_save();
    EXPECT_EQ(logs(), "Log 01.pdf:1|");
    EXPECT_EQ(trouble_, "");
}

TEST_F(GrowingFilesWindow, OnlyNewPagesOfAnAddedDocumentAreAdded) {
    start_with(Grows::Always);
    scan_and_save();
    desk_->tray.set_next_page_starts_document(false);
    scan();
    ASSERT_EQ(shape(), "2");
    save_all();
    EXPECT_EQ(logs(), "Log 01.pdf:2|");
    EXPECT_FALSE(part<QLabel>("news-words")->text().contains("as it is now"));
    desk_->choice.set_current(page_id(0, 0));
    key("]");
    save_all();
    EXPECT_EQ(logs(), "Log 01.pdf:4|") << "as it is now, behind its pages of before";
    EXPECT_TRUE(part<QLabel>("news-words")->text().contains("as it is now"));
}

// If a file cannot be added to, it is unchanged, and the document is too.
TEST_F(GrowingFilesWindow, ProblemsWithTheFileAreReported) {
    start_with(Grows::Always);
    scan_and_save();
    write_file(folder_of("Logs") / "Log 01.pdf", "no PDF any more");
    scan();
    desk_->saving.save_all();
    ASSERT_TRUE(wait([&] { return !trouble_.isEmpty() && at_rest(); }));
    EXPECT_TRUE(trouble_.contains("Log 01.pdf")) << qPrintable(trouble_);
    EXPECT_EQ(read_file(folder_of("Logs") / "Log 01.pdf"), "no PDF any more");
    EXPECT_TRUE(document(1).saved_as.empty());
}

}
}
