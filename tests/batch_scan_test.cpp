// yelvin-batch with a scanner: the simulated one and libsane's own.
#include "core/raster/image_file.h"
#include "support/batch.h"

#include <fmt/format.h>

namespace yelvin::test {
namespace {

TEST(Batch, ListsDevices) {
    const Ran plain = batch({"devices"});
    EXPECT_EQ(plain.status, 0);
    EXPECT_NE(plain.out.find("Simulated scanner"), std::string::npos);
    const json list = json::parse(batch({"devices", "--json"}).out);
    ASSERT_TRUE(list.is_array());
    EXPECT_EQ(list[0]["name"], "Simulated scanner");
    EXPECT_EQ(list[0]["state"], "ready");
}

TEST(Batch, ScansFromTheSimulatedGlass) {
    const TempFolder out;
    const Ran ran =
        batch({"scan", "--device", "Bench scanner", "--on-glass", original("lease-1").string() + "@181.5", "--out",
               out.path().string(), "--set", "how.dpi=200", "--set", "from.paper=A4", "--set", "save.name=Lease"});
    ASSERT_EQ(ran.status, 0) << ran.err;
    const json file = json::parse(lines(ran.out).at(0));
    EXPECT_EQ(file["path"], (out / "Lease.pdf").string());
    EXPECT_NE(run({"pdftotext", (out / "Lease.pdf").string(), "-"}).out.find("narrowboat Patient Heron"),
              std::string::npos);
}

TEST(Batch, CropsEachItemOnTheGlass) {
    const TempFolder out;
    const std::string photo = original("photo-top-lock").string() + "@2", receipt = original("till-receipt").string();
    const auto scanned = [&](const std::vector<std::string>& settings) {
        std::vector<std::string> arguments{"scan",       "--device", "Simulated scanner", "--on-glass",
                                           photo,        "--out",    out.path().string(), "--set",
                                           "how.dpi=150"};
        for (const std::string& setting : settings) arguments.insert(arguments.end(), {"--set", setting});
        const Ran ran = batch(arguments);
        EXPECT_EQ(ran.status, 0) << ran.err;
        return lines(ran.out);
    };
    const auto found = scanned({"make.format=auto"});
    ASSERT_EQ(found.size(), 1U);
    const json file = json::parse(found[0]);
    EXPECT_EQ(file["format"], "jpeg") << "a photograph";
    const auto page = read_page(file["path"].get<std::string>());
    ASSERT_TRUE(page);
    EXPECT_NEAR(page->raster.size_mm().width, 150, 0.7); // the drawing's own size
    EXPECT_NEAR(page->raster.size_mm().height, 102, 0.7);
    const auto whole = scanned({"make.format=png", "from.frames=whole"});
    ASSERT_EQ(whole.size(), 1U);
    EXPECT_NEAR(read_page(json::parse(whole[0])["path"].get<std::string>())->raster.size_mm().height, 297, 0.5);

    const Ran wrong = batch({"scan", "--device", "Simulated scanner", "--on-glass", photo, "--out", out.path().string(),
                             "--set", "from.frames=some"});
    EXPECT_EQ(wrong.status, 1);
    EXPECT_NE(wrong.err.find("\"each-item\", \"one-item\", \"drawn\", \"whole\""), std::string::npos) << wrong.err;
}

TEST(Batch, ScansAStackIntoDocuments) {
    const TempFolder out;
    const std::string separators = (out / "separators.pdf").string();
    ASSERT_EQ(batch({"separators", "--out", separators, "Heron"}).status, 0);
    const std::string lease = original("lease-1").string() + "," + original("lease-2").string() + "@1.2";
    const Ran ran = batch({"scan",
                           "--device",
                           "Simulated scanner",
                           "--in-feeder",
                           lease,
                           "--in-feeder",
                           separators,
                           "--in-feeder",
                           original("till-receipt").string() + "@-1.5",
                           "--set",
                           "from.source=feeder-both",
                           "--set",
                           "pages.drop_blank=true",
                           "--set",
                           "pages.split=separator",
                           "--set",
                           "read.languages=[]",
                           "--set",
                           R"(save.name=[{"barcode":true},{"words":"papers"}])",
                           "--set",
                           "how.dpi=150",
                           "--out",
                           out.path().string()});
    ASSERT_EQ(ran.status, 0) << ran.err;
    const auto made = lines(ran.out);
    ASSERT_EQ(made.size(), 2U) << ran.out;
    EXPECT_EQ(nlohmann::json::parse(made[0])["pages"], 2);
    EXPECT_EQ(nlohmann::json::parse(made[1])["pages"], 1);
    EXPECT_EQ(out.files(), (std::vector<std::string>{"Heron papers.pdf", "papers.pdf", "separators.pdf"}));
    const Ran info = run({"pdfinfo", (out / "Heron papers.pdf").string()});
    EXPECT_NE(info.out.find("Page size:       22"), std::string::npos)
        << "an 80 mm receipt, cut to the sheet: " << info.out;
}

TEST(Batch, AFaultIsReportedInOneSentenceAndEarlierPagesAreSaved) {
    for (const auto& [fault, words] : {std::pair{"jam@2", "Paper jam in Simulated scanner at sheet 2"},
                                       {"unplugged@2", "stopped responding at sheet 2"},
                                       {"lid-open@2", "was opened at sheet 2"}}) {
        const TempFolder out;
        const std::string lease = original("lease-1").string();
        const Ran ran = batch({"scan", "--device", "Simulated scanner", "--in-feeder", lease, "--in-feeder", lease,
                               "--fault", fault, "--set", "from.source=feeder-front", "--set", "read.languages=[]",
                               "--set", "how.dpi=75", "--out", out.path().string()});
        EXPECT_EQ(ran.status, 1);
        EXPECT_EQ(lines(ran.err).size(), 1U) << ran.err;
        EXPECT_NE(ran.err.find(words), std::string::npos) << ran.err;
        EXPECT_EQ(out.files().size(), 1U) << "the sheet before it is saved";
    }
    EXPECT_EQ(batch({"scan", "--device", "Simulated scanner", "--fault", "thunder@2", "--out", "/"}).status, 2);
}

TEST(Batch, ScansWithSaneFromATicket) {
    const TempFolder folder, out;
    write_file(folder / "dll.conf", "test\n");
    setenv("SANE_CONFIG_DIR", folder.path().c_str(), 1);
    write_file(folder / "ticket.json", R"({"yelvin_ticket": 1, "from": {"source": "feeder-front", "paper": "Card",
        "more": {"test:0": {"test-picture": "Grid"}}}, "how": {"ink": "grey", "dpi": 75}, "read": {"languages": []},
        "pages": {"turn_upright": false, "straighten": false}, "make": {"format": "tiff"}})");
    const std::vector<std::string> scan{
        "scan", "--device", "test:0", "--ticket", (folder / "ticket.json").string(), "--out", out.path().string()};
    const Ran ran = batch(scan);
    ASSERT_EQ(ran.status, 0) << ran.err;
    EXPECT_EQ(nlohmann::json::parse(lines(ran.out).at(0))["pages"], 10) << "its feeder holds ten";
    const auto page = read_page(out / out.files().front(), 9);
    ASSERT_TRUE(page);
    EXPECT_EQ(page->raster.pixels.at<uchar>(5, 5), 255) << "the grid's first square";
    EXPECT_EQ(page->raster.pixels.at<uchar>(5, 35), 0);
    const Ran devices = batch({"devices", "--json"});
    ASSERT_EQ(devices.status, 0);
    const auto list = nlohmann::json::parse(devices.out);
    const auto found = std::ranges::find_if(list, [](const auto& entry) { return entry["name"] == "test:0"; });
    ASSERT_NE(found, list.end());
    EXPECT_EQ((*found)["sources"], (nlohmann::json{"glass", "feeder-front"}));
    const std::pair<const char*, const char*> faults[] = {
        {"SANE_STATUS_JAMMED", "Paper jam"},
        {"SANE_STATUS_COVER_OPEN", "lid"},
        {"SANE_STATUS_NO_DOCS", "empty"},
        {"SANE_STATUS_ACCESS_DENIED", "You do not have permission to use"}};
    for (const auto& [status, words] : faults) {
        std::vector<std::string> faulty = scan;
        faulty.insert(faulty.end(),
                      {"--set", std::string(R"(from.more={"test:0":{"read-return-value":")") + status + "\"}}"});
        const Ran failed = batch(faulty);
        EXPECT_EQ(failed.status, 1) << status;
        EXPECT_EQ(lines(failed.err).size(), 1U) << failed.err;
        EXPECT_NE(failed.err.find(words), std::string::npos) << failed.err;
    }
    unsetenv("SANE_CONFIG_DIR");
}

// The next run removes what a killed run left in the temporary folder; a run that is still working keeps its files.
TEST(Batch, CleansUpAfterAKilledRun) {
    const TempFolder out;
    setenv("TMPDIR", out.path().c_str(), 1); // NOLINT(concurrency-mt-unsafe)
    std::filesystem::create_directories(out / "yelvin-scan-0123");
    write_file(out / "yelvin-scan-0123/lock", "");
    write_file(out / "yelvin-scan-0123/page.tif.growing", "left behind before it was whole");
    const Ran ran = batch({"scan", "--device", "Simulated scanner", "--on-glass", original("till-receipt").string(),
                           "--set", "how.dpi=75", "--set", "read.languages=[]", "--out", out.path().string()});
    unsetenv("TMPDIR"); // NOLINT(concurrency-mt-unsafe)
    EXPECT_EQ(ran.status, 0) << ran.err;
    for (const std::string& name : out.files()) EXPECT_EQ(name.find("yelvin-scan"), std::string::npos) << name;
}

}
}
