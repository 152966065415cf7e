#include "core/ocr/engine.h"

#include "core/ocr/engine_page.h"
#include "core/ocr/letter_choices.h"
#include "core/ocr/letter_shapes.h"
#include "core/text/languages.h"
#include "core/text/word_order.h"

#include <omp.h>
#include <tesseract/baseapi.h>
#include <tesseract/ocrclass.h>
#include <tesseract/resultiterator.h>
#include <unicode/uchar.h>
#include <unicode/unistr.h>

#include <algorithm>
#include <cctype>
#include <cmath>
#include <mutex>
#include <utility>

namespace yelvin {

using tesseract::PageIteratorLevel;
using tesseract::ResultIterator;
using tesseract::TessBaseAPI;

struct Engine::Api : TessBaseAPI {};

Engine::Engine(std::unique_ptr<Api> api, std::string language) : api_(std::move(api)), language_(std::move(language)) {}
Engine::~Engine() = default;

namespace {
// Starting an engine writes settings that all engines of the program share, including names of files; two threads at
// once corrupt them (the thread sanitizer reports it).
std::mutex& starting() {
    static std::mutex mutex;
    return mutex;
}
}

std::vector<std::string> installed_languages() {
    const std::scoped_lock lock(starting());
    TessBaseAPI engine;
    std::vector<std::string> names;
    // Initialised with the orientation data, which Yelvin always needs, to find the folder of the other data.
    if (engine.Init(nullptr, "osd") == 0) engine.GetAvailableLanguagesAsVector(&names);
    std::erase(names, "osd");
    std::ranges::sort(names);
    return names;
}

namespace {

// Tesseract requests four threads explicitly, which omp_set_num_threads() does not override. A limit on active parallel
// regions does. The setting belongs to the calling thread, so it is made where the work runs.
void single_threaded() { omp_set_max_active_levels(0); }

struct Watch {
    std::stop_token stop;
    const Engine::Progress& progress;
    int last = -1;
};

bool cancelled(void* watch, int) { return static_cast<Watch*>(watch)->stop.stop_requested(); }
bool progressed(tesseract::ETEXT_DESC* monitor, int, int, int, int) {
    auto* watch = static_cast<Watch*>(monitor->cancel_this);
    const int percent = std::clamp<int>(monitor->progress, 0, 100);
    if (watch->progress && percent != watch->last) watch->progress(watch->last = percent);
    return false;
}

LetterChoices letters_of(const ResultIterator& word) {
    LetterChoices letters;
    ResultIterator at(word);
    do {
        std::vector<LetterChoice>& choices = letters.emplace_back();
        tesseract::ChoiceIterator choice(at);
        do {
            if (const char* text = choice.GetUTF8Text())
                choices.push_back({text, static_cast<double>(choice.Confidence())});
        } while (choice.Next());
        // The first choice is the one in the word, whatever the order of the others.
        const std::unique_ptr<char[]> read{at.GetUTF8Text(tesseract::RIL_SYMBOL)};
        const auto own = std::ranges::find(choices, std::string_view(read ? read.get() : ""), &LetterChoice::text);
        if (own == choices.end())
            choices.insert(choices.begin(), {read ? read.get() : "", 100});
        else
            std::iter_swap(own, choices.begin());
        if (at.IsAtFinalElement(tesseract::RIL_WORD, tesseract::RIL_SYMBOL)) break;
    } while (at.Next(tesseract::RIL_SYMBOL));
    return letters;
}

// `goes_on`: the recognised part continues the last word.
void add_word(TextLine& line, ResultIterator& at, WordList& words, bool goes_on) {
    const std::unique_ptr<char[]> text{at.GetUTF8Text(tesseract::RIL_WORD)};
    int left = 0, top = 0, right = 0, bottom = 0;
    if (!text || text[0] == 0 || !at.BoundingBox(tesseract::RIL_WORD, &left, &top, &right, &bottom)) return;
    std::string word(text.get());
    if (word.find_first_not_of(" \t\n") == std::string::npos || right <= left || bottom <= top) return;
    Word read{std::move(word), {left, top, right - left, bottom - top}, at.Confidence(tesseract::RIL_WORD)};
    if (words.knows(read.text) == WordList::Known::No)
        if (auto better = known_alternative(read, letters_of(at), words)) read = *better;
    if (goes_on && !line.words.empty()) {
        Word& whole = line.words.back();
        whole.text += read.text;
        whole.box |= read.box;
        whole.confidence = std::min(whole.confidence, read.confidence);
    } else
        line.words.push_back(std::move(read));
}

// Korean is recognised syllable by syllable, like Chinese, but has spaces between its words, which the engine counts.
bool goes_on_without_space(const ResultIterator& at, const std::string& language) {
    return script_of(language) == Script::Korean && at.BlanksBeforeWord() == 0;
}

// The extent of the line above and below its baseline, from the ink of its words; Tesseract's row attributes are
// averaged over the page.
void measure_line(TextLine& line, ResultIterator& at) {
    int x1 = 0, y1 = 0, x2 = 0, y2 = 0;
    cv::Rect all = line.words.front().box;
    for (const Word& word : line.words) all |= word.box;
    if (at.Baseline(tesseract::RIL_TEXTLINE, &x1, &y1, &x2, &y2) && x2 > x1) {
        line.baseline_start = {static_cast<double>(x1), static_cast<double>(y1)};
        line.baseline_end = {static_cast<double>(x2), static_cast<double>(y2)};
    } else {
        line.baseline_start = {static_cast<double>(all.x), static_cast<double>(all.br().y)};
        line.baseline_end = {static_cast<double>(all.br().x), static_cast<double>(all.br().y)};
    }
    float height = 0, descenders = 0, ascenders = 0;
    at.RowAttributes(&height, &descenders, &ascenders);
    const cv::Point2d along = line.baseline_end - line.baseline_start;
    double ascent = 0, descent = 0;
    for (const Word& word : line.words) {
        const double x = word.box.x + word.box.width / 2.0;
        const double base = line.baseline_start.y + along.y * (x - line.baseline_start.x) / std::max(1.0, along.x);
        ascent = std::max(ascent, base - word.box.y);
        descent = std::max(descent, word.box.br().y - base);
    }
    const double row = static_cast<double>(height) - std::abs(static_cast<double>(descenders));
    line.ascent_px = row > 0 ? std::clamp(ascent, 0.6 * row, 1.4 * row) : std::max(4.0, ascent);
    line.descent_px = std::clamp(descent, 0.0, 0.5 * line.ascent_px);
}

std::vector<cv::Rect> ink_boxes(TessBaseAPI& engine) {
    std::vector<cv::Rect> boxes;
    const PixPtr black{engine.GetThresholdedImage()};
    BOXA* found = black ? pixConnCompBB(black.get(), 8) : nullptr;
    for (l_int32 i = 0; found && i < boxaGetCount(found); ++i) {
        l_int32 x = 0, y = 0, width = 0, height = 0;
        boxaGetBoxGeometry(found, i, &x, &y, &width, &height);
        if (width > 1 && height > 1) boxes.emplace_back(x, y, width, height);
    }
    boxaDestroy(&found);
    return boxes;
}

int overlap(const cv::Rect& a, const cv::Rect& b) { return std::min(a.br().x, b.br().x) - std::max(a.x, b.x); }

// The edge of a form's field is recognised as a letter or a mark: one without ink of a letter's size, or a hairline.
bool is_a_rule(const Word& word, const std::vector<cv::Rect>& ink, double dpi) {
    const double thin = 0.3 * dpi / mm_per_inch, across = word.box.width, down = word.box.height;
    if (down <= thin && across > 20 * down) return true;
    const bool upright = word.text.find_first_not_of("|!IilTt[](){}/\\'`\"+") == std::string::npos;
    return upright && (ink.empty() || (across <= thin && across < 0.1 * down));
}

// Specks and edges that are recognised as a mark, or as letters that are far too low or too wide.
bool is_no_print(const Word& word, double ascent_px) {
    constexpr double hardly = 35, unsure = 90, lowest = 0.3, widest = 1.5; // of 100; of the ascent, a letter
    if (word.confidence >= unsure) return false;
    const auto text = icu::UnicodeString::fromUTF8(word.text);
    bool any = false, latin = true; // In other scripts some letters are a flat stroke.
    for (int i = 0; i < text.length(); i = text.moveIndex32(i, 1)) {
        any = any || u_isalnum(text.char32At(i));
        latin = latin && text.char32At(i) < 0x250;
    }
    if (any && latin && word.box.height < lowest * ascent_px) return true;
    if (word.confidence >= hardly) return false;
    return !any || word.box.width > widest * ascent_px * text.countChar32();
}

// "| have": a stroke of a letter's size before a lower-case word is the English word I.
bool is_the_word_i(const TextLine& line, size_t at, const std::string& language) {
    const bool small_follows =
        at + 1 < line.words.size() && std::islower(static_cast<unsigned char>(line.words[at + 1].text.front()));
    return language == "eng" && line.words[at].text == "|" && small_follows;
}

// Whether a capital is expected here even if the word is no name.
bool may_begin_sentence(const TextLine& line, size_t at) {
    return at == 0 || line.words[at - 1].text.empty() ||
           std::string_view(".:!?\"')(").contains(line.words[at - 1].text.back());
}

// A capital within a sentence belongs to a name, unless the word is one that is written in lower case.
std::string cased_by_ink(const TextLine& line, size_t at, std::vector<cv::Rect> ink, double tall_px,
                         const std::string& language, WordList& words) {
    const std::string& text = line.words[at].text;
    std::string in_small = text;
    in_small.front() = static_cast<char>(std::tolower(static_cast<unsigned char>(in_small.front())));
    const bool written_small = words.knows(in_small) == WordList::Known::Yes;
    const bool prefer_small = written_small && is_within_sentence(line, at, language);
    std::string cased = case_by_height(text, std::move(ink), tall_px, prefer_small);
    // A word that is not written in small letters, such as "Sunday" or a name.
    const bool never_small = cased == in_small && words.knows(cased) == WordList::Known::No;
    const bool never_large = text == in_small && written_small && !may_begin_sentence(line, at);
    return never_small || never_large ? text : cased;
}

// The neural network gives only approximate boundaries of words, most of all for short ones. The ink of the letters is
// exact: each piece of ink is assigned to the word of its line that it overlaps most, and the word gets the extent of
// its ink.
void fit_words_to_ink(TextLayer& layer, const std::vector<cv::Rect>& ink, double dpi, WordList& words) {
    for (TextLine& line : layer.lines) {
        const cv::Point2d along = line.baseline_end - line.baseline_start;
        const double tall = line.ascent_px + line.descent_px;
        std::vector<cv::Rect> extents(line.words.size());
        std::vector<std::vector<cv::Rect>> pieces(line.words.size());
        for (const cv::Rect& piece : ink) {
            const double x = piece.x + piece.width / 2.0, y = piece.y + piece.height / 2.0;
            const double base = line.baseline_start.y + along.y * (x - line.baseline_start.x) / std::max(1.0, along.x);
            if (y < base - line.ascent_px || y > base + line.descent_px || piece.height > 1.5 * tall) continue;
            size_t best = line.words.size();
            int most = 0, touched = 0;
            for (size_t i = 0; i < line.words.size(); ++i) {
                const int shared = overlap(piece, line.words[i].box);
                if (shared > piece.width / 5) ++touched;
                if (shared > most) {
                    most = shared;
                    best = i;
                }
            }
            // The piece is a ruled line, or belongs to letters of two words that touch.
            if (best == line.words.size() || touched > 1) continue;
            extents[best] = extents[best].empty() ? piece : extents[best] | piece;
            pieces[best].push_back(piece);
        }
        InkOfWords ink_of_words;
        for (size_t i = 0; i < line.words.size(); ++i) ink_of_words.emplace_back(line.words[i].text, pieces[i]);
        const double tall_px = tall_height(ink_of_words, line.ascent_px);
        for (size_t i = 0; i < line.words.size(); ++i) {
            cv::Rect& box = line.words[i].box;
            if (is_a_rule(line.words[i], pieces[i], dpi) || is_no_print(line.words[i], line.ascent_px)) {
                line.words[i].text.clear();
                continue;
            }
            if (is_the_word_i(line, i, layer.language)) line.words[i].text.assign(1, 'I'); // GCC sees an overlap in "I"
            const bool near = !extents[i].empty() && std::abs(extents[i].x - box.x) < tall &&
                              std::abs(extents[i].br().x - box.br().x) < tall;
            if (near) box = {extents[i].x, box.y, extents[i].width, box.height};
            if (!near) continue;
            std::string& text = line.words[i].text;
            text = cased_by_ink(line, i, std::move(pieces[i]), tall_px, layer.language, words);
        }
        std::erase_if(line.words, [](const Word& word) { return word.text.empty(); });
    }
    std::erase_if(layer.lines, [](const TextLine& line) { return line.words.empty(); });
}

TextLayer collect(TessBaseAPI& engine, cv::Size page, double dpi, WordList& words, const std::string& language) {
    TextLayer layer{{}, page.width, page.height, language};
    const std::unique_ptr<ResultIterator> at{engine.GetIterator()};
    if (!at) return layer;
    TextLine line;
    do {
        if (at->Empty(tesseract::RIL_WORD)) continue;
        if (at->IsAtBeginningOf(tesseract::RIL_TEXTLINE)) line = {};
        add_word(line, *at, words, goes_on_without_space(*at, language));
        if (at->IsAtFinalElement(tesseract::RIL_TEXTLINE, tesseract::RIL_WORD) && !line.words.empty()) {
            measure_line(line, *at);
            layer.lines.push_back(std::move(line));
            line = {};
        }
    } while (at->Next(tesseract::RIL_WORD));
    fit_words_to_ink(layer, ink_boxes(engine), dpi, words);
    for (TextLine& each : layer.lines) {
        each.language = language;
        put_in_logical_order(each);
    }
    return layer;
}

}

std::unique_ptr<Engine> Engine::start(const std::string& language) {
    auto api = std::make_unique<Api>();
    const std::vector<std::string> keys{"debug_file"}, values{"/dev/null"};
    const std::scoped_lock lock(starting());
    if (api->Init(nullptr, language.c_str(), tesseract::OEM_DEFAULT, nullptr, 0, &keys, &values, false) != 0)
        return nullptr;
    return std::unique_ptr<Engine>(new Engine(std::move(api), language));
}

Result<TextLayer> Engine::read_page(Raster& page, WordList& words, std::stop_token stop, const Progress& progress) {
    single_threaded();
    api_->SetPageSegMode(tesseract::PSM_AUTO);
    api_->SetVariable("lstm_choice_mode", "0"); // Alternatives for each letter take a tenth more time.
    give_memory_back();
    set_page(*api_, page);
    tesseract::ETEXT_DESC monitor;
    Watch watch{std::move(stop), progress};
    monitor.cancel = cancelled;
    monitor.cancel_this = &watch;
    monitor.progress_callback2 = progressed;
    const cv::Size size = page.pixels.size();
    const ReleasedPixels lent(page, *api_);
    give_memory_back();
    const int failed = api_->Recognize(&monitor);
    if (watch.stop.stop_requested()) return stopped();
    if (failed)
        return fail(ErrorKind::Internal, "The text of the page could not be read; save it without text, or try again.");
    return collect(*api_, size, page.dpi, words, language_);
}

TextLayer Engine::read_line(const Raster& line, WordList& words) {
    single_threaded();
    api_->SetPageSegMode(tesseract::PSM_SINGLE_LINE);
    api_->SetVariable("lstm_choice_mode", "2");
    set_page(*api_, line);
    TextLayer layer;
    if (api_->Recognize(nullptr) == 0) layer = collect(*api_, line.pixels.size(), line.dpi, words, language_);
    api_->Clear();
    return layer;
}

std::optional<Engine::Direction> Engine::direction(const Raster& page) {
    single_threaded();
    set_page(*api_, page);
    int degrees = 0;
    float confidence = 0, script_confidence = 0;
    const char* script = nullptr;
    const bool found = api_->DetectOrientationScript(&degrees, &confidence, &script, &script_confidence);
    api_->Clear();
    if (!found) return std::nullopt;
    // Tesseract reports how far the page is turned clockwise from upright; anticlockwise turns are 270.
    return Direction{((360 - degrees) % 360 + 360) % 360, static_cast<double>(confidence)};
}

}
