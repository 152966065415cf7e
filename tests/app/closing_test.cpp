// The window is closed while work is still under way.
#include "app/end_watch.h"
#include "app/held.h"
#include "app/models/saving/pending_saves.h"
#include "app/window_fixture.h"
#include "core/storage/store_lock.h"

#include <chrono>
#include <thread>

namespace yelvin::test {
namespace {

class ClosingWindow : public Window {
  protected:
    void scan_one(Format format) {
        scan_quickly();
        choose([&](Ticket& t) { t.make.format = format; });
        desk_->tray.set_next_page_starts_document(true);
    }
    std::unique_ptr<Held> hold_saving() {
        return std::make_unique<Held>(desk_->pools.saving(), 1, desk_->pools.stop_token());
    }
    QWidget* card() const { return part<QWidget>("closing-card"); }
    std::string saved_as(size_t document) const { return desk_->tray.tray().documents.at(document)->saved_as; }
};

TEST_F(ClosingWindow, ClosingWaitsForDocumentsBeingSavedAndSaysSo) {
    start();
    scan_one(Format::Jpeg);
    const auto saving = hold_saving();
    key("Ctrl+S");
    EXPECT_FALSE(window_->close()) << "it is not saved yet";
    EXPECT_TRUE(window_->isVisible() && card()->isVisible());
    EXPECT_TRUE(part<QLabel>("closing-card-words")->text().startsWith("Saving a document."));
    press("closing-stay");
    EXPECT_FALSE(card()->isVisible());
    EXPECT_FALSE(window_->close());
    saving->open();
    ASSERT_TRUE(wait([&] { return !window_->isVisible(); })) << "it closes by itself";
    EXPECT_TRUE(QFileInfo::exists(QString::fromStdString(saved_as(0))));
    EXPECT_TRUE(window_->close()) << "nothing is under way";
}

TEST_F(ClosingWindow, UnsavedDocumentsAreSavedAtTheNextStartByTheirTicket) {
    start();
    scan_one(Format::Jpeg);
    scan_one(Format::Png);
    auto saving = hold_saving();
    const auto& documents = desk_->tray.tray().documents;
    choose([](Ticket& t) { t.make.format = Format::Jpeg; });
    desk_->saving.save({QString::fromStdString(documents[0]->id)});
    choose([](Ticket& t) { t.make.format = Format::Png; });
    desk_->saving.save({QString::fromStdString(documents[1]->id)});
    desk_->saving.save_all(); // once more: nothing is saved twice
    EXPECT_EQ(desk_->saving.documents_under_way(), 2);
    EXPECT_FALSE(window_->close());
    press("closing-now");
    EXPECT_FALSE(window_->isVisible());
    window_.reset();
    desk_.reset();
    start();
    ASSERT_TRUE(wait([&] { return !saved_as(0).empty() && !saved_as(1).empty() && at_rest(); }));
    EXPECT_TRUE(saved_as(0).ends_with(".jpg") && saved_as(1).ends_with(".png")) << saved_as(0) << saved_as(1);
    desk_.reset();
    EXPECT_FALSE(std::filesystem::exists(base_ / "tray/saving.json")) << "nothing is left to be saved";
}

TEST_F(ClosingWindow, AFileRenamedDuringClosingIsKnownByItsNewName) {
    start();
    scan_one(Format::Jpeg);
    key("Ctrl+S");
    ASSERT_TRUE(wait([&] { return !saved_.isEmpty() && at_rest(); }));
    desk_->renaming.rename(desk_->tray.tray().documents[0]->id, "Mooring bill");
    window_.reset();
    desk_.reset(); // before anything could be told of it
    start();
    EXPECT_EQ(std::filesystem::path(saved_as(0)).stem(), "Mooring bill");
    EXPECT_TRUE(std::filesystem::exists(saved_as(0)));
}

TEST(EndWatch, AHangingProgramEndsAndReleasesItsLocks) {
    const TempFolder folder;
    EXPECT_EXIT(
        {
            const auto lock = StoreLock::take(folder.path());
            const EndWatch watch(std::chrono::milliseconds(50), 7);
            for (;;) std::this_thread::sleep_for(std::chrono::hours(1));
        },
        testing::ExitedWithCode(7), "");
    const auto held = StoreLock::take(folder.path());
    ASSERT_TRUE(held);
    ASSERT_EQ(StoreLock::take(folder.path()).error().kind, ErrorKind::Busy);
    HeldLock::release_all(); // while a thread of the process still has the file open
    EXPECT_TRUE(StoreLock::take(folder.path()));
}

TEST_F(ClosingWindow, AnInterruptedDocumentIsSavedAtTheNextStart) {
    start();
    scan_one(Format::Pdf);
    for (int i = 0; i < 5; ++i) desk_->edits.duplicate();
    const Held reading(desk_->pools.reading(), 2, desk_->pools.stop_token());
    choose([](Ticket& t) { t.read.languages = {"eng"}, t.make.format = Format::Pdf; });
    bool began = false;
    QObject::connect(&desk_->saving, &Saving::progress, [&](const QString&, double) { began = true; });
    desk_->saving.save({QString::fromStdString(desk_->tray.tray().documents[0]->id)});
    ASSERT_TRUE(wait([&] { return began; }));
    window_.reset();
    desk_.reset(); // while the save waits for the page to be read
    for (const std::string& name : base_.files()) EXPECT_FALSE(name.ends_with(".pdf")) << "it was not stopped";
    start();
    ASSERT_TRUE(wait([&] { return !saved_as(0).empty() && at_rest(); })) << qPrintable(trouble_);
}

// The program ended after saving, before it recorded that nothing is waiting to be saved.
TEST_F(ClosingWindow, ASavedDocumentIsNotSavedAgainAtTheNextStart) {
    start();
    scan_one(Format::Jpeg);
    key("Ctrl+S");
    ASSERT_TRUE(wait([&] { return !saved_.isEmpty() && at_rest(); }));
    const std::string document = desk_->tray.tray().documents[0]->id;
    const Ticket ticket = desk_->tickets.ticket();
    window_.reset();
    desk_.reset();
    Task write;
    PendingSaves(base_ / "tray", [&](Task task) {
        write = std::move(task);
    }).note(document, std::make_shared<const Ticket>(ticket));
    write();
    saved_.clear();
    start();
    scan_one(Format::Png);
    key("Ctrl+S");
    ASSERT_TRUE(wait([&] { return !saved_.isEmpty() && at_rest(); }));
    int pictures = 0;
    for (const std::string& name : base_.files()) pictures += name.ends_with(".jpg");
    EXPECT_EQ(pictures, 1) << testing::PrintToString(base_.files());
}

TEST_F(ClosingWindow, ADocumentChangedDuringSavingStaysUnsaved) {
    start();
    scan_one(Format::Jpeg);
    const auto saving = hold_saving();
    key("Ctrl+S");
    desk_->choice.set_current(page_id(0, 0));
    window_->look_at(MainWindow::Look::Page);
    key("]"); // turned
    saving->open();
    ASSERT_TRUE(wait([&] { return !saved_.isEmpty() && at_rest(); }));
    EXPECT_EQ(saved_as(0), "") << "the file has the page as it was before";
}

}
}
