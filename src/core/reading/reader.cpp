#include "core/reading/reader.h"

#include "core/reading/line_picture.h"
#include "core/reading/reading_copy.h"
#include "core/reading/reading_order.h"
#include "core/reading/second_reading.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <utility>

namespace yelvin {

struct Reader::Engines {
    std::unique_ptr<Engine> text, direction;
    std::string languages;
    std::unique_ptr<WordList> words; // of these languages
};

Reader::Reader() : engines_(std::make_unique<Engines>()) {}
Reader::~Reader() = default;
Reader::Reader(Reader&&) noexcept = default;
Reader& Reader::operator=(Reader&&) noexcept = default;

namespace {

// From the dots of a copy to those of its page, outwards to whole ones.
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

// The most doubtful lines are read again from other pictures, as long as that is not too much of the page.
constexpr double most_again = 0.4; // of the width of all lines

void read_doubtful_again(TextLayer& layer, const Raster& page, Engine& engine, WordList& words,
                         const std::stop_token& stop) {
    struct Doubt {
        TextLine* line;
        int px, width;
    };
    std::vector<Doubt> doubts;
    double all = 0;
    for (TextLine& line : layer.lines) {
        const int width = line.words.back().box.br().x - line.words.front().box.x;
        all += width;
        if (const int px = doubtful_px(line, words); px > 0) doubts.push_back({&line, px, width});
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
            if (doubtful_px(line, words) == 0) continue;
            const LinePicture picture = line_picture(page, first[i], static_cast<Preparation>(round));
            if (picture.picture.empty()) continue;
            others[i].push_back(on_page(engine.read_line(picture.picture, words), picture, first[i]));
            line = surest(first[i], others[i], words);
            left -= doubts[i].width;
        }
    }
}

}

Result<Engine*> Reader::engine_for(const std::vector<std::string>& languages) {
    const std::string joined = fmt::format("{}", fmt::join(languages, "+"));
    if (engines_->text && engines_->languages == joined) return engines_->text.get();
    // Asked first: Tesseract complains on standard error.
    const auto there = installed_languages();
    std::vector<std::string> missing, packages;
    for (const std::string& name : languages) {
        if (std::ranges::find(there, name) != there.end()) continue;
        missing.push_back(name);
        packages.push_back("tesseract-ocr-" + name);
        std::ranges::replace(packages.back(), '_', '-');
    }
    engines_->text = missing.empty() && !languages.empty() ? Engine::start(joined) : nullptr;
    engines_->languages = joined;
    engines_->words = std::make_unique<WordList>(languages);
    if (!engines_->text)
        return fail(ErrorKind::Missing,
                    fmt::format("Reading needs the language data for \"{}\"; installed are: {}. Choose one of them, or "
                                "install the package {}.",
                                fmt::join(missing.empty() ? languages : missing, "+"), fmt::join(there, ", "),
                                missing.empty() ? "tesseract-ocr-eng" : fmt::format("{}", fmt::join(packages, " "))));
    return engines_->text.get();
}

Result<TextLayer> Reader::read(const Raster& page, const std::vector<std::string>& languages,
                               const std::stop_token& stop, const Progress& progress) {
    if (stop.stop_requested()) return stopped();
    const auto engine = engine_for(languages);
    if (!engine) return std::unexpected(engine.error());
    const ReadingCopy copy = copy_for_reading(page);
    const bool black = page.ink == Ink::Black && copy.scale == 1;
    const Raster prepared{copy.grey, copy.dpi, black ? Ink::Black : Ink::Grey};
    auto layer = (*engine)->read_page(prepared, *engines_->words, stop, progress);
    if (layer) read_doubtful_again(*layer, prepared, **engine, *engines_->words, stop);
    if (stop.stop_requested()) return stopped();
    if (layer) layer->lines = in_reading_order(std::move(layer->lines));
    if (layer) carry_back(*layer, copy.scale, page.pixels.size());
    return layer;
}

Result<Reader::Legibility> Reader::legibility(const Raster& page, const std::vector<std::string>& languages,
                                              const std::stop_token& stop) {
    const auto layer = read(page, languages, stop);
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

std::optional<Engine::Direction> Reader::direction(const Raster& page) {
    if (!engines_->direction) engines_->direction = Engine::start("osd");
    return engines_->direction ? engines_->direction->direction(page) : std::nullopt;
}

}
