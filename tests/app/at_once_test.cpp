// Documents that are still being scanned are saved, automatically or by hand.
#include "app/held.h"
#include "app/window_fixture.h"

#include <sys/mount.h>

namespace yelvin::test {
namespace {

class OnTheirWay : public Window {
  protected:
    QStringList all_saved_;

    void begin() {
        start();
        QObject::connect(&desk_->saving, &Saving::saved, [this](const QStringList& files) { all_saved_ += files; });
        choose([](Ticket& t) {
            t.how.dpi = 75;
            t.from.paper = "A6";
            t.pages.turn_upright = false;
            t.read.languages = {"eng"};
            t.make.format = Format::Pdf;
        });
    }
    // Uses a stack in the feeder, otherwise the receipt on the glass.
    void scan(const std::vector<std::string>& stack, const std::function<void(Ticket&)>& how) {
        const bool from_stack = !stack.empty();
        load(stack, [&](Ticket& t) {
            t.from.source = from_stack ? Source::FeederFront : Source::Glass;
            how(t);
        });
        key("Ctrl+Return");
        ASSERT_TRUE(has_pages(desk_->tray.tray().page_count() + std::max<size_t>(1, stack.size())));
    }
    void load(const std::vector<std::string>& stack, const std::function<void(Ticket&)>& how) {
        BenchSetup bench;
        for (const std::string& front : stack) bench.stack.push_back({{original(front)}, {}});
        bench.glass = {{original("till-receipt"), 105, 148.5, 0}};
        desk_->scanners.set_bench(bench);
        choose(how);
    }
    // Lets the user feed sheet after sheet; the first one is scanned.
    void feed_by_hand(const std::vector<std::string>& stack, const std::function<void(Ticket&)>& how) {
        load(stack, [&](Ticket& t) {
            t.from.source = Source::HandFed;
            t.from.next_sheet_seconds = 0;
            how(t);
        });
        key("Ctrl+Return");
        ASSERT_TRUE(has_pages(1));
        ASSERT_EQ(desk_->run.waiting().what, Waiting::For::NextSheet);
    }
    bool has_pages(size_t pages) const {
        return wait([&] {
            return desk_->tray.tray().page_count() == pages && !desk_->run.passing() && desk_->looking.in_work() == 0;
        });
    }
    bool is_saved(size_t document) const { return !desk_->tray.tray().documents.at(document)->saved_as.empty(); }
    QString name_of(size_t document) const {
        return QString::fromStdString(desk_->tray.tray().documents.at(document)->saved_as);
    }
};

TEST_F(OnTheirWay, EachDocumentIsSavedByTheTicketItWasScannedWith) {
    begin();
    Held reading(desk_->pools.reading(), 2, desk_->pools.stop_token());
    scan({"till-receipt", "till-receipt"}, [](Ticket& t) {
        t.save.at_once = true;
        t.pages.split = SplitAt::Every;
        t.pages.split_every = 1;
    });
    EXPECT_EQ(shape(), "1|1");
    scan({}, [](Ticket& t) { t.make.format = Format::Hocr, t.pages.split = SplitAt::Never; });
    EXPECT_EQ(shape(), "1|1|1") << "a later scan joined a document that waits to be read";
    scan({}, [](Ticket& t) { t.make.format = Format::Png, t.save.at_once = false; });
    EXPECT_EQ(shape(), "1|1|1|1");
    EXPECT_FALSE(is_saved(0) || is_saved(1) || is_saved(2)) << "they are not read yet";
    reading.open();
    ASSERT_TRUE(wait([&] { return is_saved(0) && is_saved(1) && is_saved(2) && at_rest(); })) << qPrintable(trouble_);
    EXPECT_FALSE(is_saved(3)) << "its ticket did not ask for it";
    EXPECT_EQ(QFileInfo(name_of(0)).suffix() + QFileInfo(name_of(1)).suffix(), "pdfpdf");
    EXPECT_NE(QFileInfo(name_of(2)).suffix(), "pdf");
    for (const size_t document : {0, 1}) EXPECT_EQ(count_pages(name_of(document).toStdString()).value_or(0), 1);
    EXPECT_EQ(all_saved_.size(), 3);
}

TEST_F(OnTheirWay, ADocumentWaitingForItsTextAtTheEndIsSavedAtTheNextStart) {
    begin();
    const Held reading(desk_->pools.reading(), 2, desk_->pools.stop_token());
    scan({}, [](Ticket& t) { t.save.at_once = true; });
    choose([](Ticket& t) { t.save.at_once = false, t.make.jpeg_quality = 20; });
    EXPECT_FALSE(is_saved(0));
    window_.reset();
    desk_.reset();
    start();
    ASSERT_TRUE(wait([&] { return is_saved(0) && at_rest(); })) << qPrintable(trouble_);
    EXPECT_TRUE(name_of(0).endsWith(".pdf"));
}

// Only the check of the last side shows whether it is blank.
TEST_F(OnTheirWay, APageBeingCheckedIsNotSavedYet) {
    begin();
    Held looking(desk_->pools.pages(), 2, desk_->pools.stop_token());
    BenchSetup bench;
    bench.stack = {{{original("till-receipt")}, {}}, {{}, {}}};
    desk_->scanners.set_bench(bench);
    choose([](Ticket& t) {
        t.from.source = Source::FeederFront;
        t.save.at_once = true;
        t.pages.drop_blank = true;
        t.read.languages.clear();
    });
    key("Ctrl+Return");
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 2 && !desk_->run.passing(); }));
    QTest::qWait(0);
    EXPECT_FALSE(is_saved(0) || desk_->saving.at_work());
    looking.open();
    ASSERT_TRUE(wait([&] { return is_saved(0) && at_rest(); })) << qPrintable(trouble_);
    EXPECT_EQ(count_pages(name_of(0).toStdString()).value_or(0), 1);
}

TEST_F(OnTheirWay, AFileThatCannotBeMovedToTheWastebasketStaysSaved) {
    begin();
    const std::filesystem::path disk = base_ / "disk";
    std::filesystem::create_directory(disk);
    if (::mount("yelvin", disk.c_str(), "tmpfs", 0, "size=8m") != 0)
        GTEST_SKIP() << "this user may not mount a file system of its own";
    std::function<void()> take_back;
    QObject::connect(&desk_->messages, &Messages::told, [&](const QString&, const Offer& offer) {
        if (offer.take) take_back = offer.take;
    });
    scan({}, [&](Ticket& t) {
        t.save.at_once = true;
        t.save.folder = disk.string();
        t.read.languages.clear();
    });
    ASSERT_TRUE(wait([&] { return is_saved(0) && take_back && at_rest(); })) << qPrintable(trouble_);
    const QString file = name_of(0);
    const bool read_only = ::mount("", disk.c_str(), "", MS_REMOUNT | MS_RDONLY, "") == 0;
    take_back();
    EXPECT_TRUE(!read_only || wait([&] { return trouble_.contains("wastebasket"); })) << qPrintable(trouble_);
    EXPECT_TRUE(read_only && is_saved(0) && QFileInfo::exists(file));
    ::umount2(disk.c_str(), MNT_DETACH);
}

TEST_F(OnTheirWay, ADocumentIsSavedWhileItsScanContinues) {
    begin();
    feed_by_hand({"invoice", "lease-1"}, [](Ticket& t) {
        t.save.at_once = true;
        t.make.format = Format::Jpeg;
        t.read.languages.clear();
        t.pages.split = SplitAt::Every;
        t.pages.split_every = 1;
    });
    ASSERT_TRUE(wait([&] { return at_rest(); }));
    EXPECT_FALSE(is_saved(0)) << "the next sheet decides whether it is complete";
    desk_->run.go_on();
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().documents.size() == 2 && is_saved(0); })) << shape();
    EXPECT_EQ(desk_->run.waiting().what, Waiting::For::NextSheet);
    EXPECT_FALSE(is_saved(1));
    desk_->run.stop();
    EXPECT_TRUE(wait([&] { return is_saved(1); })) << "the end of the run completes the last one";
}

TEST_F(OnTheirWay, NoPageIsAddedToADocumentBeingSavedOrWaitingForItsFolder) {
    begin();
    const auto jpeg = [](Ticket& t) { t.make.format = Format::Jpeg, t.read.languages.clear(); };
    scan({}, jpeg);
    {
        const Held saving(desk_->pools.saving(), 1, desk_->pools.stop_token());
        key("Ctrl+S");
        scan({}, jpeg);
        EXPECT_EQ(shape(), "1|1") << "joined while it was being saved";
    }
    ASSERT_TRUE(wait([&] { return is_saved(0) && at_rest(); }));
    choose([&](Ticket& t) { t.save.folder = (base_ / "away").string(); });
    desk_->saving.save({QString::fromStdString(desk_->tray.tray().documents[1]->id)});
    ASSERT_TRUE(wait([&] { return !desk_->saving.why_waits(desk_->tray.tray().documents[1]->id).isEmpty(); }));
    scan({}, jpeg);
    EXPECT_EQ(shape(), "1|1|1") << "joined while it waited for its folder";
    desk_->saving.wait_no_longer(desk_->tray.tray().documents[1]->id);
    desk_->saving.wait_no_longer(desk_->tray.tray().documents[2]->id);
    QApplication::processEvents();
    scan({}, jpeg);
    EXPECT_EQ(shape(), "1|1|2") << "where nothing is on its way pages go on in the last document";
}

TEST_F(OnTheirWay, PagesOfAScanStayTogetherWhenFilesAreAddedMeanwhile) {
    begin();
    feed_by_hand({"invoice", "lease-1", "lease-2"}, [](Ticket& t) { t.read.languages.clear(); });
    desk_->tray.set_next_page_starts_document(true);
    const auto letter = encode_png(test::scan("till-receipt", 0, 75, Ink::Grey));
    ASSERT_TRUE(letter);
    write_file(base_ / "letter.png", *letter);
    desk_->files.add({QString::fromStdString((base_ / "letter.png").string())});
    ASSERT_TRUE(has_pages(2));
    EXPECT_EQ(shape(), "1|1");
    desk_->run.go_on();
    ASSERT_TRUE(has_pages(3));
    EXPECT_EQ(shape(), "2|1");
    desk_->tray.set_next_page_starts_document(true);
    desk_->run.go_on();
    ASSERT_TRUE(has_pages(4));
    EXPECT_EQ(shape(), "2|1|1") << "between two sheets a new document was asked for";
}

}
}
