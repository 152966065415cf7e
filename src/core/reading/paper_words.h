// The words by which papers are known: what stands before dates and numbers, what kinds are called. In English, German,
// French and Dutch, and whatever people add in a file of their own.
#pragma once

#include "core/error.h"

#include <filesystem>
#include <string>
#include <string_view>
#include <vector>

namespace yelvin {

// Letters and digits as words are compared: small, without accents, without marks between them.
std::string word_key(std::string_view word);
std::vector<std::string> word_keys(std::string_view words); // those that are not empty

struct PaperPhrase {
    std::vector<std::string> keys; // one or more
    std::string means;
};

struct PaperWords {
    // Of dates: "own", "made" (a contract, a meeting), "signed", "due", and others that are not the paper's own.
    std::vector<PaperPhrase> dates;
    // Of numbers: a kind's name, "reference", or "other" for what is not the paper's (customer, telephone, tax).
    std::vector<PaperPhrase> numbers;
    std::vector<PaperPhrase> totals; // "due", "total", "net"
    std::vector<PaperPhrase> kinds;  // means: the kind's name
    std::vector<PaperPhrase> salutations, closings, addressee, senders, subjects;
};

const PaperWords& common_paper_words();
// With kinds from a JSON file: {"kinds": {"mooring permit": ["mooring permit", "Liegeerlaubnis"]}}; a missing file adds
// none. Errors: BadInput, with what is wrong in it.
Result<PaperWords> paper_words_with(const std::filesystem::path& file);

// How many of `keys` from `at` on are the phrase, all of it; 0: they are not. Long words may have one letter wrong.
size_t phrase_at(const PaperPhrase& phrase, const std::vector<std::string>& keys, size_t at);

}
