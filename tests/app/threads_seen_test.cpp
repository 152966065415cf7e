// The thread sanitizer works in our builds: it reports data that two of our threads access without a lock, and nothing
// that is handed over or locked.
#include "app/models/threads/pools.h"

#include <QCoreApplication>
#include <gtest/gtest.h>

#include <atomic>
#include <mutex>

namespace yelvin::test {
namespace {

constexpr int told_of_a_race = 66; // the sanitizer's own exit status

enum class How { Unlocked, Locked, HandedOn };

// Accessed on two background threads and on the main thread.
[[noreturn]] void touch(How how) {
    int touched = 0;
    std::mutex mutex;
    std::atomic<int> done = 0;
    QObject here;
    Pools pools;
    const auto add = [&] {
        const auto lock = how == How::Locked ? std::unique_lock(mutex) : std::unique_lock<std::mutex>();
        ++touched;
    };
    const Executor pages = pools.pages(), reading = pools.reading(), window = on_thread_of(&here);
    const auto last = [&] {
        add();
        done.fetch_add(1, std::memory_order_relaxed);
    };
    if (how == How::HandedOn) {
        pages([&] {
            add();
            reading([&] {
                add();
                window(last);
            });
        });
    } else {
        pages(add);
        reading(add);
        window(last);
    }
    while (done.load(std::memory_order_relaxed) == 0) QCoreApplication::processEvents(QEventLoop::WaitForMoreEvents);
    pools.stop();
    std::exit(touched == 3 ? 0 : 1);
}

TEST(ThreadsSeenDeathTest, UnlockedAccessByTwoThreadsIsReported) {
    GTEST_FLAG_SET(death_test_style, "threadsafe");
    EXPECT_EXIT(touch(How::Unlocked), testing::ExitedWithCode(told_of_a_race), "data race");
    EXPECT_EXIT(touch(How::Locked), testing::ExitedWithCode(0), "");
    EXPECT_EXIT(touch(How::HandedOn), testing::ExitedWithCode(0), "");
}

}
}
