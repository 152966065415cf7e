#include "core/naming/file_name.h"
#include "core/naming/taken_names.h"
#include "core/saving/part_file.h"
#include "core/saving/safe_file.h"
#include "core/shown_text.h"

#include "support/support.h"

#include <fcntl.h>
#include <fmt/format.h>
#include <sys/file.h>
#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

#include <csignal>

namespace fs = std::filesystem;
using namespace std::chrono;

namespace yelvin::test {
namespace {

constexpr year_month_day date = year{2026} / 11 / 5;
using Kind = NamePart::Kind;

TEST(FileName, IsMadeOfItsPartsInOrder) {
    EXPECT_EQ(make_name({{Kind::Date, "yyyy-mm-dd"}, {Kind::Words, "Mooring"}, {Kind::Counter, "", 3}}, date, 14),
              "2026-11-05 Mooring 014");
    EXPECT_EQ(make_name({{Kind::Counter, "", 2}, {Kind::Words, "of"}, {Kind::Date, "dd.mm.yy"}}, date, 123),
              "123 of 05.11.26");
    EXPECT_EQ(make_name({{Kind::Words, "Leases of May"}}, date, 1), "Leases of May");
    EXPECT_EQ(make_name({}, date, 1), "Scan");
}

TEST(FileName, LeavesOutInvalidCharacters) {
    EXPECT_EQ(cleaned_name("a/b\\c:d*e?f\"g<h>i|j"), "a b c d e f g h i j");
    EXPECT_EQ(cleaned_name("  ..two   spaces. . "), "two spaces");
    EXPECT_EQ(cleaned_name("line\nbreak\ttab"), "line break tab");
    EXPECT_EQ(cleaned_name("../../etc/passwd"), "etc passwd");
    EXPECT_EQ(cleaned_name("..."), "Scan");
    EXPECT_EQ(cleaned_name("Schleuse Größe 水門"), "Schleuse Größe 水門");
}

// File systems accept 255 bytes (POSIX NAME_MAX, as on ext4), including the extension.
TEST(FileName, LongNamesAreShortenedToKeepTheirNumber) {
    std::string hundred;
    for (int i = 0; i < 100; ++i) hundred += "水"; // 3 bytes each
    const std::vector<NamePart> counted{{Kind::Date, "yyyy-mm-dd"}, {Kind::Words, hundred}, {Kind::Counter, "", 3}};
    const std::string first = make_name(counted, date, 1), second = make_name(counted, date, 2);
    EXPECT_TRUE(first.starts_with("2026-11-05 水水") && first.ends_with("水 001")) << first;
    EXPECT_TRUE(second.ends_with("水 002"));
    EXPECT_LE(first.size() + 5, 255U);
    EXPECT_GT(first.size() + 5, 245U) << "no shorter than it has to be";
    EXPECT_EQ((first.size() - 10 - 5) % 3, 0U) << "cut between characters";
    const std::string again = numbered_name(hundred, 11);
    EXPECT_TRUE(again.ends_with("水 (12)")) << again;
    EXPECT_LE(again.size() + 5, 255U);
    // A combining accent stays with its letter, and a joined emoji stays whole.
    std::string accents, families;
    for (int i = 0; i < 200; ++i) accents += "e\u0301";
    for (int i = 0; i < 60; ++i) families += "\U0001F468\u200D\U0001F467";
    EXPECT_EQ(cleaned_name(accents, 100), accents.substr(0, 99));
    EXPECT_EQ(cleaned_name(families, 30), families.substr(0, 22));

    // Saving again and again finds the next number each time.
    const TempFolder folder;
    for (int i = 1; i <= 3; ++i) {
        const int number = next_number(counted, date, folder.path());
        EXPECT_EQ(number, i);
        write_file(folder / (make_name(counted, date, number) + ".jpeg"), "x");
    }
}

TEST(FileName, ContinuesTheNumbersOfTheFolder) {
    const TempFolder folder;
    const std::vector<NamePart> parts{{Kind::Words, "Lease"}, {Kind::Counter, "", 3}};
    EXPECT_EQ(next_number(parts, date, folder.path()), 1);
    write_file(folder / "Lease 001.pdf", "x");
    write_file(folder / "Lease 007.jpg", "x");
    EXPECT_EQ(next_number(parts, date, folder.path()), 8) << "one past the highest, whatever the format";
    EXPECT_EQ(next_number(parts, date, folder / "absent"), 1);
    EXPECT_EQ(numbered_name(parts, date, 8, 2), "Lease 010");
    const std::vector<NamePart> plain{{Kind::Words, "Map"}};
    EXPECT_EQ(numbered_name(plain, date, 1, 0), "Map");
    EXPECT_EQ(numbered_name(plain, date, 1, 2), "Map (3)");
    EXPECT_EQ(numbered_name("Map: old", 1), "Map old (2)");
}

TEST(FileName, TheNextNumberIsOneAboveTheHighest) {
    const TempFolder folder;
    const std::vector<NamePart> parts{{Kind::Words, "Lease"}, {Kind::Counter, "", 3}};
    for (int i = 301; i <= 320; ++i) write_file(folder / fmt::format("Lease {}.pdf", i), "x");
    EXPECT_EQ(next_number(parts, date, folder.path()), 321);
    write_file(folder / "Lease 20000.pdf", "x");
    EXPECT_EQ(next_number(parts, date, folder.path()), 20001);
    // Names that these parts do not make: another word, too few digits, more digits than a counter has, a sign, a
    // letter.
    for (const char* other : {"Letter 90001.pdf", "Lease 9.pdf", "Lease 99999999999.pdf", "Lease -90001.pdf",
                              "Lease 90001a.pdf", "Lease 90001 (2).pdf", "Lease.pdf"})
        write_file(folder / other, "x");
    EXPECT_EQ(next_number(parts, date, folder.path()), 20001);
    // The year in the name is not taken for the counter.
    const std::vector<NamePart> dated{{Kind::Date, "yyyy"}, {Kind::Counter, "", 1}, {Kind::Words, "of"}};
    write_file(folder / "2026 7 of.pdf", "x");
    EXPECT_EQ(next_number(dated, date, folder.path()), 8);
}

TEST(FileName, ManyFilesOfOneSaveListTheFolderOnce) {
    const TempFolder folder;
    const std::vector<NamePart> counted{{Kind::Words, "Lease"}, {Kind::Counter, "", 3}}, plain{{Kind::Words, "Map"}};
    write_file(folder / "Lease 041.pdf", "x");
    write_file(folder / "Map.jpg", "x");
    write_file(folder / "Map (2).jpg", "x");
    TakenNames names(date);
    EXPECT_EQ(names.next_number(folder.path(), counted), 42);
    for (int i = 0; i < 500; ++i) {
        EXPECT_EQ(names.candidates(folder.path(), counted, ".jpg")(0), fmt::format("Lease {:03}.jpg", 42 + i));
        EXPECT_EQ(names.candidates(folder.path(), plain, ".jpg")(0), fmt::format("Map ({}).jpg", 3 + i));
    }
    EXPECT_EQ(names.candidates(folder.path(), plain, ".png")(0), "Map.png") << "each extension counts by itself";
    // Another program took the name meanwhile: the next name is used, and the one after it for the next file.
    const auto next = names.candidates(folder.path(), counted, ".jpg");
    EXPECT_EQ(next(0), "Lease 542.jpg");
    EXPECT_EQ(next(1), "Lease 543.jpg");
    EXPECT_EQ(names.candidates(folder.path(), counted, ".jpg")(0), "Lease 544.jpg");
}

TEST(PartFile, OnlyFilesOfEndedProcessesAreAbandoned) {
    const TempFolder folder;
    const auto of_child = [&] { // written by a process that is gone
        int names[2];
        EXPECT_EQ(pipe(names), 0);
        const pid_t child = fork();
        if (child == 0) {
            const std::string name = new_part_name();
            (void)!write(names[1], name.data(), name.size());
            _exit(0);
        }
        siginfo_t ended{};
        EXPECT_EQ(waitid(P_PID, static_cast<id_t>(child), &ended, WEXITED | WNOWAIT), 0);
        std::string name(200, '\0');
        name.resize(static_cast<size_t>(read(names[0], name.data(), name.size())));
        write_file(folder / name, "half");
        EXPECT_TRUE(is_abandoned(folder / name)) << "it has ended, although nobody has waited for it";
        waitpid(child, nullptr, 0);
        close(names[0]);
        close(names[1]);
        return name;
    }();
    const std::string own = new_part_name(), others = ".yelvin-0badcafe" + of_child.substr(of_child.find('-', 9));
    for (const std::string& name :
         {own, of_child, others, std::string(".yelvin-0123456789abcdef.part"), std::string(".yelvin-.part")}) {
        write_file(folder / name, "half");
        EXPECT_TRUE(is_part_name(name) || name == ".yelvin-.part") << name;
    }
    remove_left_behind(folder.path());
    EXPECT_FALSE(fs::exists(folder / of_child)) << "of a process of this computer that has ended";
    for (const std::string& stays : {own, others, std::string(".yelvin-0123456789abcdef.part")})
        EXPECT_TRUE(fs::exists(folder / stays)) << stays;
    // Partial files that nobody has changed for a week are abandoned, except those of this process.
    for (const std::string& name : {own, others, std::string(".yelvin-0123456789abcdef.part")})
        fs::last_write_time(folder / name, fs::file_time_type::clock::now() - hours(24 * 8));
    const int locked = open((folder / others).c_str(), O_RDONLY);
    ASSERT_EQ(flock(locked, LOCK_EX), 0);
    remove_left_behind(folder.path());
    EXPECT_TRUE(fs::exists(folder / own) && fs::exists(folder / others)) << "written by us; locked";
    EXPECT_FALSE(fs::exists(folder / ".yelvin-0123456789abcdef.part"));
    close(locked);
    remove_left_behind(folder.path());
    EXPECT_FALSE(fs::exists(folder / others));
}

// link(2), under BUGS: on NFS the link may exist although the call reports that the name was taken.
TEST(SafeFile, ARepeatedRequestForANameDoesNotTakeIt) {
    const TempFolder folder;
    write_file(folder / "growing", "contents");
    fs::create_hard_link(folder / "growing", folder / "Lease.pdf");
    EXPECT_EQ(disk().rename_to_new(folder / "growing", folder / "Lease.pdf"), 0);
    EXPECT_EQ(folder.files(), std::vector<std::string>{"Lease.pdf"});
    write_file(folder / "growing", "other contents");
    EXPECT_EQ(disk().rename_to_new(folder / "growing", folder / "Lease.pdf"), EEXIST);
    EXPECT_EQ(read_file(folder / "Lease.pdf"), "contents");
}

Result<void> writes(const fs::path& file) { return write_bytes(file, "contents"); }

TEST(SafeFile, NeverReplacesAnExistingFile) {
    const TempFolder folder;
    write_file(folder / "a.pdf", "first");
    const auto name = [](int attempt) { return std::string(attempt == 0 ? "a" : attempt == 1 ? "b" : "c") + ".pdf"; };
    const auto second = save_file(folder.path(), name, writes);
    ASSERT_TRUE(second) << second.error().sentence;
    EXPECT_EQ(second->path, folder / "b.pdf");
    EXPECT_EQ(second->bytes, 8U);
    EXPECT_EQ(save_file(folder.path(), name, writes)->path, folder / "c.pdf");
    EXPECT_EQ(read_file(folder / "a.pdf"), "first");
    EXPECT_EQ(folder.files(), (std::vector<std::string>{"a.pdf", "b.pdf", "c.pdf"})) << "no temporary file is left";
}

// Control characters of ECMA-48 (C0 and C1), and Unicode's direction marks (UAX #9, 2).
TEST(ShownText, HasNoControlOrBidiCharacters) {
    const std::string other = "\uFFFD";
    EXPECT_EQ(shown_text("Ä lease\n\tin two lines"), "Ä lease\n\tin two lines");
    for (const char* steers : {"\x1b", "\x07", "\x7f", "\u0080", "\u009b", "\u200e", "\u200f", "\u061c", "\u202a",
                               "\u202e", "\u2066", "\u2067", "\u2068", "\u2069", "\u2028", "\u2029", "\xff"})
        EXPECT_EQ(shown_text(std::string("a") + steers + "b"), "a" + other + "b") << steers;
    for (const char* letters : {"\u00a0", "\u200b", "\u2065", "\u206a", "\u202f", "שלום"})
        EXPECT_EQ(shown_text(letters), letters);
}

TEST(SafeFile, LeavesTheFolderUnchangedWhenWritingFails) {
    const TempFolder folder;
    const auto failed = save_file(
        folder.path(), [](int) { return std::string("a.pdf"); },
        [](const fs::path& growing) -> Result<void> {
            write_file(growing, "half");
            return fail(ErrorKind::Internal, "No.");
        });
    ASSERT_FALSE(failed);
    EXPECT_TRUE(folder.files().empty());
}

TEST(SafeFile, ReportsAnUnusableFolderBeforeAnyWork) {
    const TempFolder folder;
    write_file(folder / "file", "x");
    bool worked = false;
    const auto work = [&](const fs::path&) -> Result<void> {
        worked = true;
        return {};
    };
    for (const fs::path& place : {folder / "absent", folder / "file"}) {
        const auto failed = save_file(
            place, [](int) { return std::string("a"); }, work);
        ASSERT_FALSE(failed);
        EXPECT_EQ(failed.error().kind, ErrorKind::Missing);
        EXPECT_NE(failed.error().sentence.find(place.string()), std::string::npos);
    }
    EXPECT_FALSE(worked);
    EXPECT_EQ(check_folder(folder.path(), std::uint64_t{1} << 62).error().kind, ErrorKind::DiskFull)
        << "too little room is said beforehand";
}

// As an ordinary user, because root is allowed everything.
TEST(SafeFile, ReportsAReadOnlyFolder) {
    const TempFolder folder;
    fs::permissions(folder.path(), fs::perms::owner_read | fs::perms::owner_exec | fs::perms::others_read |
                                       fs::perms::others_exec | fs::perms::group_exec);
    const pid_t child = fork();
    if (child == 0) {
        if (geteuid() == 0 && (setgid(65534) != 0 || setuid(65534) != 0)) _exit(3);
        const auto failed = save_file(
            folder.path(), [](int) { return std::string("a"); }, writes);
        _exit(!failed && failed.error().kind == ErrorKind::NotWritable &&
                      failed.error().sentence.find("You do not have permission to write") != std::string::npos
                  ? 0
                  : 1);
    }
    int status = 0;
    waitpid(child, &status, 0);
    EXPECT_EQ(WEXITSTATUS(status), 0);
}

// /dev/full is a disk without room.
TEST(SafeFile, ReportsAFullDisk) {
    const auto failed = write_bytes("/dev/full", std::string(100000, 'x'));
    ASSERT_FALSE(failed);
    EXPECT_EQ(failed.error().kind, ErrorKind::DiskFull);
    EXPECT_NE(failed.error().sentence.find("full"), std::string::npos);
}

// A child process saves again and again until it is killed: complete files and at most one hidden partial file are
// left, never a partial file with a final name.
TEST(SafeFile, LeavesOnlyCompleteFilesWhenKilled) {
    const std::string contents(300000, 'y');
    for (int round = 0; round < 8; ++round) {
        const TempFolder folder;
        int ends[2];
        ASSERT_EQ(pipe(ends), 0);
        const pid_t child = fork();
        if (child == 0) {
            for (int n = 0;; ++n) {
                const auto saved = save_file(
                    folder.path(), [n](int) { return "page " + std::to_string(n) + ".tif"; },
                    [&](const fs::path& growing) { return write_bytes(growing, contents); });
                if (!saved || write(ends[1], "s", 1) != 1) _exit(1);
            }
        }
        close(ends[1]);
        char byte = 0;
        for (int i = 0; i <= round; ++i) ASSERT_EQ(read(ends[0], &byte, 1), 1);
        kill(child, SIGKILL);
        waitpid(child, nullptr, 0);
        close(ends[0]);
        int whole = 0;
        for (const std::string& name : folder.files()) {
            if (name.starts_with(".yelvin-")) continue;
            EXPECT_EQ(fs::file_size(folder / name), contents.size()) << name;
            ++whole;
        }
        EXPECT_GT(whole, round);
    }
}

TEST(Folder, ExpandsTheHomeFolder) {
    EXPECT_EQ(expanded_folder("/srv/papers"), "/srv/papers");
    EXPECT_EQ(expanded_folder("~/Leases"), fs::path(std::getenv("HOME")) / "Leases");
    EXPECT_EQ(expanded_folder("~").lexically_normal(), (fs::path(std::getenv("HOME")) / "").lexically_normal());
}

}
}
