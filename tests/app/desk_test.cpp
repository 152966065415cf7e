// The desk without its window: what it promises to the widgets, and the words of the sentence.
#include "app/desk.h"

#include "app/demo.h"
#include "app/held.h"
#include "app/ticketbar/wording.h"
#include "core/output/document_writer.h"
#include "core/raster/image_file.h"
#include "support/support.h"

#include <QTest>

#include <sys/mount.h>

namespace yelvin::test {
namespace {

class DeskTest : public testing::Test {
  protected:
    TempFolder base_;
    std::unique_ptr<Desk> desk_;
    QStringList saved_, troubles_;

    void SetUp() override {
        DeskPlaces places = demo::places(QString::fromStdString(base_.path().string()));
        places.originals = YELVIN_ORIGINALS;
        desk_ = std::make_unique<Desk>(places);
        desk_->scanners.use_bench();
        ASSERT_TRUE(wait([&] { return desk_->tray.is_loaded(); }));
        QObject::connect(&desk_->saving, &Saving::saved, [this](const QStringList& files) { saved_ += files; });
        QObject::connect(&desk_->messages, &Messages::trouble,
                         [this](const QString& sentence) { troubles_.append(sentence); });
        choose([](Ticket& ticket) {
            ticket.how.dpi = 75;
            ticket.read.languages.clear();
            ticket.from.paper = "A6";
            ticket.pages.turn_upright = false;
        });
    }
    void choose(const std::function<void(Ticket&)>& how) {
        Ticket ticket = desk_->tickets.ticket();
        ticket.save.folder = base_.path().string();
        how(ticket);
        desk_->tickets.set(ticket);
    }
    bool wait(const std::function<bool()>& until) { return QTest::qWaitFor(until, 60000); }
    bool at_rest() const {
        return !desk_->run.passing() && !desk_->scanners.in_use() && !desk_->saving.at_work() &&
               desk_->looking.in_work() == 0 && !desk_->reading.at_work();
    }
    void scan_page(const std::string& paper, bool new_document) {
        BenchSetup bench;
        if (!paper.empty()) bench.glass = {{original(paper), 52, 74, 0}};
        desk_->scanners.set_bench(bench);
        desk_->tray.set_next_page_starts_document(new_document);
        const size_t before = desk_->tray.tray().page_count();
        desk_->run.start();
        ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == before + 1 && at_rest(); }));
    }
    QString document(size_t index) const { return QString::fromStdString(desk_->tray.tray().documents.at(index)->id); }
};

TEST_F(DeskTest, SavesAllDocumentsNumberedInTrayOrder) {
    choose([](Ticket& ticket) {
        ticket.save.name = {{NamePart::Kind::Words, "Mooring"}, {NamePart::Kind::Counter, "", 3}};
    });
    write_file(base_ / "Mooring 004.pdf", "somebody's");
    scan_page("till-receipt", true);
    scan_page("membership-card-front", true);
    scan_page("membership-card-back", false);
    EXPECT_EQ(desk_->names.next(), "Mooring 005");
    EXPECT_EQ(desk_->names.title_of(*desk_->tray.tray().documents[0]), "Mooring 005");
    EXPECT_EQ(desk_->names.title_of(*desk_->tray.tray().documents[1]), "Mooring 006") << "shown before it is saved";
    desk_->saving.save({document(0), document(1)});
    ASSERT_TRUE(wait([&] { return saved_.size() == 2 && at_rest(); }));
    EXPECT_TRUE(saved_[0].endsWith("Mooring 005.pdf"));
    EXPECT_TRUE(saved_[1].endsWith("Mooring 006.pdf"));
    EXPECT_EQ(read_file(base_ / "Mooring 004.pdf"), "somebody's");
    EXPECT_EQ(*count_pages(base_ / "Mooring 006.pdf"), 2);
    EXPECT_TRUE(desk_->tray.next_page_starts_document()) << "nothing ends up behind a saved document";

    desk_->tray.put_away_saved();
    EXPECT_EQ(desk_->tray.tray().page_count(), 0U);
    EXPECT_TRUE(std::filesystem::exists(base_ / "Mooring 005.pdf"));
    desk_->tray.undo();
    EXPECT_EQ(desk_->tray.tray().page_count(), 3U);
}

TEST_F(DeskTest, SavingAChangedDocumentCreatesANewFile) {
    choose([](Ticket& ticket) { ticket.make.format = Format::Png; });
    scan_page("till-receipt", true);
    desk_->tray.edit(with_document_name(desk_->tray.tray(), desk_->tray.tray().documents[0]->id, "Tea"), "rename");
    desk_->saving.save({document(0)});
    ASSERT_TRUE(wait([&] { return saved_.size() == 1 && at_rest(); }));
    EXPECT_FALSE(desk_->tray.tray().documents[0]->saved_as.empty());
    desk_->edits.turn(1);
    EXPECT_TRUE(desk_->tray.tray().documents[0]->saved_as.empty()) << "what was saved is no longer what lies here";
    desk_->saving.save({document(0)});
    ASSERT_TRUE(wait([&] { return saved_.size() == 2 && at_rest(); }));
    EXPECT_TRUE(saved_[1].endsWith("Tea (2).png"));
    const auto first = read_page(base_ / "Tea.png"), second = read_page(base_ / "Tea (2).png");
    EXPECT_EQ(first->raster.width_px(), second->raster.height_px());
}

TEST_F(DeskTest, AddsAllPagesOfAFileAsOneDocument) {
    ASSERT_EQ(
        run({"convert", "-size", "200x300", "xc:white", "xc:gray", "xc:black", "-depth", "8", "-type", "TrueColor",
             "-compress", "None", "-units", "PixelsPerInch", "-density", "100", (base_ / "three.tif").string()})
            .status,
        0);
    ASSERT_EQ(run({"tiff2pdf", "-o", (base_ / "three.pdf").string(), (base_ / "three.tif").string()}).status, 0);
    desk_->files.add({QString::fromStdString(base_ / "three.tif"), QString::fromStdString(base_ / "three.pdf")});
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 6 && at_rest(); }));
    EXPECT_EQ(desk_->tray.tray().documents.size(), 1U);
    EXPECT_TRUE(troubles_.isEmpty()) << qPrintable(troubles_.join('\n'));
    for (const auto& page : desk_->tray.tray().documents[0]->pages) {
        EXPECT_NEAR(page->original.size_mm().width, 50.8, 0.3) << "its true size";
        EXPECT_NEAR(page->original.size_mm().height, 76.2, 0.3);
    }
}

TEST_F(DeskTest, AsksForTheResolutionOfAFileWithoutOne) {
    ASSERT_EQ(run({"convert", "-size", "90x90", "xc:white", "-strip", "-define", "png:exclude-chunks=pHYs",
                   (base_ / "bare.png").string()})
                  .status,
              0);
    const QStringList bare{QString::fromStdString(base_ / "bare.png")};
    desk_->files.add(bare);
    ASSERT_TRUE(wait([&] { return desk_->files.without_resolution().size() == 1 && at_rest(); }));
    EXPECT_EQ(desk_->tray.tray().page_count(), 0U) << "it waits for the answer";
    EXPECT_EQ(desk_->files.without_resolution().front().width_px, 90);
    desk_->files.add_unsized(600);
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 1 && at_rest(); }));
    EXPECT_EQ(desk_->choice.current()->original.dpi, 600);
    EXPECT_TRUE(desk_->files.without_resolution().isEmpty());
    desk_->files.add(bare);
    ASSERT_TRUE(wait([&] { return desk_->files.without_resolution().size() == 1 && at_rest(); }));
    desk_->files.leave_unsized();
    EXPECT_EQ(desk_->tray.tray().page_count(), 1U);
    EXPECT_TRUE(troubles_.isEmpty());
}

TEST_F(DeskTest, UndoRestoresTheTrayAndKeepsLaterNotices) {
    scan_page("till-receipt", true);
    const PagePtr seen = desk_->choice.current();
    ASSERT_TRUE(seen->noticed);
    scan_page("till-receipt", false);
    desk_->tray.undo();
    ASSERT_EQ(desk_->tray.tray().page_count(), 1U);
    EXPECT_TRUE(desk_->tray.tray().documents[0]->pages[0]->noticed);
    EXPECT_EQ(desk_->tray.undo_name(), "scan");
    desk_->tray.undo();
    EXPECT_FALSE(desk_->tray.can_undo());
    EXPECT_EQ(desk_->tray.tray().page_count(), 0U);
    EXPECT_TRUE(desk_->choice.current_id().isEmpty());
    desk_->tray.redo();
    desk_->tray.redo();
    EXPECT_EQ(desk_->tray.tray().page_count(), 2U);
    EXPECT_FALSE(desk_->tray.can_redo());
}

TEST_F(DeskTest, EveryFrameBecomesAPageOfItsSize) {
    choose([](Ticket& ticket) {
        ticket.from.paper = "auto";
        ticket.from.frames = Frames::Drawn;
    });
    desk_->glass.set_frames(
        {Frame::upright({10, 10, 60, 40}), Frame::upright({10, 60, 30, 30}), Frame::upright({0, 0, 1, 50})});
    EXPECT_EQ(desk_->glass.frames().size(), 2U) << "what is narrower than 2 mm is no frame";
    desk_->run.start();
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 2 && at_rest(); }));
    ASSERT_EQ(desk_->tray.tray().documents.size(), 1U);
    const auto size = [&](size_t page) {
        const Page& p = *desk_->tray.tray().documents[0]->pages[page];
        return developed_size(p.recipe, {p.original.width_px, p.original.height_px}, p.original.dpi);
    };
    EXPECT_EQ(size(0), (SizePx{scanned_px(60, 75), scanned_px(40, 75)}));
    EXPECT_EQ(size(1).width, scanned_px(30, 75));
    EXPECT_NEAR(size(1).height, scanned_px(30, 75), 1) << "cut out of one picture of both";
}

// Estimates are shown before a choice is made; they must not be off by more than half.
TEST_F(DeskTest, EstimatesAreCloseToSavedSizes) {
    const Raster page = scan("lease-1", 0, 300, Ink::Colour);
    for (const auto& [format, ink] : {std::pair{Format::Pdf, Ink::Grey},
                                      {Format::Pdf, Ink::Black},
                                      {Format::Jpeg, Ink::Colour},
                                      {Format::Png, Ink::Grey}}) {
        const auto real = static_cast<double>(encode_page(with_ink(page, ink), {}, format, 85)->image.size());
        const double said = Estimates{}.page_bytes({format, Per::Page, 85}, "", {210, 297}, 300, ink);
        EXPECT_LT(said, 2 * real) << format_key(format) << " " << ink_word(ink);
        EXPECT_GT(said, real / 2) << format_key(format) << " " << ink_word(ink);
    }
}

TEST_F(DeskTest, ThumbnailsAreMadeInTheBackgroundFollowTheRecipeAndAreCached) {
    scan_page("till-receipt", true);
    const QString id = desk_->choice.current_id();
    ASSERT_TRUE(wait([&] { return !desk_->pictures.thumbnail(id).isNull(); }));
    const QSize upright = desk_->pictures.thumbnail(id).size();
    EXPECT_LE(std::max(upright.width(), upright.height()), 192);
    desk_->edits.turn(1);
    ASSERT_TRUE(wait([&] { return desk_->pictures.thumbnail(id).size() == upright.transposed(); }));
    const auto kept = [&] {
        std::error_code none;
        return std::distance(std::filesystem::directory_iterator(
                                 std::filesystem::path(desk_->places.data.toStdString()) / "thumbnails", none),
                             {});
    };
    EXPECT_GE(kept(), 1);
}

TEST_F(DeskTest, TheSentenceDescribesTheTicket) {
    const auto phrase = [&](const QString& key) {
        for (const Phrase& each : wording::phrases(desk_->for_window().for_ticket())) {
            if (each.key == key) return each.words;
        }
        return QString();
    };
    EXPECT_EQ(phrase("area"), "as A6");
    EXPECT_EQ(phrase("read"), "read no text");
    EXPECT_EQ(phrase("make"), "one PDF per document");
    choose([](Ticket& ticket) {
        ticket.read.languages = {"eng", "deu", "fra"};
        ticket.from.paper = "own";
        ticket.from.own_paper = SizeMm{100, 85.6};
        ticket.how.ink = Ink::Black;
        ticket.pages = {true, false, false, 0.15};
    });
    EXPECT_EQ(phrase("read"), "read English, German and French");
    EXPECT_EQ(phrase("make"), "one searchable PDF per document");
    EXPECT_EQ(phrase("area"), "100 × 85.6 mm");
    EXPECT_EQ(phrase("ink"), "black and white");
    EXPECT_EQ(phrase("pages"), "straighten");
    choose([](Ticket& ticket) {
        ticket.from = {};
        ticket.pages = {false, false, false, 0.15};
        ticket.make = {Format::Tiff, Per::Page, 85};
    });
    EXPECT_EQ(phrase("area"), "each item on it");
    EXPECT_EQ(phrase("pages"), "change nothing");
    EXPECT_EQ(phrase("make"), "one TIFF per page");
    EXPECT_EQ(phrase("read"), "read no text") << "a TIFF holds no text";
    choose([](Ticket& ticket) {
        ticket.make.format = Format::Pdf;
        ticket.read.languages = {"auto"};
    });
    EXPECT_EQ(phrase("read"), "read and detect the language");
    desk_->glass.set_frames({Frame::upright({10, 10, 60, 40})});
    EXPECT_EQ(phrase("area"), "1 frame");
}

TEST_F(DeskTest, ASecondYelvinReportsWhyItAddsNothing) {
    scan_page("till-receipt", true);
    const Tray before = desk_->tray.tray();
    const QString file = desk_->places.originals + "/till-receipt.svg";
    {
        Desk second(desk_->places);
        second.scanners.use_bench();
        QStringList said;
        QObject::connect(&second.messages, &Messages::trouble, [&](const QString& sentence) { said.append(sentence); });
        ASSERT_TRUE(wait([&] { return said.size() == 1; })) << "at the start";
        second.run.start();
        ASSERT_TRUE(wait([&] { return said.size() == 2; })) << "when it shall scan";
        second.files.add({file});
        ASSERT_TRUE(wait([&] { return said.size() == 3; })) << "when it shall take in a file";
        for (const QString& sentence : said) EXPECT_TRUE(sentence.contains("another Yelvin")) << qPrintable(sentence);
        EXPECT_FALSE(second.run.passing());
        EXPECT_EQ(second.tray.tray().page_count(), 0U);
    }
    EXPECT_EQ(desk_->tray.tray(), before);
    scan_page("membership-card-front", false); // the first goes on as before
}

TEST_F(DeskTest, DamagedLastChoicesAreNotChangedAndTheDefaultTicketIsUsed) {
    const TempFolder other;
    std::filesystem::create_directories(other / "settings");
    for (const char* damaged :
         {"{ not json", "[]", R"({"ticket": {"how": {"dpi": -3}}})", R"({"frames": [[1], "x"]})",
          R"({"scanner": 5, "tray": 7, "learnt": [], "ticket_file": {}})", R"({"tray": "../../elsewhere"})"}) {
        write_file(other / "settings/last.json", damaged);
        const Desk fresh(demo::places(QString::fromStdString(other.path().string())));
        EXPECT_EQ(fresh.tickets.ticket().how.dpi, 300) << damaged;
        EXPECT_TRUE(fresh.glass.frames().empty()) << damaged;
        EXPECT_EQ(fresh.tray.store_folder(), other / "tray") << damaged;
    }
}

// ---- arrivals while something is under way

TEST_F(DeskTest, ABlankLimitSetDuringCheckingAppliesToTheLastSheets) {
    BenchSetup bench;
    bench.stack = {{{original("till-receipt")}, {}}, {{}, {}}};
    desk_->scanners.set_bench(bench);
    choose([](Ticket& ticket) { ticket.from.source = Source::FeederFront; });
    {
        const Held looking(desk_->pools.pages(), 2, desk_->pools.stop_token());
        desk_->run.start();
        ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 2 && !desk_->run.passing(); }));
        desk_->run.set_blank_limit(0.2);
    }
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 1 && at_rest(); }));
}

TEST_F(DeskTest, StoppingThePreviewBeforeAScanStopsTheScan) {
    BenchSetup bench;
    bench.glass = {{original("till-receipt"), 52, 74, 0}};
    desk_->scanners.set_bench(bench);
    choose([](Ticket& ticket) {
        ticket.how.dpi_auto = true;
        ticket.from.paper = "auto";
    });
    desk_->run.start();
    ASSERT_TRUE(desk_->scanners.in_use() && !desk_->run.passing()) << "it looks first how fine it has to be";
    desk_->run.stop();
    ASSERT_TRUE(wait([&] { return !desk_->scanners.in_use(); }));
    desk_->run.preview();
    ASSERT_TRUE(wait([&] { return !desk_->scanners.in_use() && !desk_->glass.frames().empty(); }));
    EXPECT_FALSE(desk_->run.passing()) << "nobody asked for a scan any more";
    EXPECT_EQ(desk_->tray.tray().page_count(), 0U);
}

TEST_F(DeskTest, APageTurnedDuringCheckingStaysTurned) {
    choose([](Ticket& ticket) { ticket.pages.straighten = true; });
    BenchSetup bench;
    bench.glass = {{original("till-receipt"), 52, 74, 3}};
    desk_->scanners.set_bench(bench);
    std::string id;
    Recipe by_hand;
    {
        const Held looking(desk_->pools.pages(), 2, desk_->pools.stop_token());
        desk_->run.start();
        ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 1 && !desk_->run.passing(); }));
        id = desk_->tray.tray().documents[0]->pages[0]->id;
        desk_->choice.set_current(QString::fromStdString(id));
        desk_->edits.turn(1);
        by_hand = desk_->tray.page(id)->recipe;
    }
    ASSERT_TRUE(wait([&] { return desk_->tray.page(id)->noticed && at_rest(); }));
    EXPECT_TRUE(desk_->tray.page(id)->recipe == by_hand);
}

TEST_F(DeskTest, AFolderThatWillBeCreatedIsNotReportedMissing) {
    const auto missing = (base_ / "later").string();
    choose([&](Ticket& ticket) { ticket.save.folder = missing, ticket.save.make_folder = true; });
    scan_page("till-receipt", true);
    EXPECT_TRUE(troubles_.isEmpty()) << qPrintable(troubles_.join("; "));
    choose([&](Ticket& ticket) { ticket.save.folder = missing, ticket.save.make_folder = false; });
    scan_page("till-receipt", true);
    ASSERT_TRUE(wait([&] { return troubles_.size() == 1; }));
    EXPECT_TRUE(troubles_[0].contains("The pages still come into the tray."));
}

TEST_F(DeskTest, PagesThatCannotBeJoinedStayAndTheJobEnds) {
    scan_page("till-receipt", true);
    scan_page("membership-card-front", false);
    const auto ids = page_ids(desk_->tray.tray());
    std::filesystem::remove(desk_->tray.store_folder() / desk_->tray.page(ids[1])->original.file);
    desk_->choice.choose({ids[0], ids[1]});
    desk_->edits.join(Joined::Beside);
    EXPECT_EQ(desk_->looking.in_work(), 1);
    ASSERT_TRUE(wait([&] { return desk_->looking.in_work() == 0; }));
    EXPECT_EQ(troubles_.size(), 1);
    EXPECT_EQ(page_ids(desk_->tray.tray()), ids);
}

// ---- missing folders

class FolderAway : public DeskTest {
  protected:
    std::filesystem::path away() const { return base_ / "away"; }
    void save_to(const std::filesystem::path& folder) {
        choose([&](Ticket& ticket) {
            ticket.save.folder = folder.string();
            ticket.make.format = Format::Jpeg;
        });
        desk_->saving.save({document(0)});
    }
    QString why_waits() const { return desk_->saving.why_waits(document(0).toStdString()); }
    // Examines the folders again, as happens every two seconds while something waits.
    // An answer may be that of an examination that began before the folder existed, so it is asked for again.
    void look_again() {
        bool there = false, asked = false;
        ASSERT_TRUE(wait([&] {
            if (!std::exchange(asked, true)) {
                desk_->folders.forget(away());
                desk_->folders.ask(away(), [&](const FolderState& state) {
                    there = state.is == FolderState::Is::Good;
                    asked = there;
                });
            }
            return there;
        }));
    }
};

TEST_F(FolderAway, ItsFolderIsCheckedAgainWhenSavingAgain) {
    scan_page("till-receipt", true);
    save_to(away());
    ASSERT_TRUE(wait([&] { return !why_waits().isEmpty(); }));
    troubles_.clear();
    save_to(away());
    ASSERT_TRUE(wait([&] { return !troubles_.isEmpty(); })) << "the press has an answer";
    EXPECT_FALSE(why_waits().isEmpty());
    std::filesystem::create_directory(away());
    save_to(away());
    ASSERT_TRUE(wait([&] { return saved_.size() == 1 && at_rest(); }));
    look_again();
    ASSERT_TRUE(wait([&] { return at_rest(); }));
    EXPECT_EQ(saved_.size(), 1);
}

TEST_F(FolderAway, ADocumentSavedElsewhereStopsWaiting) {
    scan_page("till-receipt", true);
    save_to(away());
    ASSERT_TRUE(wait([&] { return !why_waits().isEmpty(); }));
    {
        const Held saving(desk_->pools.saving(), 1, desk_->pools.stop_token());
        save_to(base_.path());
        EXPECT_TRUE(why_waits().isEmpty());
        std::filesystem::create_directory(away());
        look_again();
        QApplication::processEvents();
    }
    ASSERT_TRUE(wait([&] { return saved_.size() == 1 && at_rest(); }));
    EXPECT_TRUE(std::filesystem::is_empty(away())) << "saved twice";
}

TEST_F(FolderAway, AReadOnlyFolderIsNotWaitedFor) {
    scan_page("till-receipt", true);
    std::filesystem::create_directory(away());
    if (::mount("yelvin", away().c_str(), "tmpfs", MS_RDONLY, "size=1m") != 0)
        GTEST_SKIP() << "this user may not mount a file system of its own";
    save_to(away());
    EXPECT_TRUE(wait([&] { return !troubles_.isEmpty(); }));
    EXPECT_TRUE(why_waits().isEmpty());
    EXPECT_EQ(desk_->saving.documents_under_way(), 0);
    ::umount2(away().c_str(), MNT_DETACH);
}

TEST_F(FolderAway, CancellingAQuestionShowsTheNext) {
    std::vector<std::string> answers;
    const auto ask = [&](const std::string& who) {
        Ticket ticket;
        ticket.save.where = Ticket::Save::Where::Asked;
        desk_->places_used.find(ticket, {}, [&answers, who](const Result<std::filesystem::path>& folder) {
            answers.push_back(who + (folder ? " gets " + folder->string() : " gives up"));
        });
    };
    ask("first");
    ask("second");
    desk_->places_used.give_up();
    desk_->places_used.give(QString::fromStdString(base_.path().string()));
    ASSERT_TRUE(wait([&] { return answers.size() == 2; }));
    EXPECT_EQ(answers, (std::vector<std::string>{"first gives up", "second gets " + base_.path().string()}));
    EXPECT_FALSE(desk_->places_used.asks());
}

}
}
