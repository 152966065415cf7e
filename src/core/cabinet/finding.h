// Finding papers in the cabinet by what they say: quick enough for each letter that is typed.
#pragma once

#include "core/cabinet/cabinet.h"
#include "core/cabinet/question.h"

#include <functional>
#include <stop_token>

namespace yelvin {

// Only papers that are so; empty: whichever.
struct Narrowing {
    std::optional<int> month; // of saving: year * 12 + month - 1
    std::optional<std::string> folder, ticket, sender;
    bool operator==(const Narrowing&) const = default;
    bool empty() const { return *this == Narrowing{}; }
};

struct ShownWord {
    std::string text;
    bool meant = false; // one that was looked for
};

// Where the words stand on a page.
struct MarkedPage {
    double width_mm = 0, height_mm = 0; // 0: its words are not known
    std::vector<cv::Rect2d> marks;      // mm, in the order of reading
    size_t best = 0;                    // that of them where the line begins
};

struct FoundPaper {
    CabinetPaper paper;
    double score = 0;            // higher is better
    int page = 0;                // from 0: the one that says it best
    std::vector<ShownWord> line; // around the words there; empty: only its name or the like has them
    MarkedPage marked;           // of `page`
};

template <class What>
struct HowMany {
    What what;
    int papers = 0;
};

struct Found {
    int papers = 0, of = 0;       // how many fit; how many there are
    std::vector<FoundPaper> best; // the best first
    // Of those that fit; each list as if nothing was chosen of it yet. Months: the latest first; else the most first.
    std::vector<HowMany<int>> months;
    std::vector<HowMany<std::string>> folders, tickets, senders; // an empty one: none
    bool nearly = false;      // nothing has the words as they were typed: these have them with a letter wrong
    bool all_but_one = false; // nothing has all of them: these do without one
    std::string without;      // that one as it was typed, where it is the same for all of these
};

// On a thread of its own, or after each other. It sees what others add.
class Finder {
  public:
    // Errors: as Cabinet::open, which must have made it.
    static Result<Finder> open(const std::filesystem::path& folder);
    // Opens an existing cabinet without changing anything, whatever state it is in. Errors: Missing; BadInput, it is
    // damaged; Unsupported; Busy.
    static Result<Finder> open_to_read(const std::filesystem::path& folder);
    Finder(Finder&&) noexcept;
    Finder& operator=(Finder&&) noexcept;
    ~Finder();

    // At most `most` papers. Errors: Stopped; BadInput for a damaged cabinet.
    Result<Found> find(std::string_view typed, const Narrowing& narrowing, size_t most,
                       std::chrono::year_month_day today, const std::stop_token& stop = {});
    // Of all pages, by the last find().
    Result<std::vector<MarkedPage>> marks(long long paper);
    Result<PageWords> words(long long paper, int page); // from 0; empty where there are none

  private:
    static Result<Finder> open_with(Result<CabinetLock> lock,
                                    const std::function<std::unique_ptr<SQLite::Database>()>& open);
    struct Inside;
    explicit Finder(std::unique_ptr<Inside> inside);
    std::unique_ptr<Inside> inside_;
};

}
