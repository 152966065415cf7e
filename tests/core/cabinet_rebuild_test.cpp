// A cabinet whose file is damaged, and entries that are removed from the file for good.
#include "core/cabinet_given.h"

#include <set>

using namespace yelvin;
using namespace yelvin::test;
using namespace yelvin::test::cabinet_given;
namespace fs = std::filesystem;

// Damage at the start of the file, on the pages that lead to all others: every document whose file exists is recovered.
TEST_F(CabinetTest, ARebuiltCabinetHasEveryDocumentWhoseFileExists) {
    constexpr size_t papers = 3000, page_bytes = 16384;
    const TempFolder files;
    std::vector<NewPaper> all;
    for (size_t i = 0; i < papers; ++i) {
        NewPaper each = paper({}, {{fmt::format("lease number{} of the heron reach", i)}});
        each.file = files / fmt::format("Lease {:05}.pdf", i);
        write_file(each.file, "x");
        each.mark = {1, static_cast<std::int64_t>(i), fmt::format("contents {}", i)};
        all.push_back(std::move(each));
    }
    for (const size_t begin : {size_t{0}, size_t{1000}, size_t{2000}})
        ASSERT_TRUE(cabinet->add(std::span(all).subspan(begin, 1000)));
    while (cabinet->do_upkeep().value()) {
    }
    finder.reset();
    cabinet.reset();
    const fs::path file = folder.path() / "cabinet.sqlite";
    const std::string whole = read_file(file);
    const auto rebuild = [&](size_t from, size_t bytes, size_t most_lost) {
        std::string damaged = whole;
        for (size_t i = from; i < std::min(from + bytes, damaged.size()); ++i) damaged[i] = static_cast<char>(i * 31);
        for (const char* end : {"-wal", "-shm"}) fs::remove(file.string() + end);
        write_file(file, damaged);
        auto opened = Cabinet::open(folder.path());
        ASSERT_TRUE(opened) << opened.error().sentence;
        ASSERT_TRUE(!opened->rebuilt().empty() || opened->rebuild());
        std::set<fs::path> known(opened->lost_files().begin(), opened->lost_files().end());
        EXPECT_LE(known.size(), most_lost) << "damaged from " << from;
        const auto there = opened->all();
        for (const CabinetPaper& each : *there) known.insert(each.file);
        EXPECT_EQ(known.size(), papers) << "damaged from " << from;
        for (const CabinetPaper& each : *there) {
            const auto words = opened->words(each.id);
            const bool lost = words->empty() || words->front().empty();
            EXPECT_TRUE(!lost || each.mark.contents.empty()) << "its file is to be read again: its words are lost";
        }
    };
    rebuild(100, 2000, papers); // what is where
    rebuild(2 * page_bytes, page_bytes, papers);
    rebuild(3 * page_bytes, 4 * page_bytes, papers / 2);
    rebuild(whole.size() / 2, 2 * page_bytes, papers / 4);
}

TEST_F(CabinetTest, ACabinetInUseIsNotRebuilt) {
    add({"Lease"}, {{"the lease of the heron"}});
    const auto other = Cabinet::open(folder.path());
    ASSERT_TRUE(other);
    const auto busy = cabinet->rebuild();
    ASSERT_FALSE(busy);
    EXPECT_EQ(busy.error().kind, ErrorKind::Busy);
    EXPECT_EQ(cabinet->all()->size(), 1U) << "and it is open as before";
    EXPECT_EQ(other->all()->size(), 1U);
}

TEST_F(CabinetTest, ReadingChangesNothing) {
    add({"Lease"}, {{"the lease of the heron"}});
    finder.reset();
    cabinet.reset();
    const fs::path file = folder.path() / "cabinet.sqlite";
    auto reading = Finder::open_to_read(folder.path());
    ASSERT_TRUE(reading) << reading.error().sentence;
    EXPECT_EQ(reading->find("heron", {}, 10, now)->papers, 1);
    reading = fail(ErrorKind::Missing, "");
    std::string bytes = read_file(file);
    for (size_t i = 100; i < bytes.size(); ++i) bytes[i] = static_cast<char>(i * 31);
    write_file(file, bytes);
    const auto damaged = Finder::open_to_read(folder.path());
    ASSERT_FALSE(damaged);
    EXPECT_EQ(damaged.error().kind, ErrorKind::BadInput);
    EXPECT_EQ(read_file(file), bytes);
    EXPECT_EQ(Finder::open_to_read(folder / "absent").error().kind, ErrorKind::Missing);
    EXPECT_FALSE(fs::exists(folder / "absent"));
}

// Removed entries are nowhere in the file after the next maintenance.
TEST_F(CabinetTest, RemovedTextIsErasedFromTheFile) {
    for (int i = 0; i < 40; ++i) add({fmt::format("p{}", i)}, {{fmt::format("a paper number{} about herons", i)}});
    const long long secret = add({"Kittiwake"}, {{"the confidential kittiwakeletter of the board"}});
    ASSERT_TRUE(cabinet->remove_entries({secret}));
    for (int i = 0; i < 1000 && cabinet->do_upkeep().value(); ++i) {
    }
    EXPECT_EQ(find("kittiwakeletter").papers, 0);
    EXPECT_EQ(find("number7").papers, 1);
    EXPECT_EQ(find("numb").papers, 40) << "beginnings of words are found as before";
    finder.reset();
    cabinet.reset();
    for (const char* end : {"", "-wal"}) {
        const std::string bytes = read_file((folder / "cabinet.sqlite").string() + end);
        for (const char* word : {"kittiwakeletter", "Kittiwake", "kittiwake"})
            EXPECT_EQ(bytes.find(word), std::string::npos) << word << end;
    }
}
