// The cabinet from the command line: files are added, found and followed, and it is complete however the program ended.
#include "core/cabinet/finding.h"
#include "core/raster/image_file.h"
#include "support/batch.h"
#include "support/trials.h"

#include <fmt/format.h>

#include <future>

#include <set>

namespace fs = std::filesystem;

namespace yelvin::test {
namespace {

class BatchCabinet : public testing::Test {
  protected:
    TempFolder base;
    fs::path papers = base / "papers";
    std::string cabinet = (base / "cabinet").string();
    void SetUp() override { fs::create_directories(papers / "old"); }
    void fill(const std::string& name, const std::vector<std::string>& lines) {
        write_file(papers / (name + ".pdf"), pdf_with_text(lines));
    }
    std::map<std::string, std::string> take_in(std::vector<std::string> more = {"--as-they-are"}) {
        std::vector<std::string> all{"take-in", papers.string(), "--cabinet", cabinet};
        all.insert(all.end(), more.begin(), more.end());
        const Ran ran = batch(all);
        EXPECT_EQ(ran.status, 0) << ran.err;
        std::map<std::string, std::string> taken;
        for (const std::string& line : lines(ran.out)) {
            const json said = json::parse(line);
            taken[fs::path(said["path"].get<std::string>()).stem()] = said["taken"];
        }
        return taken;
    }
    json find(const std::string& words) {
        const Ran ran = batch({"find", words, "--json", "--cabinet", cabinet});
        EXPECT_EQ(ran.status, 0) << ran.err;
        return json::parse(ran.out);
    }
    std::set<std::string> names(const std::string& words) {
        std::set<std::string> out;
        for (const json& each : find(words)) out.insert(fs::path(each["path"].get<std::string>()).stem());
        return out;
    }
};

using Names = std::set<std::string>;

}

TEST_F(BatchCabinet, AFolderIsAddedSearchedAndFollowed) {
    fill("lease", {"Lease of a mooring", "for the narrowboat Patient Heron"});
    fill("old/bill", {"Two mooring pins, 1,022.16"});
    write_file(papers / "broken.pdf", "%PDF-1.7 and nothing else");
    const Ran first = batch({"take-in", papers.string(), "--cabinet", cabinet, "--as-they-are"});
    EXPECT_EQ(first.status, 1);
    EXPECT_NE(first.err.find("broken.pdf"), std::string::npos) << first.err;
    EXPECT_EQ(lines(first.out).size(), 2U);
    fs::remove(papers / "broken.pdf");
    const json found = find("patient her");
    ASSERT_EQ(found.size(), 1U);
    EXPECT_EQ(found[0]["page"], 1);
    EXPECT_EQ(found[0]["words"], (json{"Patient", "Heron"}));
    EXPECT_NE(found[0]["line"].get<std::string>().find("narrowboat Patient Heron"), std::string::npos);
    EXPECT_GT(found[0]["score"].get<double>(), 0);
    EXPECT_EQ(names("mooring"), (Names{"bill", "lease"}));
    EXPECT_EQ(names("1022.16"), Names{"bill"});
    EXPECT_EQ(names("mooring -pins"), Names{"lease"});
    EXPECT_EQ(names("in:old mooring"), Names{"bill"});
    EXPECT_EQ(take_in(), (std::map<std::string, std::string>{{"bill", "known"}, {"lease", "known"}}));
    fs::rename(papers / "lease.pdf", papers / "old/lease of Heron.pdf");
    fill("old/bill", {"Three tiller pins"});
    EXPECT_EQ(take_in(), (std::map<std::string, std::string>{{"bill", "read again"}, {"lease of Heron", "moved"}}));
    EXPECT_EQ(names("mooring"), Names{"lease of Heron"});
    EXPECT_EQ(names("tiller"), Names{"bill"});
    EXPECT_EQ(batch({"take-in", "--rebuild", "--cabinet", cabinet}).status, 0);
    EXPECT_EQ(names("tiller"), Names{"bill"});
    EXPECT_EQ(batch({"take-in", (base / "nowhere").string(), "--cabinet", cabinet}).status, 1);
    EXPECT_EQ(batch({"find", "--cabinet", cabinet}).status, 2);
}

TEST_F(BatchCabinet, FilesWithoutTextAreReadAndSavedFilesAreAdded) {
    const Raster page = scan("till-receipt", 0, 200, Ink::Grey);
    write_file(papers / "receipt.png", *encode_png(page));
    EXPECT_EQ(take_in()["receipt"], "added");
    EXPECT_EQ(names("lamp oil"), Names{});
    EXPECT_EQ(take_in({"--set", "read.languages=eng"})["receipt"], "read again");
    EXPECT_EQ(names("lamp oil"), Names{"receipt"});
    const Ran made = batch({"make", "--out", base.path().string(), "--cabinet", (base / "other").string(), "--set",
                            "read.languages=eng", "--set", "save.name=made", (papers / "receipt.png").string()});
    ASSERT_EQ(made.status, 0) << made.err;
    cabinet = (base / "other").string();
    const json found = find("cheese scone");
    ASSERT_EQ(found.size(), 1U);
    EXPECT_EQ(found[0]["path"], json::parse(made.out)["path"]);
}

// The program is killed while it adds files, adds them again and rebuilds the index; afterwards every document is there
// once and complete.
TEST_F(BatchCabinet, KillingTheProgramLosesAndDuplicatesNothing) {
    constexpr int files = 10;
    for (int i = 0; i < files; ++i)
        fill(fmt::format("p{}", i), {fmt::format("number{} of the herons", i), "mooring lock windlass"});
    int killed = 0;
    for (int trial = 0; trial < trials(12); ++trial) {
        const int ms = 4 + trial * 37 % 260;
        const bool rebuilds = trial % 3 == 2;
        if (trial % 4 == 0)
            fill("p3", {fmt::format("number3 of the herons, again {}", trial), "mooring lock windlass"});
        std::vector<std::string> command{"timeout", "-s", "KILL", fmt::format("0.{:03}", ms), YELVIN_BATCH, "take-in"};
        if (!rebuilds) command.push_back(papers.string());
        for (const char* each : {"--as-they-are", "--cabinet"}) command.emplace_back(each);
        command.push_back(cabinet);
        if (rebuilds) command.emplace_back("--rebuild");
        killed += run(command).status != 0;
        if (trial % 6 == 5) { // from the beginning
            take_in();
            ASSERT_EQ(find("herons").size(), static_cast<size_t>(files));
            fs::remove_all(cabinet);
        }
    }
    EXPECT_GT(killed, 2);
    take_in();
    for (int i = 0; i < files; ++i) EXPECT_EQ(names(fmt::format("number{} ", i)), Names{fmt::format("p{}", i)});
    EXPECT_EQ(find("mooring windlass ").size(), static_cast<size_t>(files));
    auto opened = Cabinet::open(cabinet);
    ASSERT_TRUE(opened);
    EXPECT_TRUE(opened->rebuilt().empty());
    EXPECT_TRUE(opened->is_whole().value());
    EXPECT_EQ(opened->all()->size(), static_cast<size_t>(files));
}

TEST_F(BatchCabinet, SearchingADamagedCabinetExplainsTheRepairAndChangesNothing) {
    for (int i = 0; i < 5; ++i) fill(fmt::format("p{}", i), {fmt::format("a letter about heron number{}", i)});
    take_in();
    const fs::path file = fs::path(cabinet) / "cabinet.sqlite";
    std::string bytes = read_file(file);
    for (size_t i = 100; i < 6000; ++i) bytes[i] = static_cast<char>(i * 31);
    write_file(file, bytes);
    const Ran found = batch({"find", "heron", "--json", "--cabinet", cabinet});
    EXPECT_EQ(found.status, 1);
    EXPECT_EQ(found.out, "");
    EXPECT_EQ(read_file(file), bytes);
    const size_t command = found.err.find("yelvin-batch take-in --rebuild --cabinet " + cabinet);
    ASSERT_NE(command, std::string::npos) << found.err;
    const Ran repaired = batch({"take-in", "--rebuild", "--as-they-are", "--cabinet", cabinet});
    EXPECT_EQ(repaired.status, 0) << repaired.err;
    EXPECT_EQ(names("heron"), (Names{"p0", "p1", "p2", "p3", "p4"}));
    EXPECT_EQ(batch({"find", "heron", "--cabinet", (base / "absent").string()}).status, 1);
    EXPECT_FALSE(fs::exists(base / "absent"));
}

TEST_F(BatchCabinet, TwoProcessesReportEachDocumentOnce) {
    for (int i = 0; i < 18; ++i) fill(fmt::format("p{:02}", i), {fmt::format("a letter about heron number{}", i)});
    const auto one = [&] { return batch({"take-in", papers.string(), "--as-they-are", "--cabinet", cabinet}); };
    auto other = std::async(std::launch::async, one);
    const Ran first = one(), second = other.get();
    EXPECT_EQ(first.status + second.status, 0) << first.err << second.err;
    int added = 0;
    for (const Ran* ran : {&first, &second})
        for (const std::string& line : lines(ran->out)) added += json::parse(line)["taken"] == "added";
    EXPECT_EQ(added, 18);
}

}
