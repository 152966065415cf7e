#include "core/ocr/reader.h"

#include "core/ocr/boldness.h"
#include "core/ocr/engine_page.h"
#include "core/ocr/language_finder.h"
#include "core/ocr/line_picture.h"
#include "core/ocr/logo_words.h"
#include "core/ocr/ocr_copy.h"
#include "core/ocr/passed_over.h"
#include "core/ocr/second_reading.h"
#include "core/ocr/worn_words.h"
#include "core/text/languages.h"
#include "core/text/reading_order.h"
#include "core/text/word_order.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <cctype>
#include <functional>
#include <optional>
#include <set>
#include <utility>

namespace yelvin {

// The engine and the word data of one language.
struct LoadedLanguage {
    std::string name;
    std::unique_ptr<Engine> engine;
    WordList words;
};

constexpr size_t languages_kept = 3; // each takes some 20 MB

struct Reader::Engines {
    std::unique_ptr<Engine> direction;
    std::vector<std::unique_ptr<LoadedLanguage>> loaded; // the one used last at the end
    std::vector<std::string> installed;

    std::vector<std::string> meant(const std::vector<std::string>& asked);
    // The same for several languages; none of them is missing.
    Result<std::vector<std::string>> languages(const std::vector<std::string>& asked);
    Result<LoadedLanguage*> language(const std::string& name);
    Result<std::string> found(const Raster& prepared, const std::vector<std::string>& among,
                              const std::stop_token& stop);
    Result<void> read_other_paragraphs(TextLayer& layer, const Raster& page, const std::vector<std::string>& among,
                                       const std::stop_token& stop);
};

Reader::Reader() : engines_(std::make_unique<Engines>()) {}
Reader::~Reader() = default;
Reader::Reader(Reader&&) noexcept = default;
Reader& Reader::operator=(Reader&&) noexcept = default;

namespace {

// Maps a rectangle from pixels of a copy to those of its page, rounded outwards.
void carry_back(TextLayer& layer, double scale, cv::Size page) {
    const auto back = [&](cv::Point2d p) { return cv::Point2d{p.x / scale, p.y / scale}; };
    for (TextLine& line : layer.lines) {
        line.baseline_start = back(line.baseline_start);
        line.baseline_end = back(line.baseline_end);
        line.ascent_px /= scale;
        line.descent_px /= scale;
        for (Word& word : line.words) {
            const cv::Point2d a = back(word.box.tl()), b = back(word.box.br());
            word.box = cv::Rect{cv::Point{static_cast<int>(std::lround(a.x)), static_cast<int>(std::lround(a.y))},
                                cv::Point{static_cast<int>(std::lround(b.x)), static_cast<int>(std::lround(b.y))}} &
                       cv::Rect{{}, page};
            word.box.width = std::max(1, word.box.width);
            word.box.height = std::max(1, word.box.height);
        }
    }
    layer.width_px = page.width;
    layer.height_px = page.height;
}

std::string package_of(std::string language) {
    std::ranges::replace(language, '_', '-');
    return "tesseract-ocr-" + language;
}

cv::Rect extent_of(const TextLine& line) {
    cv::Rect all;
    for (const Word& word : line.words) all |= word.box;
    return all;
}

// Returns lines that the engine skipped and recognises well when they are alone. A speck or a drawing that looks like
// letters is not a line: nearly all words must be in the language's dictionary, or numbers, and have a high confidence.
bool reads_well(const TextLine& line, WordList& words) {
    size_t letters = 0, good = 0;
    for (const Word& word : line.words) {
        const bool known = words.knows(word.text) != WordList::Known::No;
        const size_t size = word.text.size();
        letters += size;
        if (known && word.confidence >= doubtful_confidence) good += size;
    }
    return letters >= 3 && 10 * good >= 9 * letters;
}

void read_what_was_passed_over(TextLayer& layer, const Raster& page, LoadedLanguage& language,
                               const std::stop_token& stop) {
    constexpr size_t most_lines = 12; // More lines mean a drawing, which takes long and contains no text.
    const auto lines = passed_over_lines(page, layer);
    if (lines.size() > most_lines) return;
    for (const TextLine& line : lines) {
        if (stop.stop_requested()) return;
        const LinePicture picture = line_picture(page, line, Preparation::Plain);
        if (picture.picture.empty()) continue;
        TextLine read = on_page(language.engine->read_line(picture.picture, language.words), picture, line);
        read.language = language.name;
        put_in_logical_order(read);
        if (reads_well(read, language.words)) layer.lines.push_back(std::move(read));
    }
}

// The least certain lines are recognised again in other copies, as long as that is not too much of the page.
constexpr double most_again = 0.4; // of the width of all lines

void read_doubtful_again(TextLayer& layer, FirstReadings& before, const Raster& page, LoadedLanguage& language,
                         const std::stop_token& stop) {
    struct Doubt {
        TextLine* line;
        int px, width;
    };
    std::vector<Doubt> doubts;
    double all = 0;
    for (TextLine& line : layer.lines) {
        const int width = extent_of(line).width;
        all += width;
        if (line.language != language.name) continue;
        if (const int px = doubtful_px(line, language.words); px > 0) doubts.push_back({&line, px, width});
    }
    std::ranges::stable_sort(doubts, std::greater{}, [](const Doubt& d) { return d.px; });
    double left = std::max(most_again * all, 1.0);
    std::vector<std::vector<TextLine>> others(doubts.size());
    std::vector<TextLine> first;
    for (const Doubt& doubt : doubts) first.push_back(*doubt.line);
    for (int round = 0; round < preparations; ++round) {
        for (size_t i = 0; i < doubts.size(); ++i) {
            TextLine& line = *doubts[i].line;
            if (left < 0 || stop.stop_requested()) return;
            if (doubtful_px(line, language.words) == 0) continue;
            const LinePicture picture = line_picture(page, first[i], static_cast<Preparation>(round));
            if (picture.picture.empty()) continue;
            others[i].push_back(
                on_page(language.engine->read_line(picture.picture, language.words), picture, first[i]));
            line = surest(first[i], others[i], language.words);
            before[static_cast<size_t>(&line - layer.lines.data())] = first[i];
            left -= doubts[i].width;
        }
    }
}

}

std::vector<std::string> Reader::Engines::meant(const std::vector<std::string>& asked) {
    const bool any = std::ranges::find(asked, automatic_language) != asked.end();
    if (any && installed.empty()) installed = installed_languages(); // takes a while
    return yelvin::languages_meant(asked, installed);
}

Result<std::vector<std::string>> Reader::Engines::languages(const std::vector<std::string>& asked) {
    const auto is_missing = [&](const std::string& name) {
        return std::ranges::find(installed, name) == installed.end();
    };
    auto wanted = meant(asked);
    // Checked first, because Tesseract complains on standard error.
    if (wanted.empty() || std::ranges::any_of(wanted, is_missing)) {
        installed = installed_languages();
        wanted = meant(asked);
    }
    std::vector<std::string> missing, packages;
    std::ranges::copy_if(wanted, std::back_inserter(missing), is_missing);
    if (wanted.empty()) missing = {"eng"};
    if (missing.empty()) return wanted;
    std::ranges::transform(missing, std::back_inserter(packages), package_of);
    return fail(
        ErrorKind::Missing,
        fmt::format(
            "The language “{}” is not installed; installed are: {}. Choose one of them, or install the package {}.",
            fmt::join(missing, "+"), fmt::join(installed, ", "), fmt::join(packages, " ")));
}

Result<LoadedLanguage*> Reader::Engines::language(const std::string& name) {
    const auto known = std::ranges::find(loaded, name, [](const auto& language) { return language->name; });
    if (known != loaded.end()) {
        std::rotate(known, known + 1, loaded.end());
        return loaded.back().get();
    }
    auto engine = Engine::start(name);
    if (!engine)
        return fail(
            ErrorKind::Missing,
            fmt::format("The language “{}” cannot be loaded; install the package {} again, or choose another language.",
                        name, package_of(name)));
    if (loaded.size() >= languages_kept) loaded.erase(loaded.begin());
    loaded.push_back(std::make_unique<LoadedLanguage>(name, std::move(engine), WordList({name})));
    return loaded.back().get();
}

namespace {

// Recognises the lines again in another language; the places are on the page.
std::vector<TextLine> in_another(const std::vector<TextLine>& lines, const Raster& page, LoadedLanguage& language) {
    std::vector<TextLine> again;
    for (const TextLine& line : lines) {
        const LinePicture picture = line_picture(page, line, Preparation::Plain);
        if (picture.picture.empty()) return {};
        again.push_back(on_page(language.engine->read_line(picture.picture, language.words), picture, line));
        again.back().language = language.name;
        put_in_logical_order(again.back());
    }
    std::erase_if(again, [](const TextLine& line) { return line.words.empty(); });
    return again;
}

}

namespace {

// What is hardly legible is so in every script: a drawing, a signature, a form filled in by hand. Two lines are enough
// to decide, and after three such paragraphs the rest are not tried.
constexpr size_t tried_lines = 2;
constexpr int most_in_vain = 3;

std::vector<TextLine> widest(std::vector<TextLine> lines) {
    if (lines.size() <= tried_lines) return lines;
    std::ranges::stable_sort(lines, std::greater{}, [](const TextLine& line) { return extent_of(line).width; });
    lines.resize(tried_lines);
    return lines;
}

bool is_worth_reading(const std::vector<TextLine>& lines, const Raster& page, LoadedLanguage& language) {
    if (script_of(language.name) == script_of(lines.front().language)) return true;
    const auto some = widest(lines);
    return fits_better(in_another(some, page, language), language.name, some);
}

}

// A paragraph that was hardly recognised, or whose words belong to another language, is recognised in that language;
// the better result is kept.
Result<void> Reader::Engines::read_other_paragraphs(TextLayer& layer, const Raster& page,
                                                    const std::vector<std::string>& among,
                                                    const std::stop_token& stop) {
    std::vector<TextLine> lines;
    int in_vain = 0;
    for (const Paragraph& paragraph : paragraphs_of(layer)) {
        const auto from = layer.lines.begin() + static_cast<std::ptrdiff_t>(paragraph.first);
        std::vector<TextLine> best(from, from + static_cast<std::ptrdiff_t>(paragraph.count));
        const auto first = best;
        const auto others =
            in_vain < most_in_vain ? languages_to_try(first, layer.language, among) : std::vector<std::string>{};
        for (const std::string& name : others) {
            if (stop.stop_requested()) return stopped();
            const auto other = language(name);
            if (!other) return std::unexpected(other.error());
            if (!is_worth_reading(first, page, **other)) continue;
            auto again = in_another(first, page, **other);
            if (fits_better(again, name, best)) best = std::move(again);
        }
        if (!others.empty()) in_vain = best.front().language == layer.language ? in_vain + 1 : 0;
        lines.insert(lines.end(), std::make_move_iterator(best.begin()), std::make_move_iterator(best.end()));
    }
    layer.lines = std::move(lines);
    return {};
}

namespace {

Raster prepared_from(OcrCopy copy, const Raster& page) {
    const bool black = page.ink == Ink::Black && copy.scale == 1;
    return {std::move(copy.grey), copy.dpi, black ? Ink::Black : Ink::Grey};
}

}

Result<std::string> Reader::Engines::found(const Raster& prepared, const std::vector<std::string>& among,
                                           const std::stop_token& stop) {
    return yelvin::language_of(prepared, among, [&](const Raster& part, const std::string& name) -> Result<TextLayer> {
        const auto of_name = language(name);
        if (!of_name) return std::unexpected(of_name.error());
        WordList none({}); // An empty list: words are looked up later, in the language that was found.
        Raster read = part;
        return (*of_name)->engine->read_page(read, none, stop, {});
    });
}

Result<void> Reader::can_read(const std::vector<std::string>& languages) {
    const auto among = engines_->languages(languages);
    if (!among) return std::unexpected(among.error());
    const auto first = engines_->language(among->front());
    return first ? Result<void>{} : std::unexpected(first.error());
}

Result<std::string> Reader::language_of(const Raster& page, const std::vector<std::string>& languages,
                                        const std::stop_token& stop) {
    const auto among = engines_->languages(languages);
    if (!among) return std::unexpected(among.error());
    return engines_->found(prepared_from(copy_for_ocr(page), page), *among, stop);
}

Result<TextLayer> Reader::read(const Raster& page, const std::vector<std::string>& languages,
                               const std::stop_token& stop, const Progress& progress) {
    if (stop.stop_requested()) return stopped();
    const auto among = engines_->languages(languages);
    if (!among) return std::unexpected(among.error());
    // Data that stay in memory are loaded before the page's pictures are made; allocated afterwards, they would
    // fragment the memory for the next page.
    if (among->size() == 1)
        if (const auto only = engines_->language(among->front())) (*only)->words.load();
    OcrCopy copy = copy_for_ocr(page);
    const double scale = copy.scale;
    Raster prepared = prepared_from(std::move(copy), page);
    const auto main = engines_->found(prepared, *among, stop);
    if (!main) return std::unexpected(main.error());
    const auto language = engines_->language(*main);
    if (!language) return std::unexpected(language.error());
    auto layer = (*language)->engine->read_page(prepared, (*language)->words, stop, progress);
    if (!layer) return layer;
    read_what_was_passed_over(*layer, prepared, **language, stop);
    layer->lines = in_reading_order(std::move(layer->lines));
    if (among->size() > 1)
        if (const auto done = engines_->read_other_paragraphs(*layer, prepared, *among, stop); !done)
            return std::unexpected(done.error());
    std::set<std::string> in_use;
    for (const TextLine& line : layer->lines) in_use.insert(line.language);
    FirstReadings before;
    for (const std::string& name : in_use)
        if (const auto of_lines = engines_->language(name))
            read_doubtful_again(*layer, before, prepared, **of_lines, stop);
    if (stop.stop_requested()) return stopped();
    mark_bold(*layer, prepared.pixels);
    correct_worn_words(*layer, before, prepared.pixels, [&](const std::string& name) {
        const auto of_line = engines_->language(name);
        return of_line ? &(*of_line)->words : nullptr;
    });
    remove_logo_words(*layer, prepared.pixels, [&](const std::string& word, const std::string& name) {
        const auto of_line = engines_->language(name);
        return of_line && (*of_line)->words.knows(word) == WordList::Known::Yes;
    });
    carry_back(*layer, scale, page.pixels.size());
    prepared = {};
    give_memory_back();
    return layer;
}

Result<Reader::Legibility> Reader::legibility(const Raster& page, const std::vector<std::string>& languages,
                                              const std::stop_token& stop) {
    const auto among = engines_->languages(languages);
    if (!among) return std::unexpected(among.error());
    const auto layer = read(page, {among->front()}, stop); // both ways in the same language
    if (!layer) return std::unexpected(layer.error());
    Legibility out;
    for (const TextLine& line : layer->lines) {
        for (const Word& word : line.words) {
            const auto letters =
                std::ranges::count_if(word.text, [](unsigned char c) { return std::isalnum(c) || c >= 0x80; });
            if (word.confidence > 70 && letters >= 2)
                out.sure_letters += static_cast<double>(letters) * word.confidence / 100;
        }
    }
    return out;
}

std::vector<std::string> Reader::languages_meant(const std::vector<std::string>& asked) {
    return engines_->meant(asked);
}

std::optional<Engine::Direction> Reader::direction(const Raster& page) {
    if (!engines_->direction) engines_->direction = Engine::start("osd");
    return engines_->direction ? engines_->direction->direction(page) : std::nullopt;
}

}
