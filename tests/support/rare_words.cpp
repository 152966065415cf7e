#include "support/rare_words.h"

#include "core/ocr/word_list.h"
#include "support/hard_pages.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <array>
#include <cctype>
#include <fstream>
#include <random>
#include <set>
#include <sstream>

namespace yelvin::test {

namespace {

// The names in one of the package's tables, word by word.
void add_names(std::set<std::string>& names, const char* table) {
    std::ifstream in(std::string("/usr/share/iso-codes/json/iso_") + table + ".json");
    const auto table_of = nlohmann::json::parse(in);
    for (const auto& entry : table_of.front()) {
        std::istringstream words(entry.at("name").get<std::string>());
        for (std::string word; words >> word;) names.insert(word);
    }
}

// Names of programs: those of POSIX's list of utilities (from memory), and names made of two words.
constexpr std::array commands{
    "awk",     "basename", "bc",      "chgrp",    "chmod",    "chown",     "cksum",     "cmp",      "crontab",
    "csplit",  "ctags",    "dirname", "df",       "du",       "expr",      "fuser",     "gencat",   "getconf",
    "getopts", "grep",     "iconv",   "ipcrm",    "ipcs",     "lex",       "localedef", "logname",  "mailx",
    "mkdir",   "mkfifo",   "newgrp",  "nohup",    "pathchk",  "qalter",    "qdel",      "qhold",    "qmove",
    "qstat",   "renice",   "rmdir",   "sed",      "stty",     "strip",     "tput",      "tsort",    "tty",
    "ulimit",  "unalias",  "uname",   "unexpand", "uniq",     "uucp",      "uudecode",  "uuencode", "uustat",
    "uux",     "xargs",    "yacc",    "zcat",     "worktree", "submodule", "filetype",  "popfile",  "mountinfo"};

std::vector<std::string> surnames() {
    constexpr std::array first{"Zet", "Sten", "Wim", "Jev", "Vos", "Jun", "Ilm", "Lus", "Cor", "Tav",  "Osk",
                               "Fim", "Hob",  "Ket", "Mun", "Rin", "Sib", "Ust", "Xan", "Yor", "Clem", "Iver"};
    constexpr std::array last{"mor",  "bar", "er",  "io",  "ell", "ing", "ovic",
                              "stra", "ick", "aux", "wen", "lin", "rni", "tz"};
    // Words that a confusion of letters turns into common ones: "lever", "letter", "lower".
    std::vector<std::string> all{"Jever", "Jetter", "Jower",  "Jocke", "Jast",  "Jandau", "Junio", "Jiner",
                                 "Tamp",  "Fock",   "Ciose",  "Bnt",   "Heil",  "Rernes", "Modem", "Clern",
                                 "Vard",  "Iohn",   "Oidham", "Pauf",  "Stoue", "Barnett"};
    for (const char* a : first)
        for (const char* b : last) all.push_back(std::string(a) + b);
    return all;
}

bool is_of_letters(const std::string& word) {
    return word.size() >= 3 && word.size() <= 14 &&
           std::ranges::all_of(word, [](unsigned char c) { return std::isalpha(c) || c >= 0x80; });
}

// The English language data know the accented letters of Latin-1 only.
bool is_readable(const std::string& word) {
    for (size_t i = 0; i < word.size(); ++i) {
        const auto c = static_cast<unsigned char>(word[i]);
        if (c < 0x80) continue;
        if (c != 0xC3 || ++i >= word.size()) return false;
    }
    return true;
}

const std::vector<std::string>& rare_words() {
    static const std::vector<std::string> words = [] {
        WordList english({"eng"});
        std::set<std::string> names;
        add_names(names, "3166-2");
        add_names(names, "639-3");
        std::erase_if(names, [&](const std::string& word) {
            return !is_of_letters(word) || !is_readable(word) || english.knows(word) != WordList::Known::No;
        });
        std::vector<std::string> all;
        for (size_t i = 0; const std::string& name : names) {
            all.push_back(name);
            if (++i % 4 == 0 && static_cast<unsigned char>(name.front()) < 0x80) { // as a term
                all.push_back(name);
                all.back().front() = static_cast<char>(std::tolower(static_cast<unsigned char>(name.front())));
            }
        }
        for (const std::string& name : surnames())
            if (english.knows(name) == WordList::Known::No) all.push_back(name);
        for (int i = 0; i < 3; ++i)
            for (const char* name : commands)
                if (english.knows(name) == WordList::Known::No) all.emplace_back(name);
        std::mt19937 random(3);
        std::shuffle(all.begin(), all.end(), random);
        return all;
    }();
    return words;
}

// Every second word of a sentence is a rare one, and every fourth sentence is a list of them.
std::vector<std::string> rare_sentences(unsigned seed, size_t from, size_t every) {
    std::vector<std::string> own;
    for (size_t i = from; i < rare_words().size(); i += every) own.push_back(rare_words()[i]);
    std::mt19937 random(seed);
    std::shuffle(own.begin(), own.end(), random);
    size_t next = 0;
    const auto rare = [&] { return own[next++ % own.size()]; };
    std::vector<std::string> out;
    for (const std::string& sentence : harbour_sentences(seed)) {
        std::istringstream words(sentence);
        std::string mixed, list;
        for (std::string word; words >> word;) mixed += (mixed.empty() ? "" : " ") + word + " " + rare();
        for (int i = 0; i < 8; ++i) list += (list.empty() ? "" : ", ") + rare();
        out.push_back(mixed);
        if (out.size() % 3 == 1) out.push_back(list);
    }
    return out;
}

const Word* at(const TextLayer& layer, cv::Point place) {
    for (const TextLine& line : layer.lines)
        for (const Word& word : line.words)
            if (word.box.contains(place)) return &word;
    return nullptr;
}

}

RarePage rare_page(unsigned number, size_t from, size_t every) {
    constexpr std::array faces{"Liberation Serif", "Liberation Sans", "URW Bookman", "Nimbus Mono PS"};
    const char* face = faces[number / 2 % faces.size()];
    const auto set = [&](const Look& look) { return set_words(look, rare_sentences(number, from, every)); };
    SetPage page =
        number % 2 == 0 ? clean_page_with(face, set) : hard_page_with(number / 2 % hard_kinds(), number, face, set);
    return {number % 2 == 0 ? "clean" : hard_kind(number / 2 % hard_kinds()), std::move(page.scanned),
            std::move(page.placed)};
}

void RareCount::add(const std::vector<Placed>& placed, const TextLayer& first, const TextLayer& last, double dpi) {
    WordList english({"eng"});
    for (const Placed& word : placed) {
        const std::string printed = letters_of(word.text);
        if (!is_of_letters(printed) || english.knows(printed) != WordList::Known::No) continue;
        const double a_letter = 0.2 * 11; // mm, roughly: within the word whatever its face
        const cv::Point place(static_cast<int>((word.x + 0.4 * a_letter) * dpi / 25.4),
                              static_cast<int>((word.y - 0.3 * a_letter) * dpi / 25.4));
        const Word *before = at(first, place), *after = at(last, place);
        const bool was = before && letters_of(before->text) == printed,
                   is = after && letters_of(after->text) == printed;
        correct += was ? 1 : 0;
        wrong += was ? 0 : 1;
        mended += !was && is ? 1 : 0;
        if (was && !is) changed.push_back({printed, after ? after->text : "", before->confidence});
    }
}

}
