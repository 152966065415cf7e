// How many words of hard pages are read: clean ones by the engine, hard ones by the engine alone and by us, with the
// times. Arguments: seeds, part of a kind's name, anything to have the words told that differ.
#include "core/ocr/reader.h"
#include "core/paper_facts/paper_facts.h"
#include "core/raster/pix.h"
#include "support/hard_pages.h"
#include "support/papers.h"
#include "support/support.h"

#include <fmt/format.h>
#include <fmt/ranges.h>
#include <omp.h>
#include <tesseract/baseapi.h>

#include <algorithm>
#include <array>
#include <atomic>
#include <chrono>
#include <fstream>
#include <sstream>
#include <sys/wait.h>
#include <thread>
#include <tuple>
#include <unistd.h>

namespace {

using namespace yelvin;
using namespace yelvin::test;

struct Reading {
    WordCount words;
    double seconds = 0;
    void add(const WordCount& count, double took) { words += count, seconds += took; }
};

// The words read that are not on the page, and the words of the page that were not read.
bool tell_words = false;

void tell(const HardPage& page, std::vector<std::string> read) {
    std::vector<std::string> truth = page.words, lost, invented;
    std::ranges::sort(truth);
    std::ranges::sort(read);
    std::ranges::set_difference(truth, read, std::back_inserter(lost));
    std::ranges::set_difference(read, truth, std::back_inserter(invented));
    fmt::print("  not read: {}; not there: {}\n", fmt::join(lost, " "), fmt::join(invented, " "));
}

template <class Read>
void measure(Reading& into, const HardPage& page, Read read) {
    const auto start = std::chrono::steady_clock::now();
    std::istringstream text(read());
    const double took = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
    std::vector<std::string> words;
    for (std::string word; text >> word;) words.push_back(word);
    into.add(count_words(page.words, words), took);
    if (tell_words) tell(page, std::move(words));
}

// As Tesseract's own command line does it.
std::string alone(tesseract::TessBaseAPI& engine, const Raster& page) {
    const PixPtr pix = to_pix(page);
    engine.SetPageSegMode(tesseract::PSM_AUTO);
    engine.SetImage(pix.get());
    engine.SetSourceResolution(static_cast<int>(page.dpi));
    engine.Recognize(nullptr);
    const std::unique_ptr<char[]> text{engine.GetUTF8Text()};
    engine.Clear();
    return text ? text.get() : "";
}

double private_mb() {
    std::ifstream status("/proc/self/status");
    for (std::string line; std::getline(status, line);)
        if (line.starts_with("RssAnon:")) return std::stod(line.substr(8)) / 1024;
    return 0;
}

// Returns the largest private memory of a separate process while it reads the second of two pages. The page is
// included.
template <class Prepare>
double most_mb_of(Prepare prepare) {
    std::array<int, 2> ends{};
    if (pipe(ends.data()) != 0) return 0;
    if (const pid_t child = fork(); child == 0) {
        const std::function<void()> read = prepare();
        read();
        double most = 0;
        std::atomic<bool> done = false;
        std::thread watch([&] {
            for (; !done; std::this_thread::sleep_for(std::chrono::milliseconds(2)))
                most = std::max(most, private_mb());
        });
        read();
        done = true;
        watch.join();
        _exit(write(ends[1], &most, sizeof most) == sizeof most ? 0 : 1);
    } else {
        close(ends[1]);
        double most = 0;
        const bool is_said = ::read(ends[0], &most, sizeof most) == sizeof most;
        close(ends[0]);
        waitpid(child, nullptr, 0);
        return is_said ? most : 0;
    }
}

void tell_memory() {
    const auto page = [](Ink ink) {
        const Raster scanned = scan("lease-1", 0.4, 300, ink);
        return std::make_shared<Raster>(Raster{scanned.pixels.clone(), scanned.dpi, scanned.ink});
    };
    for (const Ink ink : {Ink::Grey, Ink::Colour}) {
        const double theirs = most_mb_of([&] {
            auto engine = std::make_shared<tesseract::TessBaseAPI>();
            engine->Init(nullptr, "eng");
            return [engine, read = page(ink)] { alone(*engine, *read); };
        });
        const double ours = most_mb_of([&] {
            return
                [reader = std::make_shared<Reader>(), read = page(ink)] { std::ignore = reader->read(*read, {"eng"}); };
        });
        fmt::print("memory at most, an A4 page at 300 dpi in {}: {:.1f} MB, the engine alone {:.1f} MB, {:.2f}\n",
                   ink_word(ink), ours, theirs, ours / theirs);
    }
}

// The time for finding the facts of a document, compared with reading it.
void tell_what_papers_say() {
    constexpr size_t papers = 200;
    double worst = 0, all = 0;
    for (size_t i = 0; i < papers; ++i) {
        const PageText text = as_it_was_read(drawn_paper(i).printed);
        const auto start = std::chrono::steady_clock::now();
        const PaperFacts says = facts_of_page(text, common_paper_words(), papers_scanned_on);
        const double took = std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count();
        if (!says.kind) fmt::print("  paper {} says nothing\n", i);
        worst = std::max(worst, took);
        all += took;
    }
    fmt::print("what a paper says: {:.1f} ms a page, {:.1f} at worst (goal: 20)\n", all / papers, worst);
}

}

int main(int count, char** arguments) {
    const unsigned seeds = count > 1 ? static_cast<unsigned>(std::stoi(arguments[1])) : 1;
    const std::string only = count > 2 ? arguments[2] : "";
    tell_words = count > 3;
    omp_set_max_active_levels(0);
    tell_memory();
    tesseract::TessBaseAPI engine;
    if (engine.Init(nullptr, "eng") != 0) return 1;
    engine.SetVariable("debug_file", "/dev/null");
    Reader reader;
    Reading clean, clean_ours, theirs, ours;
    const auto words = [&](const Raster& page) { return reader.read(page, {"eng"}).value_or(TextLayer{}).text(); };
    const auto line = [](const std::string& name, const Reading& c, const Reading& b, const Reading& t,
                         const Reading& o) {
        fmt::print("{:29}", name);
        for (const Reading* r : {&c, &b, &t, &o})
            fmt::print("  {:6.4f} +{:<3} {:5.2f} s", r->words.share(), r->words.invented, r->seconds);
        fmt::print("  {:4.2f} {:4.2f}\n", b.seconds / c.seconds, o.seconds / t.seconds);
        fflush(stdout);
    };
    fmt::print("{:29}  {:20}{:20}{:20}{:20}{}\n", "words found, invented", "clean, engine", "clean, ours",
               "hard, engine alone", "hard, ours", "times");
    for (size_t kind = 0; kind < hard_kinds(); ++kind) {
        if (hard_kind(kind).find(only) == std::string::npos) continue;
        Reading c, b, t, o;
        for (unsigned seed = 1; seed <= seeds; ++seed) {
            const HardPage page = hard_page(kind, seed);
            measure(c, page, [&] { return alone(engine, page.clean); });
            measure(b, page, [&] { return words(page.clean); });
            measure(t, page, [&] { return alone(engine, page.scanned); });
            measure(o, page, [&] { return words(page.scanned); });
        }
        line(hard_kind(kind), c, b, t, o);
        clean.add(c.words, c.seconds), clean_ours.add(b.words, b.seconds), theirs.add(t.words, t.seconds),
            ours.add(o.words, o.seconds);
    }
    line("all", clean, clean_ours, theirs, ours);
    tell_what_papers_say();
    return 0;
}
