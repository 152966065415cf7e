// The order in which pages are read, with executors that the test controls and an OCR stand-in that records its
// requests.
#include "jobs/by_hand.h"
#include "jobs/reading_queue.h"

#include <gtest/gtest.h>

namespace yelvin::test {
namespace {

using Ids = std::vector<std::string>;

class ReadingQueueTest : public testing::Test {
  protected:
    ByHand reading_, here_;
    Ids begun_, done_;
    std::function<Result<TextLayer>(const PagePtr&, const std::stop_token&, const ReadingQueue::Progress&)> reads_;
    std::stop_source stop_;

    ReadingQueue queue(int at_once) {
        ReadingQueue::Tell tell;
        tell.done = [this](const PagePtr& page, const std::vector<std::string>& languages,
                           const Result<TextLayer>& text) {
            done_.push_back(page->id + (text ? "" : " failed") + (languages == Ids{"eng"} ? "" : " otherwise"));
        };
        const auto read = [this](const PagePtr& page, const std::vector<std::string>&, const std::stop_token& stop,
                                 const ReadingQueue::Progress& progress) -> Result<TextLayer> {
            begun_.push_back(page->id);
            if (reads_) return reads_(page, stop, progress);
            if (stop.stop_requested()) return stopped();
            return TextLayer{{}, 10, 10};
        };
        return {read, {reading_.executor(), here_.executor()}, at_once, std::move(tell), stop_.get_token()};
    }
    static PagePtr page(const std::string& id, int turn = 0) {
        Page page{id};
        page.recipe.turn_degrees = turn;
        return std::make_shared<const Page>(page);
    }
    static std::vector<ReadingQueue::Wanted> wanted(const std::vector<PagePtr>& pages, const std::string& language) {
        std::vector<ReadingQueue::Wanted> out;
        for (const PagePtr& page : pages) out.push_back({page, {language}});
        return out;
    }
    void run_out() {
        while (reading_.waiting() > 0 || here_.waiting() > 0) {
            reading_.run_all();
            here_.run_all();
        }
    }
};

TEST_F(ReadingQueueTest, ThePageInViewIsReadFirstAndEachPageOnce) {
    ReadingQueue queue = this->queue(1);
    queue.look_at("c");
    queue.want(wanted({page("a"), page("b"), page("c"), page("d")}, "eng"));
    EXPECT_EQ(queue.left(), 4U);
    EXPECT_EQ(queue.percent_of("b"), 0);
    EXPECT_FALSE(queue.percent_of("x"));
    reading_.run_one();
    queue.look_at("d");
    here_.run_all();
    run_out();
    EXPECT_EQ(begun_, (Ids{"c", "d", "a", "b"}));
    EXPECT_EQ(done_, begun_);
    EXPECT_EQ(queue.left(), 0U);
    EXPECT_FALSE(queue.percent_of("a"));
}

TEST_F(ReadingQueueTest, ChangedPagesAreReadAgainAndOthersContinue) {
    ReadingQueue queue = this->queue(2);
    queue.want(wanted({page("a"), page("b"), page("c")}, "eng"));
    EXPECT_EQ(reading_.waiting(), 2U);
    queue.want(wanted({page("a"), page("b", 90), page("c")}, "eng")); // while both are under way
    run_out();
    EXPECT_EQ(done_, (Ids{"a", "b", "c"})) << "b as it lies now, and none twice";
    queue.want(wanted({page("d")}, "eng"));
    queue.want(wanted({page("d")}, "deu"));
    run_out();
    EXPECT_EQ(done_.back(), "d otherwise");
    EXPECT_EQ(done_.size(), 4U) << "in the other languages alone";
    queue.want(wanted({page("e")}, "eng"));
    queue.want(wanted({}, "eng")); // it was removed
    run_out();
    EXPECT_EQ(done_.size(), 4U);
}

TEST_F(ReadingQueueTest, StopsAndContinues) {
    ReadingQueue queue = this->queue(1);
    queue.want(wanted({page("a"), page("b")}, "eng"));
    queue.stop();
    run_out();
    EXPECT_TRUE(done_.empty());
    EXPECT_EQ(queue.left(), 2U) << "what was under way waits again";
    queue.want(wanted({page("a"), page("b"), page("c")}, "eng"));
    run_out();
    EXPECT_TRUE(done_.empty()) << "more pages do not set it going";
    queue.go_on();
    run_out();
    EXPECT_EQ(done_, (Ids{"a", "b", "c"}));
}

TEST_F(ReadingQueueTest, ContinuesInTheSameOrderAfterAStop) {
    ReadingQueue queue = this->queue(2);
    queue.want(wanted({page("a"), page("b"), page("c")}, "eng"));
    queue.stop();
    run_out();
    begun_.clear();
    queue.go_on();
    run_out();
    EXPECT_EQ(begun_, (Ids{"a", "b", "c"}));
}

TEST_F(ReadingQueueTest, SavingAPageTakesOverItsReading) {
    ReadingQueue queue = this->queue(1);
    queue.want(wanted({page("a"), page("b"), page("c")}, "eng"));
    const auto coming = queue.hand_over("a");
    ASSERT_TRUE(coming);
    EXPECT_FALSE(queue.hand_over("b"));
    run_out();
    ASSERT_EQ(coming->wait_for(std::chrono::seconds(0)), std::future_status::ready);
    EXPECT_TRUE(coming->get().has_value());
    EXPECT_EQ(done_, (Ids{"a", "c"})) << "b is the other one's to read";
    queue.want(wanted({page("d")}, "eng"));
    const auto given_up = queue.hand_over("d");
    queue.stop();
    run_out();
    ASSERT_EQ(given_up->wait_for(std::chrono::seconds(0)), std::future_status::ready) << "nobody waits for ever";
    EXPECT_FALSE(given_up->get().has_value());
}

TEST_F(ReadingQueueTest, ReportsFailuresAndProgressAndStopsAtTheEnd) {
    reads_ = [](const PagePtr& page, const std::stop_token&,
                const ReadingQueue::Progress& progress) -> Result<TextLayer> {
        progress(40);
        if (page->id == "a") throw std::bad_alloc();
        return fail(ErrorKind::Missing, "no data");
    };
    ReadingQueue queue = this->queue(1);
    queue.want(wanted({page("a"), page("b"), page("c")}, "eng"));
    reading_.run_one();
    here_.run_one();
    EXPECT_EQ(queue.percent_of("a"), 40);
    here_.run_all();
    EXPECT_EQ(done_, (Ids{"a failed"}));
    stop_.request_stop();
    run_out();
    EXPECT_EQ(done_, (Ids{"a failed"})) << "the end is told to nobody";
    EXPECT_EQ(begun_, (Ids{"a"}));
}

}
}
