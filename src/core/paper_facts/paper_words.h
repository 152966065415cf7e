// The words by which facts are recognised: labels of dates and numbers, names of kinds of documents. In English,
// German, French and Dutch, and those that users add in a file.
//
// Values; the functions may be called on any thread.
#pragma once

#include "core/error.h"

#include <filesystem>
#include <string>
#include <string_view>
#include <vector>

namespace yelvin {

// Returns a word as it is compared: letters and digits only, in small letters, without accents.
std::string word_key(std::string_view word);
std::vector<std::string> word_keys(std::string_view words); // the keys of all words, without empty ones

struct PaperPhrase {
    std::vector<std::string> keys; // at least one
    std::string means;
};

struct PaperWords {
    // Labels of dates. means: "own", "made" (a contract, a meeting), "signed", "due", and others that are not the
    // document's own.
    std::vector<PaperPhrase> dates;
    // Labels of numbers. means: the name of a kind, "reference", or "other" for numbers that are not the document's
    // (customer, telephone, tax).
    std::vector<PaperPhrase> numbers;
    std::vector<PaperPhrase> totals; // means: "due", "total", "net"
    std::vector<PaperPhrase> kinds;  // means: the kind's name
    std::vector<PaperPhrase> salutations, closings, addressee, senders, subjects;
};

// Returns the words that ship with the program; they exist until it ends.
const PaperWords& common_paper_words();
// Returns the common words with kinds from a JSON file: {"kinds": {"mooring permit": ["mooring permit",
// "Liegeerlaubnis"]}}; a missing file adds none. Errors: BadInput with what is wrong in the file.
Result<PaperWords> paper_words_with(const std::filesystem::path& file);

// Returns the number of keys if the whole phrase begins at `at`, otherwise 0. Long words may have one wrong letter.
size_t phrase_at(const PaperPhrase& phrase, const std::vector<std::string>& keys, size_t at);

}
