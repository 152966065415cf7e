// Which pages and papers have a word, in any of its forms. Internal to the cabinet.
#pragma once

#include "core/cabinet/question.h"
#include "core/cabinet/shelf.h"
#include "core/cabinet/stems.h"
#include "core/cabinet/terms.h"

#include <list>
#include <map>
#include <set>

namespace yelvin {

// What stands on a page where a part of a question is meant.
struct Meant {
    std::vector<std::string> sequence; // exact terms one behind another; two or more
    std::set<std::string> terms;       // or any of these
    std::string beginning;             // or what begins so; empty: nothing
    bool nothing() const { return sequence.empty() && terms.empty() && beginning.empty(); }
    bool fits(const std::string& folded) const {
        return terms.contains(folded) || (!beginning.empty() && folded.starts_with(beginning));
    }
};

struct WordSet {
    Bits pages, rows;   // `rows`: papers that have it, on a page or in what is known of them
    Bits named, headed; // rows that have it in their name, or their heading
    Meant meant;
};

enum class Nearness { AsTyped, OneLetterWrong };

class WordSets {
  public:
    WordSets(SQLite::Database& database, const Shelf& shelf) : database_(database), shelf_(shelf) {}
    // Stays until forget() or many others were asked for.
    const WordSet& of(const QuestionPart& part, Nearness nearness);
    void forget() { kept_.clear(); }

  private:
    struct Kept {
        QuestionPart part;
        Nearness nearness;
        WordSet set;
    };
    SQLite::Database& database_;
    const Shelf& shelf_;
    Stemmers stemmers_;
    std::list<Kept> kept_; // the latest first

    Meant meant_by(const QuestionPart& part, Nearness nearness);
    std::set<std::string> with_other_endings(const Term& word);
    std::set<std::string> nearly(const std::string& folded);
    void add_pages(const std::string& match, WordSet& to);
    void add_papers(const std::string& match, WordSet& to);
    void add_beginning(const std::string& beginning, WordSet& to);
};

}
