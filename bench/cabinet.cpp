// The cabinet with a hundred thousand pages: how long a letter typed takes, a paper added, the opening; how large it is
// beside its plain text, with grep and a plain FTS5 table beside it.
//
// usage: yelvin-cabinet-bench FOLDER [PAGES]
#include "core/cabinet/cabinet_updater.h"
#include "core/cabinet/finding.h"

#include <SQLiteCpp/SQLiteCpp.h>
#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <fstream>
#include <random>
#include <string>
#include <vector>

using namespace yelvin;
namespace fs = std::filesystem;

namespace {

constexpr int words_a_page = 300, words_a_line = 10;

double ms_since(std::chrono::steady_clock::time_point begin) {
    return std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - begin).count();
}

// Words of hunspell's English dictionary as frequent as words are: the one at place r about 1 / (r + 2.7) times
// (Mandelbrot's form of Zipf's law, with his constant from memory).
class Language {
  public:
    Language() : random_(7) {
        std::ifstream in("/usr/share/hunspell/en_GB.dic");
        std::vector<std::string> all;
        for (std::string line; std::getline(in, line);)
            if (std::string word = line.substr(0, line.find('/'));
                !word.empty() && std::ranges::all_of(word, [](char c) { return c >= 'a' && c <= 'z'; }))
                all.push_back(word);
        // More common words are shorter, on average (Zipf's law of brevity).
        std::vector<std::pair<double, std::string>> order;
        std::normal_distribution<double> unrest(0, 2.5);
        for (std::string& word : all) order.emplace_back(static_cast<double>(word.size()) + unrest(random_), word);
        std::ranges::sort(order);
        for (size_t i = 0; i < all.size(); ++i) all[i] = order[i].second;
        words_ = {"the",  "of",    "and",   "to",   "a",   "in",   "is",   "that", "it",    "for",  "was",
                  "on",   "are",   "as",    "with", "be",  "at",   "by",   "this", "have",  "from", "or",
                  "had",  "not",   "but",   "what", "all", "were", "when", "we",   "there", "can",  "an",
                  "your", "which", "their", "said", "if",  "do",   "will", "each", "about"};
        words_.insert(words_.end(), all.begin(), all.end());
        std::vector<double> weights;
        for (size_t i = 0; i < words_.size(); ++i) weights.push_back(1 / (static_cast<double>(i) + 2.7));
        pick_ = std::discrete_distribution<size_t>(weights.begin(), weights.end());
    }
    const std::string& word() { return words_[pick_(random_)]; }
    const std::string& at(size_t rank) const { return words_[std::min(rank, words_.size() - 1)]; }
    size_t size() const { return words_.size(); }

    // Lays the words out on an A4 page as OCR of a scan would report them: each as wide as its letters, with small
    // errors of position.
    PageWords page() {
        constexpr double letter_mm = 2.1, line_mm = 6;
        std::normal_distribution<double> unrest(0, 0.08);
        PageWords page{210, 297, {}};
        for (int row = 0; row < words_a_page / words_a_line; ++row) {
            PlacedLine line{{}, "eng", row == 0};
            double x = 20;
            const double y = 30 + row * line_mm;
            for (int i = 0; i < words_a_line; ++i) {
                std::string text = word();
                if (i == 0 && row % 4 == 0) text[0] = static_cast<char>(text[0] - 32);
                if (i + 1 == words_a_line && row % 4 == 3) text += '.';
                double width = 0;
                for (const char c : text)
                    width += letter_mm * (std::string_view("iljtf.r").find(c) != std::string_view::npos ? 0.55
                                          : std::string_view("mw").find(c) != std::string_view::npos    ? 1.6
                                                                                                        : 1.0);
                const double top = text.find_first_of("bdfhklt") != std::string::npos ? 0 : 0.9;
                const double bottom = text.find_first_of("gjpqy") != std::string::npos ? 3.6 : 2.9;
                line.words.push_back({text,
                                      {x + unrest(random_), y + top + unrest(random_), width + unrest(random_),
                                       bottom - top + unrest(random_)}});
                x += width + 1.4;
            }
            page.lines.push_back(std::move(line));
        }
        return page;
    }

  private:
    std::mt19937 random_;
    std::vector<std::string> words_;
    std::discrete_distribution<size_t> pick_;
};

std::string memory_mb(const char* field) {
    std::ifstream in("/proc/self/status");
    for (std::string line; std::getline(in, line);)
        if (line.starts_with(field)) return fmt::format("{:.0f}", std::stod(line.substr(line.find(':') + 1)) / 1024);
    return "?";
}

std::uintmax_t size_of(const fs::path& folder) {
    std::uintmax_t sum = 0;
    for (const auto& each : fs::directory_iterator(folder))
        if (each.is_regular_file()) sum += each.file_size();
    return sum;
}

struct Filled {
    std::uintmax_t plain = 0;
    double seconds = 0;
};

NewPaper a_paper(Language& language, int number) {
    NewPaper paper;
    paper.file = fmt::format("/home/desk/Papers/{}/{:06}.pdf", number % 40, number);
    paper.ticket = number % 3 == 0 ? "Everyday paper" : "Mooring leases";
    paper.saved = std::chrono::sys_days(std::chrono::year(2016) / 1 / 1) + std::chrono::hours(number * 2 % 90000);
    paper.known.sender = language.at(static_cast<size_t>(200 + number % 150));
    for (int i = 0; i < 1 + number % 5; ++i) paper.words.push_back(language.page());
    return paper;
}

Filled fill(const fs::path& folder, int pages, Language& language, SQLite::Database& plain_fts,
            std::ofstream& plain_text) {
    Filled filled;
    auto cabinet = Cabinet::open(folder);
    std::vector<NewPaper> batch;
    int done = 0, number = 0, row = 0;
    SQLite::Statement insert(plain_fts, "INSERT INTO pages (rowid, words) VALUES (?, ?)");
    while (done < pages) {
        batch.clear();
        const int most = done == 0 ? 1200 : 3000;
        for (int count = 0; count < most && done < pages;) {
            batch.push_back(a_paper(language, ++number));
            count += static_cast<int>(batch.back().words.size());
            done += static_cast<int>(batch.back().words.size());
        }
        SQLite::Transaction transaction(plain_fts);
        for (const NewPaper& paper : batch)
            for (const PageWords& page : paper.words) {
                const std::string text = packed_text(page);
                insert.bind(1, ++row);
                insert.bind(2, text);
                insert.exec();
                insert.reset();
                plain_text << text << "\n\f";
                filled.plain += text.size() + 2;
            }
        transaction.commit();
        const auto begin = std::chrono::steady_clock::now();
        if (auto added = cabinet->add(batch); !added) fmt::print("{}\n", added.error().sentence);
        if (done <= 1500 || done >= pages)
            while (cabinet->do_upkeep().value_or(false)) {
            }
        filled.seconds += ms_since(begin) / 1000;
    }
    return filled;
}

void say(const char* what, std::vector<double> ms) {
    std::ranges::sort(ms);
    fmt::print("{}: {:.1f} ms median, {:.1f} ms at worst, of {}\n", what, ms[ms.size() / 2], ms.back(), ms.size());
}

// Types queries of three words each, of all frequencies, letter by letter.
void type(const fs::path& folder, Language& language) {
    const auto begin = std::chrono::steady_clock::now();
    auto finder = Finder::open(folder);
    const auto today = std::chrono::year(2026) / 11 / 27;
    auto first = finder->find("", {}, 50, today);
    fmt::print("cabinet opened, the newest papers shown (goal: 200 ms): {:.0f} ms\n", ms_since(begin));
    std::mt19937 random(3);
    std::vector<double> all, words;
    std::string slowest;
    double most = 0;
    for (int i = 0; i < 60; ++i) {
        std::string typed;
        for (int k = 0; k < 3; ++k) {
            const double place = std::pow(std::uniform_real_distribution(0.0, 1.0)(random), 3);
            std::string word = language.at(static_cast<size_t>(place * static_cast<double>(language.size() - 1)));
            if (i < 4) word = language.at(static_cast<size_t>(i * 3 + k)); // the commonest of all
            for (const char c : word) {
                typed += c;
                const auto key = std::chrono::steady_clock::now();
                auto found = finder->find(typed, {}, 50, today);
                all.push_back(ms_since(key));
                if (all.back() > most) {
                    most = all.back();
                    slowest = typed;
                }
            }
            typed += ' ';
        }
        const auto whole = std::chrono::steady_clock::now();
        auto fresh = Finder::open(folder);
        auto found = fresh->find(typed, {}, 50, today);
        words.push_back(ms_since(whole));
    }
    say("a letter typed (goals: 50 and 100 ms)", all);
    fmt::print("   the slowest was \"{}\"\n", slowest);
    say("three words at once, opened anew", words);
}

void add_some(const fs::path& folder, Language& language) {
    auto cabinet = Cabinet::open(folder);
    (void)cabinet->do_upkeep(); // as the window does it after its start, and behind each
    std::vector<double> ms;
    for (int i = 0; i < 40; ++i) {
        const NewPaper paper = a_paper(language, 10'000'000 + i);
        const auto begin = std::chrono::steady_clock::now();
        auto added = cabinet->add(paper);
        ms.push_back(ms_since(begin));
        (void)cabinet->do_upkeep();
    }
    say("a paper of one to five pages added (goal: 100 ms)", ms);
}

void beside(SQLite::Database& plain, const fs::path& text, Language& language) {
    std::vector<double> ms, grep;
    for (const size_t rank : {5, 80, 500, 3000, 12000}) {
        const std::string& word = language.at(rank);
        auto begin = std::chrono::steady_clock::now();
        SQLite::Statement row(plain, "SELECT rowid FROM pages WHERE pages MATCH ? ORDER BY rank LIMIT 50");
        row.bind(1, "\"" + word + "\" *");
        while (row.executeStep()) {
        }
        ms.push_back(ms_since(begin));
        begin = std::chrono::steady_clock::now();
        if (std::system(fmt::format("LC_ALL=C grep -c -w -F {} {} > /dev/null", word, text.string()).c_str()) < 0)
            return;
        grep.push_back(ms_since(begin));
    }
    say("   a plain FTS5 table, ordered by its rank", ms);
    say("   grep over the plain text", grep);
}

// Checks where the files are, with a hundred thousand documents of which a hundred are known to be missing: when the
// cabinet is opened, and at an event in one folder in which nothing has changed.
void look_after_many(const fs::path& work) {
    constexpr int papers = 100'000, a_folder = 500, gone = 100;
    const fs::path files = work / "files";
    auto cabinet = Cabinet::open(work / "many");
    if (!cabinet) return;
    std::vector<NewPaper> some;
    for (int i = 0; i < papers; ++i) {
        NewPaper paper;
        paper.file = files / fmt::format("{:04}", i / a_folder) / fmt::format("Lease {:06}.pdf", i);
        if (i % a_folder == 0) fs::create_directories(paper.file.parent_path());
        if (i >= gone) std::ofstream(paper.file).put('x');
        if (const auto mark = quick_mark_of(paper.file)) paper.mark = *mark;
        paper.mark.contents = fmt::format("contents {}", i);
        paper.place = i < gone ? Place::Gone : Place::Here;
        paper.words.resize(1);
        some.push_back(std::move(paper));
        if (some.size() < 2000) continue;
        (void)cabinet->add(some);
        some.clear();
    }
    CabinetUpdater taking(*cabinet, common_paper_words(), {}, {});
    const auto old = fs::file_time_type::clock::now() - std::chrono::hours(1); // as if nothing had happened for long
    for (const auto& folder : fs::directory_iterator(files)) fs::last_write_time(folder.path(), old);
    (void)taking.look_after(); // the first time it looks into all of them
    auto begin = std::chrono::steady_clock::now();
    const auto opening = taking.look_after();
    const double opening_ms = ms_since(begin);
    begin = std::chrono::steady_clock::now();
    const auto event = taking.look_into(files / "0007");
    fmt::print("{} papers, {} of them gone: {:.0f} ms of looking at the opening, {:.0f} ms at an event (goals: 50){}\n",
               papers, gone, opening_ms, ms_since(begin),
               opening && event && opening->nothing() && event->nothing() ? "" : "; something was found");
}

}

int main(int argc, char** argv) {
    if (argc < 2) return 2;
    if (argc > 2 && std::string(argv[2]) == "look") {
        fs::create_directories(argv[1]);
        look_after_many(argv[1]);
        return 0;
    }
    const fs::path work = argv[1], folder = work / "cabinet";
    const int pages = argc > 2 ? std::stoi(argv[2]) : 100'000;
    fs::remove_all(work);
    fs::create_directories(folder);
    Language language;
    SQLite::Database plain((work / "plain.sqlite").string(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
    plain.exec("PRAGMA journal_mode = OFF");
    plain.exec("CREATE VIRTUAL TABLE pages USING fts5(words)");
    std::ofstream text(work / "plain.txt");
    const Filled filled = fill(folder, pages, language, plain, text);
    text.close();
    fmt::print("cabinet of {} pages, {} words each: {:.1f} ms a page to take in\n", pages, words_a_page,
               filled.seconds * 1000 / pages);
    const auto mb = [](std::uintmax_t bytes) { return static_cast<double>(bytes) / 1e6; };
    fmt::print(
        "   {:.1f} MB, {:.3f} of the plain text's {:.1f} MB (goal: 1.3); a plain FTS5 table, without places: {:.2f}\n",
        mb(size_of(folder)), mb(size_of(folder)) / mb(filled.plain), mb(filled.plain),
        mb(fs::file_size(work / "plain.sqlite")) / mb(filled.plain));
    type(folder, language);
    beside(plain, work / "plain.txt", language);
    add_some(folder, language);
    look_after_many(work);
    fmt::print("memory (goal: 200 MB): {} MB at most\n", memory_mb("VmHWM"));
}
