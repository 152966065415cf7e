#include "core/text/word_order.h"

#include "core/text/languages.h"

#include <unicode/ubidi.h>
#include <unicode/uchar.h>
#include <unicode/unistr.h>
#include <unicode/uscript.h>

#include <algorithm>

namespace yelvin {

namespace {

icu::UnicodeString unicode(std::string_view text) {
    return icu::UnicodeString::fromUTF8({text.data(), static_cast<int>(text.size())});
}

enum class Runs { Left, Right, Number, Neither };

Runs direction_of(const Word& word) {
    const auto text = unicode(word.text);
    bool number = false;
    for (int i = 0; i < text.length(); i = text.moveIndex32(i, 1)) {
        switch (u_charDirection(text.char32At(i))) {
        case U_LEFT_TO_RIGHT:
            return Runs::Left;
        case U_RIGHT_TO_LEFT:
        case U_RIGHT_TO_LEFT_ARABIC:
            return Runs::Right;
        case U_EUROPEAN_NUMBER:
            number = true;
            break;
        default:
            break;
        }
    }
    return number ? Runs::Number : Runs::Neither;
}

bool is_without_spaces(UChar32 c) {
    UErrorCode none = U_ZERO_ERROR;
    switch (uscript_getScript(c, &none)) {
    case USCRIPT_HAN:
    case USCRIPT_HIRAGANA:
    case USCRIPT_KATAKANA:
        return true;
    default:
        return (c >= 0x3000 && c < 0x3040) || c == 0x30FC || (c >= 0xFF00 && c < 0xFF66); // their marks
    }
}

}

bool runs_right_to_left(const TextLine& line) {
    int left = 0, right = 0;
    for (const Word& word : line.words) {
        const Runs runs = direction_of(word);
        right += runs == Runs::Right ? 1 : 0;
        left += runs == Runs::Left ? 1 : 0;
    }
    const Script script = line.language.empty() ? Script::Other : script_of(line.language);
    if (script == Script::Hebrew || script == Script::Arabic) return right > 0;
    return right > left;
}

void put_in_logical_order(TextLine& line) {
    if (!runs_right_to_left(line)) return;
    auto& words = line.words;
    std::ranges::stable_sort(words, std::greater{}, [](const Word& w) { return 2 * w.box.x + w.box.width; });
    // From the right: a range without right-to-left words whose leftmost word is in Latin script is read from there.
    const auto goes_left = [](const Word& word) { return direction_of(word) == Runs::Right; };
    for (auto from = words.begin(); from != words.end();) {
        const auto to = std::find_if(from, words.end(), goes_left);
        auto last = to;
        while (last != from && direction_of(*(last - 1)) != Runs::Left) --last;
        auto first = from;
        while (first != last && direction_of(*first) == Runs::Neither) ++first;
        std::reverse(first, last);
        from = to == words.end() ? to : to + 1;
    }
}

std::string in_visual_order(const std::string& word) {
    const auto text = unicode(word);
    const auto is_right = [](UChar32 c) {
        return u_charDirection(c) == U_RIGHT_TO_LEFT || u_charDirection(c) == U_RIGHT_TO_LEFT_ARABIC;
    };
    bool any = false;
    for (int i = 0; i < text.length() && !any; i = text.moveIndex32(i, 1)) any = is_right(text.char32At(i));
    if (!any) return word;
    const std::unique_ptr<UBiDi, decltype(&ubidi_close)> bidi(ubidi_open(), ubidi_close);
    UErrorCode failed = U_ZERO_ERROR;
    ubidi_setPara(bidi.get(), text.getBuffer(), text.length(), UBIDI_RTL, nullptr, &failed);
    std::vector<UChar> turned(static_cast<size_t>(text.length()) + 1);
    const int length = ubidi_writeReordered(bidi.get(), turned.data(), static_cast<int>(turned.size()),
                                            UBIDI_KEEP_BASE_COMBINING, &failed);
    if (U_FAILURE(failed)) return word;
    std::string out;
    return icu::UnicodeString(turned.data(), length).toUTF8String(out);
}

std::string_view space_between(const Word& before, const Word& after) {
    const auto a = unicode(before.text), b = unicode(after.text);
    const bool goes_on = !a.isEmpty() && !b.isEmpty() && is_without_spaces(a.char32At(a.moveIndex32(a.length(), -1))) &&
                         is_without_spaces(b.char32At(0));
    return goes_on ? "" : " ";
}

}
