// The 32 layouts of documents, for the tests of their facts.
#pragma once

#include "support/papers.h"

#include <array>

namespace yelvin::test {

enum class Head { Big, Caps, Right, WebOnly, Foot, ReturnLine, Person, Tagline, Band };
enum class When { Info, Place, Corner, Columns, Weekday, Signed, Sentence };
enum class Ref { Info, Columns, Title, Line, None };
enum class Digits { Words, Day, Short, Iso, American };

struct Layout {
    PaperType type;
    Head head;
    When when;
    Ref ref;
    Digits digits;
    bool crowded; // with due, delivery or birth dates, telephone and bank numbers
};

inline constexpr std::array<Layout, paper_layouts> layouts{{
    {PaperType::Invoice, Head::Big, When::Info, Ref::Info, Digits::Words, true},
    {PaperType::Invoice, Head::Caps, When::Columns, Ref::Columns, Digits::Day, true},
    {PaperType::Invoice, Head::Right, When::Corner, Ref::Title, Digits::Words, true},
    {PaperType::Invoice, Head::WebOnly, When::Info, Ref::Info, Digits::Day, true},
    {PaperType::Invoice, Head::ReturnLine, When::Info, Ref::Info, Digits::Short, true},
    {PaperType::Invoice, Head::Foot, When::Place, Ref::Title, Digits::Words, true},
    {PaperType::Invoice, Head::Band, When::Columns, Ref::Columns, Digits::Iso, true},
    {PaperType::Invoice, Head::Tagline, When::Info, Ref::Info, Digits::American, false},
    {PaperType::Reminder, Head::Big, When::Place, Ref::Info, Digits::Words, true},
    {PaperType::Reminder, Head::ReturnLine, When::Corner, Ref::Line, Digits::Day, true},
    {PaperType::Receipt, Head::Caps, When::Info, Ref::Info, Digits::Day, false},
    {PaperType::Receipt, Head::Big, When::Corner, Ref::Title, Digits::Short, false},
    {PaperType::Quotation, Head::Right, When::Info, Ref::Info, Digits::Words, true},
    {PaperType::Quotation, Head::WebOnly, When::Place, Ref::Title, Digits::Words, true},
    {PaperType::Delivery, Head::Tagline, When::Columns, Ref::Columns, Digits::Day, false},
    {PaperType::Delivery, Head::Foot, When::Info, Ref::Info, Digits::Iso, true},
    {PaperType::Order, Head::Big, When::Info, Ref::Info, Digits::Day, true},
    {PaperType::Order, Head::Caps, When::Corner, Ref::Title, Digits::Words, false},
    {PaperType::Statement, Head::Band, When::Info, Ref::Info, Digits::Day, true},
    {PaperType::Statement, Head::Right, When::Columns, Ref::Columns, Digits::Words, false},
    {PaperType::Lease, Head::Caps, When::Sentence, Ref::Line, Digits::Words, true},
    {PaperType::Lease, Head::Tagline, When::Signed, Ref::Info, Digits::Words, true},
    {PaperType::Letter, Head::Person, When::Place, Ref::None, Digits::Words, true},
    {PaperType::Letter, Head::Big, When::Place, Ref::Line, Digits::Words, true},
    {PaperType::Letter, Head::WebOnly, When::Corner, Ref::Line, Digits::Words, true},
    {PaperType::Letter, Head::ReturnLine, When::Info, Ref::Info, Digits::Day, true},
    {PaperType::Letter, Head::Person, When::Corner, Ref::None, Digits::Words, false},
    {PaperType::Minutes, Head::Tagline, When::Sentence, Ref::None, Digits::Words, true},
    {PaperType::Minutes, Head::Caps, When::Weekday, Ref::Line, Digits::Words, true},
    {PaperType::Form, Head::Big, When::Info, Ref::Info, Digits::Day, true},
    {PaperType::Form, Head::Right, When::Signed, Ref::Info, Digits::Words, true},
    {PaperType::Letter, Head::Right, When::Weekday, Ref::Line, Digits::Words, true},
}};

inline constexpr std::array kind_names{"invoice",   "reminder", "receipt", "quotation", "delivery note", "order",
                                       "statement", "lease",    "letter",  "minutes",   "form"};

}
