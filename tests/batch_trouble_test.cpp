// yelvin-batch when something is wrong: nothing that was scanned is lost, and its messages are true and safe to follow.
#include "core/raster/image_file.h"
#include "support/batch.h"

#include <fmt/format.h>

namespace fs = std::filesystem;

namespace yelvin::test {
namespace {

Ran shell(const std::string& command) { return run({"bash", "-c", command}); }

class BatchTrouble : public ::testing::Test {
  protected:
    const TempFolder folder_, out_, temporary_;

    std::string out() const { return out_.path().string(); }
    std::string scan(const std::string& more) const {
        return fmt::format(
            "TMPDIR={} {} scan --device simulated --in-feeder {} --in-feeder {} --set from.source=feeder-front "
            "--set how.dpi=150 {}",
            temporary_.path().string(), YELVIN_BATCH, original("lease-1").string(), original("lease-2").string(), more);
    }
    std::string picture(const std::string& name, int height = 300) const {
        write_file(folder_ / name, *encode_png({cv::Mat(height, 400, CV_8UC1, cv::Scalar(250)), 150, Ink::Grey}));
        return (folder_ / name).string();
    }
    static mode_t mode_of(const fs::path& file) { return static_cast<mode_t>(fs::status(file).permissions()); }
};

// Files are limited to 4 MB. The pictures of 6 MB each cannot be written; the compressed originals are smaller.
TEST_F(BatchTrouble, UnsavedScansAreKeptAndTheCommandToSaveThemIsPrinted) {
    const Ran ran =
        shell("umask 0; ulimit -f 4000; " + scan("--set make.format=bmp --set read.languages=[] --out " + out()));
    EXPECT_EQ(ran.status, 1);
    EXPECT_TRUE(out_.files().empty());
    ASSERT_EQ(temporary_.files().size(), 1U) << ran.err;
    const fs::path kept = temporary_ / temporary_.files().front();
    EXPECT_EQ(mode_of(kept), 0700U) << "whatever the umask";
    for (const char* page : {"page-001.tif", "page-002.tif"}) {
        ASSERT_TRUE(fs::exists(kept / page)) << ran.err;
        EXPECT_EQ(mode_of(kept / page), 0600U);
    }
    const std::vector<std::string> said = lines(ran.err);
    ASSERT_EQ(said.size(), 2U) << ran.err;
    const size_t command = said[1].find(" with: ");
    ASSERT_NE(command, std::string::npos) << said[1];
    EXPECT_NE(said[1].find(kept.string()), std::string::npos) << said[1];
    // A later scan reports them and does not touch them.
    const Ran later = shell(scan("--set read.languages=[] --out " + out()));
    EXPECT_EQ(later.status, 0) << later.err;
    EXPECT_NE(later.err.find("2 pages in " + kept.string()), std::string::npos) << later.err;
    const size_t files = out_.files().size();
    const Ran made = shell("umask 0; PATH=" + fs::path(YELVIN_BATCH).parent_path().string() + ":$PATH; " +
                           said[1].substr(command + 7));
    EXPECT_EQ(made.status, 0) << made.err;
    EXPECT_EQ(out_.files().size(), files + 2) << "a picture each";
    EXPECT_EQ(mode_of(out_ / out_.files().back()), 0666U) << "a document follows the umask";
}

TEST_F(BatchTrouble, ChecksEverythingBeforeTheFirstSheet) {
    const std::string ticket = (folder_ / "ticket.json").string();
    write_file(ticket, R"({"yelvin_ticket": 1, "read": {"languages": []},
                          "make": {"also": [{"format": "png", "folder": "/tmp/elsewhere"}]}})");
    write_file(folder_ / "file", "x");
    write_file(folder_ / "owner", "the owner's\n");
    const std::string none = "--set read.languages=[] ", into = "--out " + out();
    const std::pair<std::string, const char*> wrong[] = {
        {none + "--set make.password=true " + into, "password"},
        {"--set read.languages=xyz " + into, "xyz"},
        {none + "--out " + (folder_ / "file").string(), "is a file, not a folder"},
        {none + "--out " + (folder_ / "file/deeper").string(), "is a file, not a folder"},
        {none + "--out /proc/none", "/proc"},
        {none + R"(--set 'make.also=[{"format":"png","folder":"../out"}]' )" + into, "../out"},
        {"--ticket " + ticket + " " + into, "/tmp/elsewhere"},
        {none + "--password-file " + (folder_ / "absent").string() + " " + into, "absent"}};
    for (const auto& [arguments, said] : wrong) {
        const Ran ran = shell(scan(arguments));
        EXPECT_EQ(ran.status, 1) << arguments;
        EXPECT_EQ(lines(ran.err).size(), 1U) << arguments << "\n" << ran.err;
        EXPECT_NE(ran.err.find(said), std::string::npos) << ran.err;
        EXPECT_TRUE(temporary_.files().empty()) << arguments << ": a sheet moved";
    }
    write_file(folder_ / "open", "Heron\n");
    const Ran good = shell(scan(none + "--set make.password=true --password-file " + (folder_ / "open").string() + " " +
                                into + "/new/deeper"));
    EXPECT_EQ(good.status, 0) << good.err;
    const std::string file = nlohmann::json::parse(lines(good.out).at(0))["path"];
    EXPECT_EQ(run({"qpdf", "--requires-password", file}).status, 0);
    EXPECT_EQ(run({"qpdf", "--password=Heron", "--check", file}).status, 0);
    EXPECT_TRUE(temporary_.files().empty()) << "nothing stays of what was saved";
}

TEST_F(BatchTrouble, TheOutputFolderIsCreatedAndRemovedAgainIfItStaysEmpty) {
    const std::string make = fmt::format("{} make --set read.languages=[] --out {}/a/b ", YELVIN_BATCH, out());
    EXPECT_EQ(shell(make + (folder_ / "absent.png").string()).status, 1);
    EXPECT_TRUE(out_.files().empty());
    EXPECT_EQ(shell(make + "--set make.password=true " + picture("page.png")).status, 1);
    EXPECT_TRUE(out_.files().empty());
    const Ran ran =
        shell("cd " + out() + " && " + YELVIN_BATCH + " make --set read.languages=[] --out c " + picture("page.png"));
    EXPECT_EQ(ran.status, 0) << ran.err;
    EXPECT_TRUE(fs::is_directory(out_ / "c"));
}

TEST_F(BatchTrouble, WaitsForASilentScannerUpToALimit) {
    const Ran ran = shell(scan("--fault silent@2 --wait-for-scanner 1 --set read.languages=[] --out " + out()));
    EXPECT_EQ(ran.status, 1);
    const std::vector<std::string> said = lines(ran.err);
    ASSERT_EQ(said.size(), 2U) << ran.err;
    EXPECT_TRUE(said[0].starts_with("Note: Simulated scanner is sending nothing")) << said[0];
    EXPECT_NE(said[1].find("sent nothing at sheet 2 for too long"), std::string::npos) << said[1];
    EXPECT_EQ(out_.files().size(), 1U) << "the sheet before it is saved";
    EXPECT_TRUE(temporary_.files().empty());
}

// script(1) gives the program a terminal.
TEST_F(BatchTrouble, ProgressIsShownOnTerminalsOnly) {
    std::string make = fmt::format("{} make --set read.languages=[] --out {} ", YELVIN_BATCH, out());
    for (int i = 0; i < 4; ++i) make += picture(fmt::format("p{}.png", i)) + " ";
    const auto at_terminal = [&](const std::string& command) {
        return run({"env", "TERM=xterm", "script", "-qec", command + (folder_ / "absent.png").string(), "/dev/null"});
    };
    const Ran seen = at_terminal(make);
    EXPECT_EQ(seen.status, 1);
    for (const char* words : {"page 1 of 4", "page 4 of 4", " left"})
        EXPECT_NE(seen.out.find(words), std::string::npos) << words << "\n" << seen.out;
    EXPECT_NE(at_terminal("TERM=dumb " + make).out.find("\"pages\":4"), std::string::npos);
    for (const std::string& command : {make + "--quiet ", "TERM=dumb " + make})
        EXPECT_EQ(at_terminal(command).out.find("page 1 of"), std::string::npos) << command;
    const Ran redirected = shell(make);
    EXPECT_EQ(redirected.err, "");
    EXPECT_EQ(redirected.out.find("page 1 of"), std::string::npos);
}

TEST_F(BatchTrouble, FileNamesCannotControlTheTerminal) {
    const std::string bad = "a\x1b[2J\u202Egnp.b\xc2\x9b", name = bad + ".png";
    const auto harmless = [](const std::string& text) {
        for (const char* part : {"\x1b", "\u202E", "\xc2\x9b"})
            if (text.find(part) != std::string::npos) return false;
        return true;
    };
    const Ran absent = batch({"make", "--out", out(), (folder_ / name).string()});
    EXPECT_EQ(absent.status, 1);
    EXPECT_FALSE(absent.err.empty());
    EXPECT_TRUE(harmless(absent.err)) << absent.err;
    const Ran made =
        batch({"make", "--out", out(), "--set", "read.languages=[]", "--set", "save.name=" + bad, picture(name)});
    ASSERT_EQ(made.status, 0) << made.err;
    EXPECT_TRUE(harmless(made.out)) << made.out;
    EXPECT_EQ(out_.files(), std::vector<std::string>{"a [2J gnp.b.pdf"});
    const Ran looked = batch({"inspect", (folder_ / name).string()});
    ASSERT_EQ(looked.status, 0) << looked.err;
    EXPECT_TRUE(harmless(looked.out));
    EXPECT_EQ(nlohmann::json::parse(looked.out)[0]["file"], (folder_ / name).string()) << "the name itself is whole";
}

// Lost content is reported in a sentence and by exit status 1, and the rest is saved.
TEST_F(BatchTrouble, ReportsMissingPartsOfAFile) {
    std::vector<std::string> tiff{"convert"};
    for (int i = 0; i < 11; ++i) tiff.push_back(picture(fmt::format("t{:02}.png", i), 300 + i));
    tiff.insert(tiff.end(), {"-compress", "LZW", (folder_ / "many.tif").string()});
    ASSERT_EQ(run(tiff).status, 0);
    const std::string bytes = read_file(folder_ / "many.tif");
    write_file(folder_ / "cut.tif", bytes.substr(0, bytes.size() * 4 / 10));
    for (const std::vector<std::string>& command :
         {std::vector<std::string>{"make", "--set", "read.languages=[]", "--out", out()}, {"inspect"}, {"read"}}) {
        std::vector<std::string> whole = command, cut = command;
        whole.push_back((folder_ / "many.tif").string());
        cut.push_back((folder_ / "cut.tif").string());
        EXPECT_EQ(batch(whole).status, 0) << command[0];
        const Ran ran = batch(cut);
        EXPECT_EQ(ran.status, 1) << command[0];
        EXPECT_EQ(lines(ran.err).size(), 1U) << ran.err;
        EXPECT_NE(ran.err.find("cut.tif is incomplete: only its first "), std::string::npos) << ran.err;
        EXPECT_TRUE(command[0] == "read" || !ran.out.empty()) << "the pages that are there";
    }
}

}
}
