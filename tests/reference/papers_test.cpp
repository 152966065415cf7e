// Facts of documents, compared with known ones: 200 documents in four languages and 32 layouts; those from the
// simulated scanner are also read. And proposals from the history, compared with senders that have a folder each.
#include "core/naming/paper_name.h"
#include "core/paper_facts/paper_facts.h"
#include "jobs/reader_pool.h"
#include "support/papers.h"
#include "support/support.h"
#include "support/trials.h"

#include <algorithm>
#include <fstream>
#include <functional>
#include <map>
#include <random>
#include <sstream>

namespace fs = std::filesystem;

namespace yelvin::test {
namespace {

struct Count {
    int of = 0, there = 0, right = 0, sure = 0, sure_and_wrong = 0;
};

// A number that does not exist must not be invented. What is less than half certain is not offered.
bool is_right(const std::optional<PaperFact>& said, const std::string& truth,
              const std::function<bool(const std::string&, const std::string&)>& same) {
    if (truth.empty()) return !said || said->sure < certain_enough;
    return said && same(said->value, truth);
}

class Papers : public testing::Test {
  protected:
    std::map<std::string, Count> counts_;

    void judge(const PaperTruth& truth, const PaperFacts& says, const std::string& which) {
        const auto equal = [](const std::string& a, const std::string& b) { return a == b; };
        const auto same_name = [](const std::string& a, const std::string& b) { return web_name(a) == web_name(b); };
        const auto begins = [](const std::string& a, const std::string& b) { return a == b || a.starts_with(b + " "); };
        count("date", says.date, truth.date, equal, which);
        count("sender", says.sender, truth.sender, same_name, which);
        count("number", says.number, truth.number, equal, which);
        count("kind", says.kind, truth.kind, equal, which);
        count("total", says.total, truth.total, begins, which);
    }

    void count(const std::string& what, const std::optional<PaperFact>& said, const std::string& truth,
               const std::function<bool(const std::string&, const std::string&)>& same, const std::string& which) {
        Count& now = counts_[what];
        const bool right = is_right(said, truth, same);
        ++now.of;
        now.there += !truth.empty();
        now.right += right;
        if (said && said->sure >= 0.9) {
            ++now.sure;
            now.sure_and_wrong += !right;
        }
        if (!right)
            std::printf("%s: %s is \"%s\", was taken for \"%s\" (%.2f, %s)\n", which.c_str(), what.c_str(),
                        truth.c_str(), said ? said->value.c_str() : "", said ? said->sure : 0,
                        said ? said->reason.c_str() : "nothing");
    }

    void expect_good() {
        int sure = 0, wrong = 0;
        for (const auto& [what, least] :
             {std::pair{"date", 0.95}, {"sender", 0.90}, {"number", 0.90}, {"kind", 0.95}, {"total", 0.95}}) {
            const Count& count = counts_[what];
            std::printf("%s: %d of %d right; %d sure, %d of them wrong\n", what, count.right, count.of, count.sure,
                        count.sure_and_wrong);
            EXPECT_GE(count.right, least * count.of) << what;
            EXPECT_GT(count.sure, count.there / 3) << what << ": it is hardly ever sure";
            sure += count.sure;
            wrong += count.sure_and_wrong;
        }
        EXPECT_LT(wrong, 0.01 * sure + (sure < 100)) << "of what is called sure";
    }
};

TEST_F(Papers, FactsAreFoundInFaultlessText) {
    for (size_t i = 0; i < 200; ++i) {
        const DrawnPaper paper = drawn_paper(i);
        judge(paper.truth, facts_of_page(as_it_was_read(paper.printed), common_paper_words(), papers_scanned_on),
              std::to_string(i));
    }
    expect_good();
}

// The lines of papers.txt with the facts of a document.
TextLayer set_by_hand(std::istream& in, const std::string& language) {
    TextLayer layer{{}, 1654, 2339, language};
    for (std::string row; std::getline(in, row) && !row.empty();) {
        std::istringstream line(row);
        double x = 0, y = 0;
        std::string size;
        line >> x >> y >> size;
        const double points = std::stod(size), em = points * 25.4 / 72;
        const auto px = [](double mm) { return static_cast<int>(mm * printed_dpi / 25.4); };
        TextLine set;
        set.ascent_px = em * 0.72 * printed_dpi / 25.4;
        for (std::string word; line >> word;) {
            const double wide = static_cast<double>(word.size()) * em / 2;
            const auto tall = static_cast<int>(set.ascent_px);
            set.words.push_back({word, {px(x), px(y) - tall, std::max(1, px(wide)), tall}, 96, size.ends_with('b')});
            x += wide + em / 4;
        }
        layer.lines.push_back(std::move(set));
    }
    return layer;
}

TEST_F(Papers, FactsAreFoundInHandMadeLayouts) {
    std::ifstream in(fs::path(YELVIN_OTHERS).parent_path() / "papers.txt");
    int papers = 0;
    for (std::string row; std::getline(in, row);) {
        if (!row.starts_with("= ")) continue;
        std::vector<std::string> facts;
        std::istringstream parts(row.substr(2) + " ");
        for (std::string part; std::getline(parts, part, '|');) {
            const size_t begin = part.find_first_not_of(' ');
            facts.push_back(begin == std::string::npos ? ""
                                                       : part.substr(begin, part.find_last_not_of(' ') + 1 - begin));
        }
        ASSERT_EQ(facts.size(), 7U) << row;
        const PaperTruth truth{
            facts[0], 0, facts[2], facts[3], facts[4], facts[5], facts[6].substr(0, facts[6].find(' '))};
        const TextLayer layer = set_by_hand(in, truth.language);
        judge(truth, facts_of_page(as_it_was_read(layer), common_paper_words(), papers_scanned_on), facts[1]);
        ++papers;
    }
    EXPECT_EQ(papers, 41);
    expect_good();
}

TEST_F(Papers, FactsAreFoundInScannedPages) {
    ReaderPool readers;
    const auto papers = static_cast<size_t>(trials(28));
    for (size_t i = 0; i < papers; ++i) {
        const DrawnPaper paper = drawn_paper(i * 200 / papers);
        const Raster page = scanned(paper, 200, (static_cast<double>(i % 5) - 2) * 0.4);
        const auto text = readers.borrow()->read(page, {paper.truth.language});
        ASSERT_TRUE(text) << text.error().sentence;
        judge(paper.truth, facts_of_page(as_it_was_read(*text), common_paper_words(), papers_scanned_on),
              std::to_string(i * 200 / papers));
    }
    expect_good();
}

// Sixty documents by twelve senders with a folder each, in random order.
TEST_F(Papers, FoldersAreProposedFromTheSameSender) {
    std::vector<size_t> senders;
    for (size_t i = 0; i < 60; ++i) senders.push_back(i % 12);
    std::mt19937 random(11);
    std::ranges::shuffle(senders, random);
    std::vector<SavedDocument> saved;
    std::map<size_t, int> seen;
    int later = 0, right = 0, wrong = 0;
    for (size_t i = 0; i < senders.size(); ++i) {
        const size_t sender = senders[i], language = sender % 4;
        const size_t layout = (sender * 5 + i * 7) % 24; // what companies send
        const DrawnPaper paper = drawn_paper(1000 + i, language, layout, sender);
        const PageText text = as_it_was_read(paper.printed);
        const PaperFacts says = facts_of_page(text, common_paper_words(), papers_scanned_on);
        const DocumentTraits traits = traits_of(text, says);
        const std::string folder = "/office/folder " + std::to_string(sender);
        const auto proposed = folder_of_similar(similar_documents(traits, saved));
        if (seen[sender]++ >= 2) {
            ++later;
            right += proposed && proposed->folder == folder;
        }
        if (proposed && proposed->folder != folder) {
            ++wrong;
            std::printf("paper %zu of sender %zu would go to %s\n", i, sender, proposed->folder.c_str());
        }
        saved.push_back({static_cast<long long>(i + 1), folder + "/" + std::to_string(i) + ".pdf", traits});
    }
    std::printf("from the third on: %d of %d right; wrong in all: %d\n", right, later, wrong);
    EXPECT_EQ(later, 36);
    EXPECT_GE(right, 0.95 * later);
    EXPECT_LT(wrong, 0.02 * 60);
}

}
}
