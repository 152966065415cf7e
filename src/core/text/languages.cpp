#include "core/text/languages.h"

#include <unicode/normalizer2.h>
#include <unicode/uchar.h>
#include <unicode/uloc.h>
#include <unicode/unistr.h>
#include <unicode/uscript.h>

#include <algorithm>
#include <array>
#include <map>
#include <set>
#include <sstream>

namespace yelvin {

namespace {

// The most frequent words of each language, without accents. From memory; common practice, no source.
const std::map<std::string, const char*, std::less<>>& common_words() {
    static const std::map<std::string, const char*, std::less<>> words{
        {"eng", "the of and to in is that for it with as was on are be by this not from at which have or an your"},
        {"deu",
         "der die und das in zu den ist von mit nicht ein eine dem des auf fur im auch sich wird werden bei sie"},
        {"fra", "de la le les et des en un une du est que dans pour qui sur par au pas avec il vous nous ce ou aux"},
        {"spa", "de la que el en y los se del las un por con una para es al lo como su no esta mas"},
        {"ita", "di e il la che in un per una del le si con della dei al non da sono alla gli nel anche"},
        {"por", "de a o que e do da em um para com uma os no se na por as dos nao mais ao das pelo"},
        {"cat", "de la i el que en a les per un una els amb del es al dels no com mes aquest"},
        {"ron", "de si in a la cu pe din o nu care pentru este sa un se mai prin au fost"},
        {"nld", "de het een van en in is dat op te zijn met voor niet aan er om ook als bij wordt uit door"},
        {"dan", "og i at det er en til af pa for med den de ikke som der et har fra kan var eller blev"},
        {"nor", "og i det er til av en pa for som med ikke de den at et har fra kan ble eller om"},
        {"swe", "och i att det som en pa ar av for med den till inte ett om de har fran kan var eller"},
        {"fin", "ja on ei se etta oli joka mutta tai ovat kun myos sen han ole kanssa mita kuin hanen"},
        {"est", "ja on ei et see oli ka mis kui oma voi siis aga ning selle tema ta mida"},
        {"pol", "w i na z do nie sie jest o ze to po od przez za jak oraz dla lub ktory ktore przy"},
        {"ces", "a v na se je ze s z do o i k pro to jako za by po od ve jsou nebo pri"},
        {"slk", "a v na sa je ze s z do o i k pre to ako za by po od vo su alebo pri"},
        {"slv", "in v na se je da za z so ki pa s po o od bi kot ali ter tudi pri"},
        {"hrv", "i u na se je da za od su s o koji kao ili ali sa iz po te nije bi"},
        {"hun", "a az es hogy nem is egy van meg ez de volt csak el mint vagy ki ha ezt szerint"},
        {"tur", "ve bir bu da de icin ile olarak daha olan ne gibi cok var en kadar sonra ise veya"},
        {"lav", "un ir no ar uz ka par lai tas ka bet vai pie ari to kas tika gada"},
        {"lit", "ir kad yra su i is del apie kaip bet ar tai po uz nuo buvo pagal jo"},
        {"lat", "et in est non ad ut cum quod qui sed ex per si quae ab esse aut enim"},
        {"rus", "и в не на что с по как это к из у за от для о при или его быть"},
        {"ukr", "і в не на що з та до як це у за від для про або із його бути при"},
        {"bul", "и на в да за се от не с е по като че са или при до със това което"},
        {"srp", "и у на се је да за од су с о који као или али са из по те није"},
        {"bel", "і ў не на што з да як гэта у за ад для пра або яго быць па"},
        {"ell", "και το να του η της με που την από για ο τα στο είναι των σε τον οι στην"},
        {"heb", "של את על לא הוא אל כי גם או זה אם היא עם יש אשר כל אין בין"},
        {"ara", "في من على إلى أن التي الذي عن مع هذا هذه لا ما أو كان"},
        {"fas", "و در به از که این را با است برای آن یک خود تا کرد بر هم"}};
    return words;
}

// Returns the word in lower case without accents.
std::string folded(std::string_view word) {
    UErrorCode none = U_ZERO_ERROR;
    const icu::Normalizer2* decompose = icu::Normalizer2::getNFDInstance(none);
    icu::UnicodeString text = icu::UnicodeString::fromUTF8({word.data(), static_cast<int>(word.size())});
    if (U_SUCCESS(none)) text = decompose->normalize(text, none);
    icu::UnicodeString out;
    for (int i = 0; i < text.length(); i = text.moveIndex32(i, 1)) {
        const UChar32 c = text.char32At(i);
        if (u_charType(c) != U_NON_SPACING_MARK && u_isalpha(c)) out.append(u_tolower(c));
    }
    std::string utf8;
    return out.toUTF8String(utf8);
}

const std::set<std::string>& common_words_of(const std::string& language) {
    static const auto all = [] {
        std::map<std::string, std::set<std::string>> sets;
        for (const auto& [name, list] : common_words()) {
            std::istringstream in(list);
            for (std::string word; in >> word;) sets[name].insert(folded(word));
        }
        return sets;
    }();
    static const std::set<std::string> none;
    const auto at = all.find(language);
    return at == all.end() ? none : at->second;
}

}

Script script_of(std::string_view language) {
    static const std::map<std::string_view, Script> scripts{
        {"ell", Script::Greek},       {"grc", Script::Greek},    {"bel", Script::Cyrillic},
        {"bul", Script::Cyrillic},    {"kaz", Script::Cyrillic}, {"kir", Script::Cyrillic},
        {"mkd", Script::Cyrillic},    {"mon", Script::Cyrillic}, {"rus", Script::Cyrillic},
        {"srp", Script::Cyrillic},    {"tgk", Script::Cyrillic}, {"ukr", Script::Cyrillic},
        {"heb", Script::Hebrew},      {"yid", Script::Hebrew},   {"ara", Script::Arabic},
        {"fas", Script::Arabic},      {"pus", Script::Arabic},   {"snd", Script::Arabic},
        {"uig", Script::Arabic},      {"urd", Script::Arabic},   {"chi_sim", Script::Chinese},
        {"chi_tra", Script::Chinese}, {"jpn", Script::Japanese}, {"kor", Script::Korean},
        {"amh", Script::Other},       {"asm", Script::Other},    {"ben", Script::Other},
        {"bod", Script::Other},       {"chr", Script::Other},    {"div", Script::Other},
        {"dzo", Script::Other},       {"guj", Script::Other},    {"hin", Script::Other},
        {"hye", Script::Other},       {"iku", Script::Other},    {"kan", Script::Other},
        {"kat", Script::Other},       {"khm", Script::Other},    {"lao", Script::Other},
        {"mal", Script::Other},       {"mar", Script::Other},    {"mya", Script::Other},
        {"nep", Script::Other},       {"ori", Script::Other},    {"pan", Script::Other},
        {"san", Script::Other},       {"sin", Script::Other},    {"syr", Script::Other},
        {"tam", Script::Other},       {"tel", Script::Other},    {"tha", Script::Other},
        {"tir", Script::Other}};
    const auto at = scripts.find(language);
    return at == scripts.end() ? Script::Latin : at->second;
}

std::optional<Script> script_of_letters(std::string_view word) {
    const auto text = icu::UnicodeString::fromUTF8({word.data(), static_cast<int>(word.size())});
    for (int i = 0; i < text.length(); i = text.moveIndex32(i, 1)) {
        const UChar32 c = text.char32At(i);
        if (!u_isalpha(c)) continue;
        UErrorCode failed = U_ZERO_ERROR;
        switch (uscript_getScript(c, &failed)) {
        case USCRIPT_LATIN:
            return Script::Latin;
        case USCRIPT_GREEK:
            return Script::Greek;
        case USCRIPT_CYRILLIC:
            return Script::Cyrillic;
        case USCRIPT_HEBREW:
            return Script::Hebrew;
        case USCRIPT_ARABIC:
            return Script::Arabic;
        case USCRIPT_HIRAGANA:
        case USCRIPT_KATAKANA:
            return Script::Japanese;
        case USCRIPT_HAN: // Japanese as well as Chinese
            return std::nullopt;
        case USCRIPT_HANGUL:
            return Script::Korean;
        default:
            return Script::Other;
        }
    }
    return std::nullopt;
}

std::string language_words(const std::string& language) {
    if (language == own_words) return "the text in the file";
    constexpr std::string_view downwards = "_vert"; // Vertical text has data of its own, beside those of the language.
    if (language.ends_with(downwards))
        return language_words(language.substr(0, language.size() - downwards.size())) + ", written downwards";
    if (language == "chi_sim") return "Chinese, simplified";
    if (language == "chi_tra") return "Chinese, traditional";
    std::array<UChar, 100> name{};
    UErrorCode failed = U_ZERO_ERROR;
    const int length = uloc_getDisplayLanguage(language.c_str(), "en", name.data(), name.size(), &failed);
    if (U_FAILURE(failed) || length == 0) return language;
    std::string out;
    return icu::UnicodeString(name.data(), length).toUTF8String(out);
}

std::vector<std::string> languages_meant(const std::vector<std::string>& asked,
                                         const std::vector<std::string>& installed) {
    const auto asks_for = [&](std::string_view what) { return std::ranges::find(asked, what) != asked.end(); };
    if (!asks_for(automatic_language) && !asks_for(own_words)) return asked;
    std::vector<std::string> meant = installed;
    // These are not languages: equations, vertical text, and data for whole scripts.
    std::erase_if(meant, [](const std::string& name) {
        return name == "equ" || name == "osd" || name == "snum" || name.ends_with("_vert") || name.contains('/');
    });
    std::ranges::stable_partition(meant, [](const std::string& name) { return name == "eng"; });
    return meant;
}

std::vector<LanguageVote> votes_for(const std::vector<std::string>& words, const std::vector<std::string>& among) {
    std::vector<std::string> plain;
    for (const std::string& word : words)
        if (std::string letters = folded(word); !letters.empty()) plain.push_back(std::move(letters));
    std::vector<LanguageVote> votes;
    for (const std::string& language : among) {
        const auto& common = common_words_of(language);
        if (common.empty()) continue;
        const auto hits = std::ranges::count_if(plain, [&](const std::string& w) { return common.contains(w); });
        votes.push_back({language, plain.empty() ? 0 : static_cast<double>(hits) / static_cast<double>(plain.size()),
                         static_cast<int>(hits)});
    }
    std::ranges::stable_sort(votes, std::greater{}, &LanguageVote::words);
    return votes;
}

bool is_clear(const std::vector<LanguageVote>& votes) {
    if (votes.empty() || votes.front().words < 3 || votes.front().share < 1.0 / 7) return false;
    return votes.size() == 1 || votes[0].words >= 1.5 * votes[1].words;
}

}
