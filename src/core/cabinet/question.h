// What a person types to find a paper, taken apart: words, "exact words", -not, from:, in:, and dates by words.
#pragma once

#include "core/cabinet/said_dates.h"

#include <string>
#include <string_view>
#include <vector>

namespace yelvin {

struct QuestionPart {
    enum class Is { Words, Exact, From, In, When };
    Is is = Is::Words;
    std::vector<std::string> words; // as typed; one of Words, several of the others
    bool excluded = false;          // what has it is not meant
    bool goes_on = false;           // the last word, still being typed: its beginning counts
    DateSpan when;
    bool or_words = false; // When: the words themselves count as well
    bool operator==(const QuestionPart&) const = default;
};

struct Question {
    std::vector<QuestionPart> parts;
    bool asks_nothing() const; // nothing to be looked for: all papers are meant
    bool operator==(const Question&) const = default;
};

Question question_of(std::string_view typed, std::chrono::year_month_day today);

}
