// Finding documents in the cabinet by their words, fast enough for each typed letter.
#pragma once

#include "core/cabinet/cabinet.h"

#include <functional>
#include <stop_token>

namespace yelvin {

// Restricts the results; members without a value do not.
struct SearchFilter {
    std::optional<int> month; // of saving: year * 12 + month - 1
    std::optional<std::string> folder, ticket, sender;
    bool operator==(const SearchFilter&) const = default;
    bool empty() const { return *this == SearchFilter{}; }
};

struct ExcerptWord {
    std::string text;
    bool meant = false; // whether it matches the query
};

// The places of the matches on a page.
struct MarkedPage {
    double width_mm = 0, height_mm = 0; // 0 if the page's words are not known
    std::vector<cv::Rect2d> marks;      // mm, in reading order
    size_t best = 0;                    // index of the mark where SearchResult::line begins
};

struct SearchResult {
    CabinetPaper paper;
    double score = 0;              // higher is better
    int page = 0;                  // the best page, from 0
    std::vector<ExcerptWord> line; // the words around the match; empty if only the name or another fact matches
    MarkedPage marked;             // of `page`
};

template <class What>
struct FacetCount {
    What what;
    int papers = 0;
};

struct SearchResults {
    int papers = 0, of = 0;         // number of matching documents, number of all documents
    std::vector<SearchResult> best; // the best first
    // Counts over the matching documents. Each list ignores the filter on its own property. Months: the latest first;
    // others: the largest count first.
    std::vector<FacetCount<int>> months;
    std::vector<FacetCount<std::string>> folders, tickets, senders; // an empty string: no value
    bool nearly = false;      // nothing matches as typed: these match with one wrong letter
    bool all_but_one = false; // nothing has all words: these lack one
    std::string without;      // the missing word as typed, if it is the same for all results
};

// Searches with a connection of its own, so that adding never waits. Used by one thread at a time; sees what others
// add.
class Finder {
  public:
    // Opens a cabinet that Cabinet::open() has created. Errors: those of Cabinet::open().
    static Result<Finder> open(const std::filesystem::path& folder);
    // Opens an existing cabinet read-only. Errors: Missing; BadInput if it is damaged; Unsupported; Busy.
    static Result<Finder> open_to_read(const std::filesystem::path& folder);
    Finder(Finder&&) noexcept;
    Finder& operator=(Finder&&) noexcept;
    ~Finder();

    // Returns at most `most` results. Errors: Stopped; BadInput if the cabinet is damaged.
    Result<SearchResults> find(std::string_view typed, const SearchFilter& narrowing, size_t most,
                               std::chrono::year_month_day today, const std::stop_token& stop = {});
    // Returns the matches of the last find() on all pages of a document.
    Result<std::vector<MarkedPage>> marks(long long paper);
    Result<PageWords> words(long long paper, int page); // page from 0; empty if there are none

  private:
    static Result<Finder> open_with(Result<CabinetLock> lock,
                                    const std::function<std::unique_ptr<SQLite::Database>()>& open);
    struct Inside;
    explicit Finder(std::unique_ptr<Inside> inside);
    std::unique_ptr<Inside> inside_;
};

}
