// From the command line: the facts of documents and the proposed names.
#include "core/naming/naming_history.h"
#include "support/batch.h"
#include "support/papers.h"

#include "core/raster/image_file.h"

namespace yelvin::test {
namespace {

TEST(BatchName, PrintsTheFactsOfDocuments) {
    const TempFolder folder;
    const Raster invoice = scan("invoice", 0, 150, Ink::Grey);
    const auto bytes = encode_png(invoice).value();
    write_file(folder / "in.png", bytes);
    const std::string in = (folder / "in.png").string();
    const Ran said = batch({"name", in, (folder / "missing.png").string()});
    EXPECT_EQ(said.status, 1) << "one of them is not there";
    EXPECT_TRUE(said.err.contains("missing.png")) << said.err;
    const json all = json::parse(said.out);
    ASSERT_EQ(all.size(), 1U);
    EXPECT_EQ(all[0]["file"], in);
    EXPECT_EQ(all[0]["date"]["value"], "2026-11-18");
    EXPECT_EQ(all[0]["sender"]["value"], "Penhallow Chandlery");
    EXPECT_EQ(all[0]["number"]["value"], "20417");
    EXPECT_EQ(all[0]["kind"]["value"], "invoice");
    EXPECT_EQ(all[0]["total"]["value"], "673.20");
    for (const char* what : {"date", "sender", "number", "kind", "total", "heading"}) {
        if (all[0][what].is_null()) continue;
        EXPECT_TRUE(all[0][what]["sure"] >= 0 && all[0][what]["sure"] <= 1) << what;
        EXPECT_FALSE(all[0][what]["reason"].get<std::string>().empty()) << what;
    }
    EXPECT_EQ(all[0]["proposals"][0]["name"], "2026-11-18 Penhallow Chandlery Invoice 20417");

    // With a history of saved documents, the folder of similar ones is proposed.
    {
        auto store = NamingHistory::open(folder / "before.sqlite");
        ASSERT_TRUE(store->add({0,
                                "/office/Bills/Rope 2026-10-03.pdf",
                                {"Penhallow Chandlery", "invoice", "", "", "2026-10-03", {"brass", "rope"}}}));
    }
    const Ran like = batch({"name", "--before", (folder / "before.sqlite").string(), in});
    ASSERT_EQ(like.status, 0) << like.err;
    const json proposal = json::parse(like.out)[0]["proposals"][0];
    EXPECT_EQ(proposal["folder"], "/office/Bills");
    EXPECT_EQ(proposal["name"], "Rope 2026-11-18");
    EXPECT_EQ(batch({"name"}).status, 2);

    // The same chips name the file and create its folders.
    const TempFolder out;
    const Ran made = batch({"make", "--out", out.path().string(), "--set",
                            R"(save.name=[{"paper_date":"yyyy-mm-dd"},{"sender":4},{"number":true}])", "--set",
                            R"(save.within=[{"kind":true},{"slash":true},{"paper_date":"yyyy"}])", in});
    ASSERT_EQ(made.status, 0) << made.err;
    EXPECT_EQ(json::parse(made.out)["path"],
              (out / "Invoice").string() + "/2026/2026-11-18 Penhallow Chandlery 20417.pdf");
}

// Documents in four languages, which are not told.
TEST(BatchName, DetectsTheLanguage) {
    const TempFolder folder;
    std::vector<std::string> arguments{"name"};
    std::vector<PaperTruth> truths;
    for (const size_t index : {8U, 1U, 2U, 7U}) {
        const DrawnPaper paper = drawn_paper(index);
        truths.push_back(paper.truth);
        arguments.push_back((folder / (paper.truth.language + ".png")).string());
        write_file(arguments.back(), encode_png(scanned(paper, 200)).value());
    }
    const Ran said = batch(arguments);
    ASSERT_EQ(said.status, 0) << said.err;
    const json all = json::parse(said.out);
    ASSERT_EQ(all.size(), 4U);
    for (size_t i = 0; i < 4; ++i) {
        EXPECT_EQ(all[i]["date"]["value"], truths[i].date) << truths[i].language;
        EXPECT_EQ(all[i]["kind"]["value"], truths[i].kind) << truths[i].language;
        EXPECT_EQ(web_name(all[i]["sender"]["value"]), web_name(truths[i].sender)) << truths[i].language;
    }
}

}
}
