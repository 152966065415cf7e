// Finding which pages and documents have a word in any of its forms. Internal to core/cabinet. Not thread-safe.
#pragma once

#include "core/cabinet/document_table.h"
#include "core/cabinet/search_query.h"
#include "core/cabinet/stems.h"
#include "core/cabinet/terms.h"

#include <list>
#include <map>
#include <set>

namespace yelvin {

// Decides which terms match a part of a query.
struct TermMatcher {
    std::vector<std::string> sequence; // consecutive exact terms, at least two
    std::set<std::string> terms;       // or any of these terms
    std::string beginning;             // or terms with this prefix; empty: none
    bool nothing() const { return sequence.empty() && terms.empty() && beginning.empty(); }
    bool fits(const std::string& folded) const {
        return terms.contains(folded) || (!beginning.empty() && folded.starts_with(beginning));
    }
};

struct WordSet {
    Bits pages, rows;   // `rows`: documents that match, on a page or in their facts
    Bits named, headed; // rows that match in their name, or in their heading
    TermMatcher meant;
};

enum class Nearness { AsTyped, OneLetterWrong };

class WordSets {
  public:
    WordSets(SQLite::Database& database, const DocumentTable& table) : database_(database), table_(table) {}
    // Returns the set for a part of a query. Valid until forget() or many other calls.
    const WordSet& of(const QueryPart& part, Nearness nearness);
    void forget() { kept_.clear(); }

  private:
    struct Kept {
        QueryPart part;
        Nearness nearness;
        WordSet set;
    };
    SQLite::Database& database_;
    const DocumentTable& table_;
    Stemmers stemmers_;
    std::list<Kept> kept_; // the most recently used first

    TermMatcher matcher_for(const QueryPart& part, Nearness nearness);
    std::set<std::string> with_other_endings(const Term& word);
    std::set<std::string> nearly(const std::string& folded);
    void add_pages(const std::string& match, WordSet& to);
    void add_papers(const std::string& match, WordSet& to);
    void add_beginning(const std::string& beginning, WordSet& to);
};

}
