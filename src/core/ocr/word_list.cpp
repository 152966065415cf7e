#include "core/ocr/word_list.h"

#include "core/ocr/word_counts.h"

#include <hunspell/hunspell.hxx>
#include <unicode/uchar.h>
#include <unicode/unistr.h>

#include <algorithm>
#include <array>
#include <cctype>
#include <filesystem>
#include <map>
#include <unordered_map>
#include <utility>

namespace yelvin {

namespace fs = std::filesystem;

namespace {

// The file names of dictionaries by language. The first one that exists is used.
const std::map<std::string, std::vector<std::string>>& file_names() {
    static const std::map<std::string, std::vector<std::string>> names{
        {"bul", {"bg_BG"}},       {"cat", {"ca"}},    {"ces", {"cs_CZ"}},          {"dan", {"da_DK"}},
        {"deu", {"de_DE"}},       {"ell", {"el_GR"}}, {"eng", {"en_GB", "en_US"}}, {"est", {"et_EE"}},
        {"fra", {"fr_FR", "fr"}}, {"heb", {"he_IL"}}, {"hrv", {"hr_HR"}},          {"hun", {"hu_HU"}},
        {"ita", {"it_IT"}},       {"lav", {"lv_LV"}}, {"lit", {"lt_LT"}},          {"nld", {"nl_NL"}},
        {"nor", {"nb_NO"}},       {"pol", {"pl_PL"}}, {"por", {"pt_PT"}},          {"ron", {"ro_RO"}},
        {"rus", {"ru_RU"}},       {"slk", {"sk_SK"}}, {"slv", {"sl_SI"}},          {"spa", {"es_ES"}},
        {"swe", {"sv_SE"}},       {"tur", {"tr_TR"}}, {"ukr", {"uk_UA"}}};
    return names;
}

// The folders with word counts: of this program's installation or build, and of Debian's package.
std::vector<fs::path> count_folders() {
    std::error_code none;
    std::vector<fs::path> folders;
    fs::path above = fs::read_symlink("/proc/self/exe", none);
    for (int i = 0; i < 4 && above.has_relative_path(); ++i) {
        above = above.parent_path();
        folders.push_back(above / "share/yelvin/word-counts");
    }
    folders.emplace_back("/usr/share/onboard/models");
    return folders;
}

WordCounts counts_of(const std::string& language) {
    const auto names = file_names().find(language);
    if (names == file_names().end()) return {};
    for (const fs::path& folder : count_folders())
        for (const std::string& name : names->second) {
            const fs::path file = folder / (name + ".lm");
            std::error_code none;
            if (fs::exists(file, none)) return WordCounts(file);
        }
    return {};
}

// The range from the first to one past the last letter or digit.
std::pair<size_t, size_t> without_marks(std::string_view word) {
    const auto inner = [](unsigned char c) { return std::isalnum(c) || c >= 0x80; };
    size_t from = 0, to = word.size();
    while (from < to && !inner(static_cast<unsigned char>(word[from]))) ++from;
    while (to > from && !inner(static_cast<unsigned char>(word[to - 1]))) --to;
    return {from, to};
}

// Whether the word is an e-mail address, a web address or a file name.
bool is_address(std::string_view word) {
    if (word.contains('@') || word.contains("://") || word.starts_with("www.")) return true;
    while (!word.empty() && !std::isalnum(static_cast<unsigned char>(word.back()))) word.remove_suffix(1);
    const size_t dot = word.rfind('.');
    if (dot == std::string_view::npos || dot == 0) return false;
    const std::string_view last = word.substr(dot + 1);
    for (const char* known : {"com", "org", "net", "eu", "info", "gov", "edu", "example", "pdf", "jpg", "doc", "txt"})
        if (last == known) return true;
    return last.size() == 2 && std::islower(static_cast<unsigned char>(last[0])) &&
           std::islower(static_cast<unsigned char>(last[1]));
}

bool is_letter(UChar32 c) { return u_isalpha(c) || u_charType(c) == U_NON_SPACING_MARK; }

}

struct WordList::Dictionaries {
    std::vector<std::string> languages; // those that are not loaded yet
    std::vector<std::unique_ptr<Hunspell>> all;
    std::unordered_map<std::string, bool> asked; // a page says the same words again and again
    std::string counted_language;                // until the counts are there
    WordCounts counts;

    const WordCounts& loaded_counts() {
        if (const std::string language = std::exchange(counted_language, {}); !language.empty())
            counts = counts_of(language);
        return counts;
    }

    void load() {
        const fs::path folder = "/usr/share/hunspell";
        for (const std::string& language : std::exchange(languages, {})) {
            const auto names = file_names().find(language);
            if (names == file_names().end()) continue;
            for (const std::string& name : names->second) {
                const fs::path rules = folder / (name + ".aff"), words = folder / (name + ".dic");
                std::error_code none;
                if (!fs::exists(rules, none) || !fs::exists(words, none)) continue;
                all.push_back(std::make_unique<Hunspell>(rules.c_str(), words.c_str()));
                break;
            }
        }
    }

    bool has(const icu::UnicodeString& word) {
        std::string utf8;
        word.toUTF8String(utf8);
        if (const auto at = asked.find(utf8); at != asked.end()) return at->second;
        bool found = false;
        for (const auto& dictionary : all) {
            const std::string& encoding = dictionary->get_dict_encoding();
            std::string own = utf8;
            if (encoding != "UTF-8") {
                std::array<char, 400> bytes{};
                const int length = word.extract(0, word.length(), bytes.data(), bytes.size() - 1, encoding.c_str());
                own.assign(bytes.data(), static_cast<size_t>(std::min<int>(length, bytes.size() - 1)));
            }
            if ((found = dictionary->spell(own))) break;
        }
        if (asked.size() > 20000) asked.clear(); // 2 MB
        asked.emplace(std::move(utf8), found);
        return found;
    }
};

WordList::WordList(const std::vector<std::string>& languages) : dictionaries_(std::make_unique<Dictionaries>()) {
    dictionaries_->languages = languages;
    if (!languages.empty()) dictionaries_->counted_language = languages.front();
}
WordList::~WordList() = default;
WordList::WordList(WordList&&) noexcept = default;
WordList& WordList::operator=(WordList&&) noexcept = default;

void WordList::load() {
    dictionaries_->load();
    dictionaries_->loaded_counts();
}

WordList::Known WordList::knows(std::string_view word) {
    dictionaries_->load();
    if (dictionaries_->all.empty() || word.size() > 100) return Known::CannotTell;
    const auto text = icu::UnicodeString::fromUTF8({word.data(), static_cast<int>(word.size())});
    int first = 0, last = text.length();
    while (first < last && !u_isalnum(text.char32At(first))) ++first;
    while (last > first && !u_isalnum(text.char32At(last - 1))) --last;
    icu::UnicodeString part;
    int parts = 0, capitals = 0;
    bool all_known = true;
    const auto ask = [&] {
        if (part.length() > 1) {
            ++parts;
            all_known = all_known && dictionaries_->has(part);
        }
        part.remove();
    };
    for (int i = first; i < last; i = text.moveIndex32(i, 1)) {
        const UChar32 c = text.char32At(i);
        if (u_isdigit(c)) return Known::CannotTell;
        capitals += u_isupper(c) ? 1 : 0;
        if (is_letter(c))
            part.append(c);
        else if (c == '-' || c == '\'' || c == 0x2019 || c == '/')
            ask();
        else
            return is_address(word) ? Known::CannotTell : Known::No; // The word contains another mark.
    }
    ask();
    if (parts == 0 || last - first < 2 || (capitals == last - first && last - first < 5)) return Known::CannotTell;
    return all_known ? Known::Yes : Known::No;
}

std::optional<double> WordList::log_share(std::string_view word) {
    const auto [from, to] = without_marks(word);
    std::string inner(word.substr(from, to - from));
    const WordCounts& counts = dictionaries_->loaded_counts();
    const auto share = counts.log_share(inner);
    if (!share || inner.empty()) return share;
    inner.front() = static_cast<char>(std::tolower(static_cast<unsigned char>(inner.front())));
    return std::max(*share, *counts.log_share(inner));
}

std::vector<std::string> WordList::near(std::string_view word, size_t most) {
    const auto [from, to] = without_marks(word);
    std::vector<std::string> out;
    for (std::string& other : dictionaries_->loaded_counts().near(word.substr(from, to - from), most)) {
        if (knows(other) != Known::Yes) continue;
        other.insert(0, word.substr(0, from));
        other += word.substr(to);
        out.push_back(std::move(other));
    }
    return out;
}

}
