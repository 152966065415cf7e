// The words on documents in each language; only for drawing documents.
#pragma once

#include <array>
#include <string>
#include <vector>

namespace yelvin::test {

enum class PaperType {
    Invoice,
    Reminder,
    Receipt,
    Quotation,
    Delivery,
    Order,
    Statement,
    Lease,
    Letter,
    Minutes,
    Form
};

// The name of a kind of document, the word before its number, and the word before its date.
struct TypeWords {
    std::string title, number, date;
};

struct PaperTongue {
    std::string language;
    std::array<std::string, 12> months;
    std::array<std::string, 7> weekdays; // from Sunday
    std::array<TypeWords, 11> types;
    std::string due, delivered, valid, birthday, next_meeting, begins, your_letter, customer, our_ref, phone;
    std::string net, tax, total;
    std::string to, signed_at, salutation, closing, subject;
    std::vector<std::string> senders, towns, streets, people, subjects, sentences;
    std::string item, quantity, amount;
};

const std::array<PaperTongue, 4>& paper_tongues();

}
