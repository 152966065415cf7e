#include "core/utf8.h"

#include <unicode/brkiter.h>
#include <unicode/uchar.h>
#include <unicode/unistr.h>
#include <unicode/utext.h>
#include <unicode/utf8.h>

#include <cstdint>
#include <memory>

namespace yelvin {

std::optional<char32_t> next_code_point(std::string_view text, size_t& at) {
    const auto* bytes = reinterpret_cast<const std::uint8_t*>(text.data());
    UChar32 c = 0;
    U8_NEXT(bytes, at, text.size(), c);
    if (c < 0) return std::nullopt;
    return static_cast<char32_t>(c);
}

std::string capitalised(std::string_view text) {
    if (text.empty()) return {};
    size_t rest = 0;
    const auto first = next_code_point(text, rest);
    if (!first) return std::string(text);
    std::string out;
    icu::UnicodeString(u_toupper(static_cast<UChar32>(*first))).toUTF8String(out);
    return out.append(text.substr(rest));
}

std::string_view cut_to_characters(std::string_view text, size_t most_bytes) {
    if (text.size() <= most_bytes) return text;
    UErrorCode status = U_ZERO_ERROR;
    const std::unique_ptr<UText, decltype([](UText* opened) { utext_close(opened); })> opened{
        utext_openUTF8(nullptr, text.data(), static_cast<std::int64_t>(text.size()), &status)};
    const std::unique_ptr<icu::BreakIterator> characters{
        icu::BreakIterator::createCharacterInstance(icu::Locale::getRoot(), status)};
    if (U_SUCCESS(status)) characters->setText(opened.get(), status);
    if (U_FAILURE(status)) return {}; // ICU's own data are missing
    const auto most = static_cast<std::int32_t>(most_bytes);
    const std::int32_t end = characters->isBoundary(most) ? most : characters->preceding(most);
    return text.substr(0, end == icu::BreakIterator::DONE ? 0 : static_cast<size_t>(end));
}

}
