// The folder of a run of `yelvin-batch scan`, which it shares with other runs of the same user.
#include "batch/run_folder.h"
#include "support/support.h"

#include <atomic>
#include <cstdlib>
#include <thread>

namespace yelvin::test {
namespace {

namespace fs = std::filesystem;

TEST(BatchFolder, RunsThatStartAtTheSameMomentKeepTheirFolders) {
    const TempFolder temporary;
    const char* before = std::getenv("TMPDIR"); // NOLINT(concurrency-mt-unsafe): no other thread runs yet
    const std::string kept = before ? before : "";
    setenv("TMPDIR", temporary.path().c_str(), 1); // NOLINT(concurrency-mt-unsafe)
    constexpr int runs = 8, starts = 60;
    std::atomic<int> refused = 0, gone = 0;
    {
        std::vector<std::jthread> threads;
        for (int i = 0; i < runs; ++i)
            threads.emplace_back([&] {
                for (int k = 0; k < starts; ++k) {
                    const auto folder = RunFolder::make();
                    if (!folder)
                        ++refused;
                    else if (!fs::exists(folder->path() / "lock"))
                        ++gone;
                }
            });
    }
    if (before)
        setenv("TMPDIR", kept.c_str(), 1); // NOLINT(concurrency-mt-unsafe)
    else
        unsetenv("TMPDIR"); // NOLINT(concurrency-mt-unsafe)
    EXPECT_EQ(refused, 0);
    EXPECT_EQ(gone, 0) << "another run has deleted them";
    EXPECT_TRUE(fs::is_empty(temporary.path())) << "without originals nothing stays";
}

}
}
