#include "core/cabinet/terms.h"

#include <unicode/normalizer2.h>
#include <unicode/uchar.h>
#include <unicode/unistr.h>
#include <unicode/utf8.h>

#include <algorithm>
#include <utility>

namespace yelvin {

namespace {

using CodePoints = std::u32string;

struct Letter {
    char32_t from;
    std::string_view to;
};
// Letters without a decomposition in Unicode, as replaced by CLDR's transform Latin-ASCII.
constexpr Letter not_taken_apart[] = {
    {U'æ', "ae"}, {U'ð', "d"}, {U'ø', "o"}, {U'þ', "th"}, {U'đ', "d"},  {U'ħ', "h"},
    {U'ı', "i"},  {U'ĸ', "q"}, {U'ł', "l"}, {U'ŋ', "n"},  {U'œ', "oe"}, {U'ŧ', "t"},
    {U'ß', "ss"}, {U'ŉ', "n"}, {U'ǥ', "g"}, {U'ẜ', "s"},  {U'ẝ', "s"},
};

void append(std::string& to, char32_t c) {
    if (c < 0x80) {
        to += static_cast<char>(c);
        return;
    }
    icu::UnicodeString(static_cast<UChar32>(c)).toUTF8String(to);
}
CodePoints code_points(const icu::UnicodeString& text) {
    CodePoints out;
    for (int i = 0; i < text.length(); i = text.moveIndex32(i, 1)) out += static_cast<char32_t>(text.char32At(i));
    return out;
}
CodePoints code_points(std::string_view text) {
    if (std::ranges::all_of(text, [](unsigned char c) { return c < 0x80; })) return {text.begin(), text.end()};
    return code_points(icu::UnicodeString::fromUTF8({text.data(), static_cast<int>(text.size())}));
}

bool is_letter_or_digit(char32_t c) {
    if (c < 0x80) return (c >= '0' && c <= '9') || (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z');
    return u_isalnum(static_cast<UChar32>(c));
}
bool is_mark(char32_t c) {
    return c >= 0x300 && (U_GET_GC_MASK(static_cast<UChar32>(c)) & (U_GC_MN_MASK | U_GC_ME_MASK)) != 0;
}
bool is_apostrophe(char32_t c) { return c == '\'' || c == U'’' || c == U'ʼ'; }

// Whether the character belongs to a script without spaces between words. Each such character is a term of its own;
// several are searched for as a phrase.
bool stands_alone(char32_t c) {
    return (c >= 0x3040 && c <= 0x30FF) || (c >= 0x3400 && c <= 0x4DBF) || (c >= 0x4E00 && c <= 0x9FFF) ||
           (c >= 0xF900 && c <= 0xFAFF) || (c >= 0x20000 && c <= 0x3FFFF);
}

void append_plain(std::string& to, char32_t c) {
    if (c < 0x80) return append(to, c);
    for (const Letter& each : not_taken_apart)
        if (each.from == c) {
            to += each.to;
            return;
        }
    append(to, c);
}

void append_folded(std::string& to, char32_t c) {
    if (c < 0x80) return append(to, c);
    UErrorCode failed = U_ZERO_ERROR;
    const icu::Normalizer2* decompose = icu::Normalizer2::getNFKDInstance(failed);
    const bool hangul = c >= 0xAC00 && c <= 0xD7A3; // its syllables are letters to those who write it
    icu::UnicodeString parts;
    if (U_FAILURE(failed) || hangul || !decompose->getDecomposition(static_cast<UChar32>(c), parts))
        return append_plain(to, c);
    for (int i = 0; i < parts.length(); i = parts.moveIndex32(i, 1))
        if (const UChar32 part = parts.char32At(i); !is_mark(static_cast<char32_t>(part)))
            append_plain(to, static_cast<char32_t>(u_tolower(part)));
}

// Returns the text in lower case, in composed form (NFC).
CodePoints small_letters(std::string_view text) {
    if (std::ranges::all_of(text, [](unsigned char c) { return c < 0x80; })) {
        CodePoints out;
        for (const char c : text) out += static_cast<char32_t>(c >= 'A' && c <= 'Z' ? c + 32 : c);
        return out;
    }
    UErrorCode failed = U_ZERO_ERROR;
    const icu::Normalizer2* casefold = icu::Normalizer2::getNFKCCasefoldInstance(failed);
    icu::UnicodeString whole = icu::UnicodeString::fromUTF8({text.data(), static_cast<int>(text.size())});
    if (U_SUCCESS(failed)) whole = casefold->normalize(whole, failed);
    return code_points(whole);
}

struct Piece {
    std::string folded, accented; // `accented` empty: the same
    const std::string& written() const { return accented.empty() ? folded : accented; }
};

// The fast path for most words: ASCII letters or digits, possibly with punctuation around them. Returns an empty string
// for any other word.
std::string plain_word(std::string_view word) {
    const auto is_mark = [](char c) {
        return static_cast<unsigned char>(c) < 0x80 && !is_letter_or_digit(static_cast<unsigned char>(c));
    };
    while (!word.empty() && is_mark(word.back())) word.remove_suffix(1);
    while (!word.empty() && is_mark(word.front())) word.remove_prefix(1);
    std::string out(word);
    for (char& c : out) {
        if (static_cast<unsigned char>(c) >= 0x80 || !is_letter_or_digit(static_cast<unsigned char>(c))) return {};
        if (c >= 'A' && c <= 'Z') c = static_cast<char>(c + 32);
    }
    return out;
}

// Returns the runs of letters and digits in a word. "keeper's" loses its ending, "l'eau" becomes two.
std::vector<Piece> pieces_of(std::string_view word) {
    if (std::string plain = plain_word(word); !plain.empty()) return {{std::move(plain), {}}};
    const CodePoints text = small_letters(word);
    std::vector<Piece> out;
    bool open = false;
    for (size_t i = 0; i < text.size(); ++i) {
        const char32_t c = text[i];
        if (open && is_mark(c)) {
            append(out.back().accented, c);
            continue;
        }
        if (open && is_apostrophe(c) && i + 1 < text.size() && text[i + 1] == 's' &&
            (i + 2 == text.size() || !is_letter_or_digit(text[i + 2]))) {
            ++i;
            open = false;
            continue;
        }
        if (!is_letter_or_digit(c)) {
            open = false;
            continue;
        }
        const bool alone = stands_alone(c);
        if (!open || alone) out.emplace_back();
        append_folded(out.back().folded, c);
        append(out.back().accented, c);
        open = !alone;
    }
    std::erase_if(out, [](const Piece& each) { return each.folded.empty(); });
    for (Piece& each : out)
        if (each.accented == each.folded) each.accented.clear();
    return out;
}

bool all_digits(std::string_view text) {
    return !text.empty() && std::ranges::all_of(text, [](char c) { return c >= '0' && c <= '9'; });
}

// Whether the pieces are a number in groups of thousands, with or without two decimals: "1.022,16", "12,500", "4.50".
struct Grouped {
    bool is = false, has_cents = false;
};
Grouped grouped(const std::vector<Piece>& pieces) {
    if (pieces.size() < 2 || !std::ranges::all_of(pieces, [](const Piece& each) { return all_digits(each.folded); }))
        return {};
    const bool cents = pieces.back().folded.size() == 2;
    const size_t whole = pieces.size() - (cents ? 1 : 0);
    if (pieces.front().folded.size() > 3 && whole > 1) return {};
    for (size_t i = 1; i < whole; ++i)
        if (pieces[i].folded.size() != 3) return {};
    return {true, cents};
}

Piece joined(const Piece& a, const Piece& b) {
    const bool same = a.accented.empty() && b.accented.empty();
    return {a.folded + b.folded, same ? std::string() : a.written() + b.written()};
}
Piece joined(const std::vector<Piece>& pieces, size_t count) {
    Piece out;
    for (size_t i = 0; i < count; ++i) out = joined(out, pieces[i]);
    return out;
}

Term term(Piece piece, size_t word, bool beside) {
    return {std::move(piece.folded), std::move(piece.accented), word, word, beside};
}

bool ends_with_hyphen(std::string_view word) {
    return word.size() > 1 && (word.ends_with('-') || word.ends_with("\u2010") || word.ends_with("\u00AD"));
}

void append_terms(std::vector<Term>& out, const std::vector<Piece>& pieces, size_t word) {
    constexpr size_t most_parts = 8, most_letters = 60;
    if (const Grouped number = grouped(pieces); number.is) {
        out.push_back(term(joined(pieces, pieces.size()), word, false));
        if (number.has_cents) out.push_back(term(joined(pieces, pieces.size() - 1), word, true));
        return;
    }
    for (size_t i = 0; i < pieces.size(); ++i) {
        out.push_back(term(pieces[i], word, false));
        if (i > 0 || pieces.size() < 2 || pieces.size() > most_parts) continue;
        Piece all = joined(pieces, pieces.size());
        if (all.folded.size() <= most_letters) out.push_back(term(std::move(all), word, true));
    }
}

// Counts the words from `at` on that form a number in groups, such as a telephone number, an IBAN (ISO 13616) or
// thousands. Returns 0 if they do not.
size_t run_of_groups(const std::vector<std::vector<Piece>>& pieces, size_t at) {
    constexpr size_t most_words = 9, longest_group = 6;
    const auto is_group = [&](size_t i) {
        return pieces[i].size() == 1 && pieces[i][0].folded.size() <= longest_group && all_digits(pieces[i][0].folded);
    };
    const auto begins_account = [&](size_t i) {
        const std::string& text = pieces[i].empty() ? std::string() : pieces[i][0].folded;
        return pieces[i].size() == 1 && text.size() == 4 && !all_digits(text.substr(0, 1)) &&
               !all_digits(text.substr(1, 1)) && all_digits(text.substr(2));
    };
    if (!is_group(at) && !begins_account(at)) return 0;
    size_t end = at + 1;
    while (end < pieces.size() && end - at < most_words && is_group(end)) ++end;
    // The last group may have decimals.
    if (end < pieces.size() && end - at < most_words && grouped(pieces[end]).has_cents) ++end;
    return end - at >= 2 ? end - at : 0;
}

}

std::vector<Term> terms_of(const std::vector<std::string>& words, std::string_view next_line) {
    std::vector<std::vector<Piece>> pieces;
    pieces.reserve(words.size());
    for (const std::string& word : words) pieces.push_back(pieces_of(word));
    std::vector<Term> out;
    size_t run_end = 0;
    for (size_t i = 0; i < words.size(); ++i) {
        const size_t before = out.size();
        append_terms(out, pieces[i], i);
        if (out.size() == before) continue;
        if (const size_t run = i < run_end ? 0 : run_of_groups(pieces, i)) {
            run_end = i + run;
            std::string all;
            for (size_t k = i; k < run_end; ++k) all += joined(pieces[k], pieces[k].size()).folded;
            out.insert(out.begin() + static_cast<long>(before) + 1, Term{all, "", i, run_end - 1, true});
        }
        if (i + 1 == words.size() && !next_line.empty() && ends_with_hyphen(words[i])) {
            const std::vector<Piece> rest = pieces_of(next_line);
            if (rest.empty() || pieces[i].empty()) continue;
            out.push_back(term(joined(pieces[i].back(), rest[0]), i, true));
        }
    }
    return out;
}

std::string folded(std::string_view text) {
    const std::vector<Piece> pieces = pieces_of(text);
    return joined(pieces, pieces.size()).folded;
}

bool is_numeric(std::string_view folded) {
    return std::ranges::any_of(folded, [](char c) { return c >= '0' && c <= '9'; });
}

std::string shape_of(std::string_view folded) {
    constexpr std::pair<std::string_view, std::string_view> taken_for[] = {
        {"rn", "m"}, {"vv", "w"}, {"cl", "d"}, {"ii", "u"}, {"0", "o"}, {"1", "l"},
        {"i", "l"},  {"5", "s"},  {"8", "b"},  {"6", "b"},  {"2", "z"}, {"9", "g"},
    };
    std::string out;
    for (size_t i = 0; i < folded.size();) {
        const auto rest = folded.substr(i);
        const auto at = std::ranges::find_if(taken_for, [&](const auto& each) { return rest.starts_with(each.first); });
        if (at == std::end(taken_for)) {
            out += folded[i++];
        } else {
            out += at->second;
            i += at->first.size();
        }
    }
    return out;
}

std::string backwards(std::string_view folded) {
    CodePoints points = code_points(folded);
    std::ranges::reverse(points);
    std::string out;
    for (const char32_t c : points) append(out, c);
    return out;
}

bool one_letter_apart(std::string_view a, std::string_view b) {
    CodePoints x = code_points(a), y = code_points(b);
    if (x.size() > y.size()) std::swap(x, y);
    if (y.size() - x.size() > 1) return false;
    size_t front = 0, back = 0;
    while (front < x.size() && x[front] == y[front]) ++front;
    while (back < x.size() - front && x[x.size() - 1 - back] == y[y.size() - 1 - back]) ++back;
    const size_t rest_x = x.size() - front - back, rest_y = y.size() - front - back;
    if (rest_y <= 1) return true;
    return rest_x == 2 && rest_y == 2 && x[front] == y[front + 1] && x[front + 1] == y[front];
}

}
