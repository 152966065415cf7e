// The scanner's lease, saving one document after another, storing the tray and analysing pages, with executors that the
// test controls.
#include "jobs/page_looker.h"
#include "jobs/reader_pool.h"
#include "jobs/save_queue.h"
#include "jobs/scanner_lease.h"
#include "jobs/tray_keeper.h"

#include "core/raster/image_file.h"
#include "core/storage/new_id.h"
#include "core/tray/originals.h"
#include "core/tray/tray_edits.h"
#include "jobs/by_hand.h"
#include "support/support.h"

#include <SQLiteCpp/SQLiteCpp.h>

#include <future>
#include <sstream>

namespace yelvin::test {
namespace {

// ---- the lease

using Lease = ScannerLease;

TEST(ScannerLease, GivesTheScannerToOneUserAtATime) {
    Lease lease;
    EXPECT_TRUE(lease.take(Lease::For::Preview));
    for (const auto what : {Lease::For::Scan, Lease::For::Preview, Lease::For::Strip, Lease::For::Piece})
        EXPECT_FALSE(lease.take(what));
    lease.give_back(Lease::For::Scan); // whoever does not have it gives nothing back
    EXPECT_TRUE(lease.held_for(Lease::For::Preview));
    lease.give_back(Lease::For::Preview);
    EXPECT_TRUE(lease.take(Lease::For::Scan));
}

TEST(ScannerLease, ListingDevicesAndScanningExcludeEachOther) {
    Lease lease;
    EXPECT_TRUE(lease.take(Lease::For::Listing));
    EXPECT_FALSE(lease.take(Lease::For::Scan, Lease::Kind::Real));
    EXPECT_FALSE(lease.take(Lease::For::Listing)) << "one is enough";
    EXPECT_TRUE(lease.take(Lease::For::Scan, Lease::Kind::Simulated)) << "a network that hangs holds nobody up";
    lease.give_back(Lease::For::Listing);
    EXPECT_TRUE(lease.take(Lease::For::Listing)) << "beside the simulated one";
    lease.give_back(Lease::For::Listing);
    lease.give_back(Lease::For::Scan);
    EXPECT_TRUE(lease.take(Lease::For::Piece, Lease::Kind::Real));
    EXPECT_FALSE(lease.take(Lease::For::Listing));
}

TEST(ScannerLease, EachWaitingUserIsCalledOnce) {
    Lease lease;
    ASSERT_TRUE(lease.take(Lease::For::Preview));
    int called = 0;
    lease.when_given_back([&] {
        ++called;
        EXPECT_TRUE(lease.take(Lease::For::Scan));
    });
    lease.give_back(Lease::For::Preview);
    lease.give_back(Lease::For::Scan);
    EXPECT_EQ(called, 1);
    EXPECT_FALSE(lease.somebody_waits());
}

// ---- a store with pages

class Store : public testing::Test {
  protected:
    TempFolder base_;
    ReaderPool readers_;

    // A page of one grey value, without text.
    PagePtr page(int value) const {
        std::filesystem::create_directories(base_ / "tray");
        const Raster raster{cv::Mat(120, 90, CV_8UC1, cv::Scalar(value)), 100, Ink::Grey};
        const auto original = keep_original(base_ / "tray", raster);
        EXPECT_TRUE(original.has_value());
        return std::make_shared<const Page>(Page{new_id(), *original});
    }
    // Changes the tray's database through its own connection, as another program would.
    void change_store(const std::string& sql) const {
        SQLite::Database((base_ / "tray/tray.sqlite").string(), SQLite::OPEN_READWRITE).exec(sql);
    }
    bool is_being_written() const {
        try {
            change_store("BEGIN IMMEDIATE; ROLLBACK");
            return false;
        } catch (const SQLite::Exception&) {
            return true;
        }
    }
    std::unique_ptr<TrayKeeper> open(const Executor& writing, std::vector<Error>* failed = nullptr) const {
        auto keeper = TrayKeeper::open(base_ / "tray", writing, [failed](const Error& error) {
            if (failed) failed->push_back(error);
        });
        EXPECT_TRUE(keeper.has_value());
        return keeper ? std::move(*keeper) : nullptr;
    }
};

TEST_F(Store, OnlyTheLatestTrayIsSavedWithAllItsHistory) {
    ByHand writing;
    Tray first, second;
    TrayHistory history;
    {
        const auto keeper = open(writing.executor());
        first = with_page_added({}, page(10), true);
        second = with_page_added(first, page(20), false);
        history.undo.push_back({first, "scan"});
        keeper->keep(first, &history);
        keeper->keep(second, nullptr);
        EXPECT_EQ(writing.waiting(), 1U) << "the one under way writes the latest";
        writing.run_all();
    }
    const auto keeper = open(at_once);
    const LoadedTray loaded = keeper->load().value();
    EXPECT_EQ(page_ids(loaded.tray), page_ids(second));
    ASSERT_EQ(loaded.history.undo.size(), 1U);
    EXPECT_EQ(page_ids(loaded.history.undo[0].tray), page_ids(first));
}

TEST_F(Store, AReadingIsAvailableAtOnceAndSavedOnDisk) {
    ByHand writing;
    const PagePtr read = page(200);
    TextLayer text;
    text.lines.push_back({});
    {
        const auto keeper = open(writing.executor());
        ASSERT_TRUE(keeper->load());
        keeper->keep_text(read, "eng", text);
        EXPECT_TRUE(keeper->text(*read, "eng").has_value()) << "before it is written";
        EXPECT_FALSE(keeper->text(*read, "deu").has_value());
        Page turned = *read;
        turned.recipe.turn_degrees = 90;
        EXPECT_FALSE(keeper->text(turned, "eng").has_value()) << "developed otherwise it has none";
        writing.run_all();
        EXPECT_TRUE(keeper->text(*read, "eng").has_value());
    }
    const auto again = open(at_once);
    ASSERT_TRUE(again->load());
    EXPECT_TRUE(again->text(*read, "eng").has_value());
}

TextLayer text_of_word(const char* word) {
    TextLayer text;
    text.lines.push_back({{{word, {1, 2, 3, 4}, 90}}, {1, 6}, {4, 6}, 4, 1});
    return text;
}
std::string word_in(const std::optional<TextLayer>& text) {
    return text ? text->lines.at(0).words.at(0).text : "nothing";
}

// A page is read again while the earlier result is being written.
TEST_F(Store, SavingAnOlderReadingDoesNotLoseANewerOne) {
    ByHand writing;
    const PagePtr read = page(200);
    {
        const auto keeper = open(writing.executor());
        ASSERT_TRUE(keeper->load());
        // Makes a write slow.
        change_store("CREATE TRIGGER slow BEFORE INSERT ON readings WHEN NEW.layer LIKE '%older%' BEGIN SELECT "
                     "length(hex(randomblob(30000000))); END");
        keeper->keep_text(read, "eng", text_of_word("older"));
        auto written = std::async(std::launch::async, [&] { writing.run_one(); });
        while (!is_being_written() && written.wait_for(std::chrono::seconds(0)) != std::future_status::ready) {
        }
        keeper->keep_text(read, "eng", text_of_word("newer"));
        written.get();
        EXPECT_EQ(word_in(keeper->text(*read, "eng")), "newer");
        writing.run_all();
    }
    const auto again = open(at_once);
    ASSERT_TRUE(again->load());
    EXPECT_EQ(word_in(again->text(*read, "eng")), "newer");
}

TEST_F(Store, AReadingThatCouldNotBeSavedStaysAvailableUntilTheProgramEnds) {
    std::vector<Error> failed;
    const PagePtr read = page(200);
    const auto keeper = open(at_once, &failed);
    ASSERT_TRUE(keeper->load());
    change_store("CREATE TRIGGER no_room BEFORE INSERT ON readings BEGIN SELECT RAISE(ABORT, 'no room'); END");
    keeper->keep_text(read, "eng", text_of_word("lock"));
    EXPECT_EQ(failed.size(), 1U);
    EXPECT_EQ(word_in(keeper->text(*read, "eng")), "lock");
}

TEST_F(Store, AHistoryThatCouldNotBeSavedIsSavedWithTheNextTray) {
    ByHand writing;
    const Tray first = with_page_added({}, page(10), true), second = with_page_added(first, page(20), false);
    TrayHistory history;
    history.undo.push_back({first, "scan"});
    {
        std::vector<Error> failed;
        const auto keeper = open(writing.executor(), &failed);
        change_store("CREATE TRIGGER no_room BEFORE INSERT ON documents BEGIN SELECT RAISE(ABORT, 'no room'); END");
        keeper->keep(first, &history);
        writing.run_all();
        EXPECT_EQ(failed.size(), 1U);
        EXPECT_FALSE(keeper->is_all_kept());
        change_store("DROP TRIGGER no_room");
        keeper->keep(second, nullptr);
        writing.run_all();
        EXPECT_TRUE(keeper->is_all_kept());
    }
    const LoadedTray loaded = open(at_once)->load().value();
    EXPECT_EQ(page_ids(loaded.tray), page_ids(second));
    ASSERT_EQ(loaded.history.undo.size(), 1U);
    EXPECT_EQ(page_ids(loaded.history.undo[0].tray), page_ids(first));
}

// The tray is edited again while storing fails: the later state is stored, not the one that failed.
TEST_F(Store, ATrayThatCouldNotBeSavedDoesNotReplaceANewerOne) {
    ByHand writing;
    const Tray first = with_page_added({}, page(10), true), second = with_page_added(first, page(20), false);
    TrayHistory of_first, of_second;
    of_first.undo.push_back({{}, "scan"});
    of_second.undo = {{{}, "scan"}, {first, "scan"}};
    {
        std::vector<Error> failed;
        const auto keeper = open(writing.executor(), &failed);
        change_store("CREATE TRIGGER no_room BEFORE INSERT ON documents BEGIN SELECT "
                     "length(hex(randomblob(30000000))); SELECT RAISE(ABORT, 'no room'); END");
        keeper->keep(first, &of_first);
        auto written = std::async(std::launch::async, [&] { writing.run_one(); });
        while (!is_being_written() && written.wait_for(std::chrono::seconds(0)) != std::future_status::ready) {
        }
        keeper->keep(second, &of_second);
        written.get();
        EXPECT_EQ(failed.size(), 1U);
        change_store("DROP TRIGGER no_room");
        writing.run_all();
        EXPECT_TRUE(keeper->is_all_kept());
    }
    const LoadedTray loaded = open(at_once)->load().value();
    EXPECT_EQ(page_ids(loaded.tray), page_ids(second));
    EXPECT_EQ(loaded.history.undo.size(), 2U);
}

TEST_F(Store, OnlyOneProgramAtATimeOpensTheStore) {
    const auto first = open(at_once);
    write_file(base_ / "tray/half.tif.growing", "a page that is being scanned");
    const auto second = TrayKeeper::open(base_ / "tray", at_once, {});
    ASSERT_FALSE(second.has_value());
    EXPECT_EQ(second.error().kind, ErrorKind::Busy);
    EXPECT_NE(second.error().sentence.find("another Yelvin"), std::string::npos);
    EXPECT_TRUE(std::filesystem::exists(base_ / "tray/half.tif.growing")) << "nothing of the first one's is touched";
}

TEST_F(Store, EachDocumentHasItsOwnResultAndAFailureDoesNotDelayTheOthers) {
    ByHand saving;
    std::vector<SaveOutcome> outcomes;
    size_t together = 0;
    SaveQueue::Tell tell;
    tell.outcome = [&](const SaveOutcome& outcome) { outcomes.push_back(outcome); };
    tell.together = [&](const std::vector<SaveOutcome>& all) { together = all.size(); };
    SaveQueue queue(base_ / "tray", readers_, {saving.executor(), at_once}, tell, {});
    std::vector<SaveOrder> orders;
    for (const char* name : {"first", "lost", "third"}) {
        const PagePtr one = page(150);
        SaveOrder order;
        order.document = std::make_shared<const Document>(Document{new_id(), name, {one}, {}, {}});
        order.ticket.make.format = Format::Png;
        order.ticket.read.languages.clear();
        order.folder = base_.path();
        order.pages = {one};
        order.texts = {std::nullopt};
        if (std::string(name) == "lost") std::filesystem::remove(base_ / "tray" / one->original.file);
        orders.push_back(std::move(order));
    }
    queue.add(std::move(orders));
    EXPECT_TRUE(queue.at_work());
    saving.run_all();
    EXPECT_FALSE(queue.at_work());
    ASSERT_EQ(outcomes.size(), 3U);
    EXPECT_TRUE(outcomes[0].files.has_value());
    EXPECT_FALSE(outcomes[1].files.has_value());
    EXPECT_TRUE(outcomes[2].files.has_value());
    EXPECT_EQ(together, 3U);
    EXPECT_TRUE(read_page(base_ / "third.png").has_value());
    EXPECT_FALSE(std::filesystem::exists(base_ / "lost.png"));
}

TEST_F(Store, StoppingEndsTheQueueWithoutAMessage) {
    std::stop_source stop;
    ByHand saving;
    int told = 0;
    SaveQueue::Tell tell;
    tell.outcome = [&](const SaveOutcome&) { ++told; };
    SaveQueue queue(base_ / "tray", readers_, {saving.executor(), at_once}, tell, stop.get_token());
    const auto order = [&](const char* name) {
        Document document{new_id(), name, {page(120)}};
        SaveOrder made{std::make_shared<const Document>(document), {}, base_.path()};
        made.ticket.read.languages.clear();
        made.pages = document.pages;
        made.texts.resize(1);
        return made;
    };
    queue.add({order("First")});
    saving.run_all();
    EXPECT_EQ(told, 1) << "without a stop it works";
    EXPECT_TRUE(std::filesystem::exists(base_ / "First.pdf"));
    queue.add({order("Second")});
    stop.request_stop();
    saving.run_all();
    EXPECT_EQ(told, 1);
    EXPECT_FALSE(std::filesystem::exists(base_ / "Second.pdf"));
}

TEST_F(Store, PagesAreCheckedOnAnotherThreadAndResultsArriveOnThisOne) {
    ByHand looking, here;
    PageLooker looker(base_ / "tray", readers_, {looking.executor(), here.executor()}, {});
    Ticket ticket;
    ticket.pages.turn_upright = ticket.pages.straighten = false;
    std::optional<LookedAt> found;
    int answers = 0;
    const auto take = [&](const Result<LookedAt>& what) {
        found = what ? std::optional(*what) : std::nullopt;
        ++answers;
    };
    looker.look_at(page(255), ticket, PageLooker::Learn::Size, take);
    EXPECT_EQ(here.waiting(), 0U);
    looking.run_all();
    EXPECT_EQ(answers, 0) << "not on the thread that looked";
    here.run_all();
    ASSERT_TRUE(found.has_value());
    EXPECT_TRUE(found->notices.blank(0.15));
    EXPECT_EQ(std::max(found->small.width_px(), found->small.height_px()), thumbnail_side);
    ASSERT_TRUE(found->sample.has_value());
    EXPECT_GT(found->sample->bytes, 0);
    Page gone = *page(255);
    std::filesystem::remove(base_ / "tray" / gone.original.file);
    looker.look_at(std::make_shared<const Page>(gone), ticket, PageLooker::Learn::No, take);
    looking.run_all();
    here.run_all();
    EXPECT_EQ(answers, 2);
    EXPECT_FALSE(found.has_value()) << "nothing is made up for an original that cannot be read";
}

TEST_F(Store, ARegionReadAloneKeepsItsPositionOnThePage) {
    Raster drawn{cv::Mat(1400, 1000, CV_8UC1, cv::Scalar(255)), 200, Ink::Grey};
    cv::putText(drawn.pixels, "Anchor", {80, 160}, cv::FONT_HERSHEY_DUPLEX, 1.5, 0, 2, cv::LINE_AA);
    cv::putText(drawn.pixels, "Mooring", {600, 1100}, cv::FONT_HERSHEY_DUPLEX, 1.5, 0, 2, cv::LINE_AA);
    const cv::Rect box(595, 1060, 220, 55); // of the second word
    std::filesystem::create_directories(base_ / "tray");
    const auto kept = std::make_shared<const Page>(Page{new_id(), keep_original(base_ / "tray", drawn).value()});
    PageLooker looker(base_ / "tray", readers_, {at_once, at_once}, {});
    const TextLayer whole{{}, 1000, 1400};
    const TextLayer part = looker.read_part(kept, whole, box, {"eng"}, {}).value();
    ASSERT_EQ(part.lines.size(), 1U);
    ASSERT_EQ(part.lines[0].words.size(), 1U);
    const Word& word = part.lines[0].words[0];
    EXPECT_EQ(word.text, "Mooring");
    EXPECT_GT((word.box & box).area(), 0.7 * word.box.area()) << word.box;
    EXPECT_NEAR(part.lines[0].baseline_start.y, 1100, 5);
    EXPECT_NEAR(part.lines[0].baseline_start.x, 600, 15);
    EXPECT_EQ(cv::Size(part.width_px, part.height_px), drawn.pixels.size());
}

}
}
