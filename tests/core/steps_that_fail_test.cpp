// Saving and moving when one step of the file system fails: the error is reported, and nothing partial is left.
#include "core/saving/move_file.h"
#include "core/saving/part_file.h"
#include "core/saving/safe_file.h"
#include "support/support.h"

#include <sys/stat.h>
#include <sys/statvfs.h>
#include <unistd.h>

#include <cerrno>

namespace yelvin::test {
namespace {

namespace fs = std::filesystem;

// The real disk, except for the steps that return an errno.
struct FailingSteps : FileSteps {
    int at_sync = 0, at_naming = 0;
    fs::path kept; // cannot be removed
    int sync(const fs::path& file) override { return at_sync != 0 ? at_sync : FileSteps::sync(file); }
    int rename_to_new(const fs::path& growing, const fs::path& wanted) override {
        return at_naming != 0 && growing == kept ? at_naming : FileSteps::rename_to_new(growing, wanted);
    }
    int remove(const fs::path& file) override { return file == kept ? EACCES : FileSteps::remove(file); }
};

std::string always_a(int attempt) { return attempt == 0 ? "a.pdf" : "a (2).pdf"; }

TEST(StepsThatFail, AFileThatDidNotReachTheDiskIsNotSaved) {
    const TempFolder folder;
    FailingSteps steps;
    steps.at_sync = EIO;
    const auto write = [](const fs::path& growing) { return write_bytes(growing, "pages"); };
    const auto saved = save_file(folder.path(), always_a, write, steps);
    ASSERT_FALSE(saved);
    EXPECT_EQ(saved.error().kind, ErrorKind::NotWritable);
    EXPECT_TRUE(folder.files().empty()) << testing::PrintToString(folder.files());
    write_file(folder / "b.json", "before");
    EXPECT_FALSE(replace_file_with(folder / "b.json", write, steps));
    EXPECT_EQ(read_file(folder / "b.json"), "before");
    EXPECT_EQ(folder.files().size(), 1U);
}

TEST(StepsThatFail, AReadOnlyParentFolderIsNotReportedAsMissing) {
    NewFolders folders;
    const auto made = folders.make("/proc/none/out");
    ASSERT_FALSE(made);
    EXPECT_EQ(made.error().kind, ErrorKind::NotWritable) << made.error().sentence;
    EXPECT_NE(made.error().sentence.find("permission to write to /proc"), std::string::npos) << made.error().sentence;
}

TEST(StepsThatFail, TheTemporaryReplacementOfAPrivateFileIsPrivate) {
    const TempFolder folder;
    const auto mode_of = [](const fs::path& file) {
        struct stat seen {};
        return ::stat(file.c_str(), &seen) == 0 ? seen.st_mode & 07777 : 0U;
    };
    for (const mode_t mode : {mode_t{0600}, mode_t{0644}}) {
        write_file(folder / "b.json", "before");
        ::chmod((folder / "b.json").c_str(), mode);
        unsigned growing_mode = 0;
        ASSERT_TRUE(replace_file_with(folder / "b.json", [&](const fs::path& growing) {
            growing_mode = mode_of(growing);
            return write_bytes(growing, "after");
        }));
        EXPECT_EQ(growing_mode, 0600U);
        EXPECT_EQ(mode_of(folder / "b.json"), mode);
        EXPECT_EQ(read_file(folder / "b.json"), "after");
    }
}

TEST(StepsThatFail, AFileThatCannotLeaveItsFolderLeavesNoCopy) {
    const TempFolder folder;
    fs::create_directory(folder / "there");
    write_file(folder / "a.pdf", "pages");
    FailingSteps steps;
    steps.kept = folder / "a.pdf";
    steps.at_naming = EXDEV; // another disk
    const auto moved = move_file(folder / "a.pdf", folder / "there", always_a, steps);
    ASSERT_FALSE(moved);
    EXPECT_EQ(moved.error().kind, ErrorKind::NotWritable);
    EXPECT_NE(moved.error().sentence.find("a.pdf"), std::string::npos);
    EXPECT_EQ(read_file(folder / "a.pdf"), "pages");
    EXPECT_TRUE(fs::is_empty(folder / "there"));
    steps.kept.clear();
    EXPECT_TRUE(move_file(folder / "a.pdf", folder / "there", always_a, steps)) << "as soon as it can";
}

TEST(StepsThatFail, AFileThatAlsoKeepsItsOldNameIsNotMoved) {
    const TempFolder folder;
    fs::create_directory(folder / "there");
    write_file(folder / "a.pdf", "pages");
    struct KeepsBoth : FileSteps { // as where names may be given in a folder, and none taken away
        int rename_to_new(const fs::path& file, const fs::path& wanted) override {
            return ::link(file.c_str(), wanted.c_str()) == 0 ? 0 : errno;
        }
    } steps;
    const auto moved = move_file(folder / "a.pdf", folder / "there", always_a, steps);
    ASSERT_FALSE(moved);
    EXPECT_NE(moved.error().sentence.find("cannot be moved"), std::string::npos) << moved.error().sentence;
    EXPECT_EQ(read_file(folder / "a.pdf"), "pages");
    EXPECT_TRUE(fs::is_empty(folder / "there"));
}

// Partial files are kept as long as their writer may exist: a process that has the writer's number may be another one.
TEST(StepsThatFail, ATemporaryFileIsAbandonedWhenItsProcessEndedOrAfterAWeekOnAnotherComputer) {
    const TempFolder folder;
    const std::string own = new_part_name();
    write_file(folder / own, "half");
    EXPECT_FALSE(is_abandoned(folder / own));
    const size_t begin = own.find('-', own.find('-', own.find('-') + 1) + 1) + 1; // host, process, then its start
    std::string another = own;
    another.insert(begin, "1");
    write_file(folder / another, "half");
    EXPECT_TRUE(is_abandoned(folder / another)) << "the number was given to another process since";
    std::string elsewhere = own;
    elsewhere[own.find('-') + 1] = own[own.find('-') + 1] == '0' ? '1' : '0';
    write_file(folder / elsewhere, "half");
    for (const auto& [age, is] : {std::pair{std::chrono::hours(24 * 6), false}, {std::chrono::hours(24 * 8), true}}) {
        fs::last_write_time(folder / elsewhere, fs::file_time_type::clock::now() - age);
        EXPECT_EQ(is_abandoned(folder / elsewhere), is) << age.count() << " hours";
    }
}

TEST(StepsThatFail, CreatedFoldersAreRemovedInnermostFirst) {
    const TempFolder folder;
    NewFolders made;
    ASSERT_TRUE(made.make(folder / "a/b/c"));
    made.remove();
    EXPECT_TRUE(folder.files().empty()) << testing::PrintToString(folder.files());
}

TEST(StepsThatFail, FreeSpaceIsCountedInBytes) {
    const TempFolder folder;
    struct statvfs space {};
    ASSERT_EQ(::statvfs(folder.path().c_str(), &space), 0);
    EXPECT_TRUE(check_folder(folder.path(), space.f_bavail + 1)) << "there are more bytes than blocks";
    constexpr std::uint64_t more = 1'000'000'000'000;
    const auto checked = check_folder(folder.path(), space.f_bavail * space.f_frsize + more);
    ASSERT_FALSE(checked);
    EXPECT_EQ(checked.error().kind, ErrorKind::DiskFull);
}

TEST(StepsThatFail, AFileBehindALinkIsReplacedInPlace) {
    const TempFolder folder;
    fs::create_directory(folder / "there");
    write_file(folder / "there/b.json", "before");
    fs::create_symlink("there/b.json", folder / "b.json");
    ASSERT_TRUE(replace_file(folder / "b.json", "after"));
    EXPECT_TRUE(fs::is_symlink(folder / "b.json"));
    EXPECT_EQ(read_file(folder / "there/b.json"), "after");
}

}
}
