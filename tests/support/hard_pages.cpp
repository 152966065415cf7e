#include "support/hard_pages.h"

#include "core/raster/image_file.h"
#include "core/raster/png_jpeg.h"
#include "support/sheet.h"

#include <opencv2/imgproc.hpp>

#include <fmt/format.h>

#include <functional>
#include <map>
#include <random>
#include <sstream>

namespace yelvin::test {

namespace {

// Spots of a size in pixels and a strength as a share of white.
cv::Mat grain(const cv::Size& size, double spot, double strength, unsigned seed) {
    cv::Mat noise(size, CV_32F);
    cv::RNG random(seed);
    random.fill(noise, cv::RNG::NORMAL, 0, 1);
    if (spot > 0.5) {
        cv::GaussianBlur(noise, noise, {}, spot);
        cv::Scalar mean, deviation;
        cv::meanStdDev(noise, mean, deviation);
        noise /= deviation[0];
    }
    return noise * strength;
}
void add(cv::Mat& page, const cv::Mat& noise) {
    cv::Mat three;
    cv::merge(std::vector<cv::Mat>(3, noise), three);
    page += three;
}
void times(cv::Mat& page, const cv::Mat& light) {
    cv::Mat three;
    cv::merge(std::vector<cv::Mat>(3, light), three);
    page = page.mul(three);
}
cv::Mat grey_of(const cv::Mat& page) {
    cv::Mat grey;
    cv::cvtColor(page, grey, cv::COLOR_BGR2GRAY);
    return grey;
}
cv::Mat threshold(const cv::Mat& page, double at) {
    cv::Mat out = grey_of(page) > at, black;
    out.convertTo(black, CV_32F, 1 / 255.0);
    return black;
}

// The scanner's effect: a little blur and noise, eight bits.
Raster sensed(cv::Mat page, double dpi, double blur = 0.5, double noise = 0.008, unsigned seed = 5) {
    cv::GaussianBlur(page, page, {}, blur);
    if (page.channels() == 3) {
        std::vector<cv::Mat> channels;
        cv::split(page, channels);
        for (size_t i = 0; i < 3; ++i) channels[i] += grain(page.size(), 0, noise, seed + static_cast<unsigned>(i));
        cv::merge(channels, page);
    } else
        page += grain(page.size(), 0, noise, seed);
    cv::Mat bytes;
    page.convertTo(bytes, page.channels() == 3 ? CV_8UC3 : CV_8U, 255);
    return {bytes, dpi, page.channels() == 3 ? Ink::Colour : Ink::Grey};
}

struct Kind {
    const char* name;
    Look look;
    std::function<Raster(const Look&, const std::vector<Placed>&, unsigned)> make;
};

Raster plain(const Look& look, const std::vector<Placed>& words, unsigned seed) {
    return sensed(draw(look, words), look.dpi, 0.5, 0.008, seed);
}
auto rough(double spot, double strength) {
    return [=](const Look& look, const std::vector<Placed>& words, unsigned seed) {
        cv::Mat page = draw(look, words);
        add(page, grain(page.size(), spot, strength, seed));
        return sensed(page, look.dpi);
    };
}

// Each letter is struck with a different force.
Raster worn_ribbon(const Look& look, const std::vector<Placed>& words, unsigned seed) {
    cv::Mat page = cv::Scalar::all(1) - draw(look, words);
    cv::Mat force = grain(page.size(), look.dpi / 25, 0.25, seed);
    times(page, cv::max(0.62 + force, 0.3));
    page = cv::Scalar::all(1) - page;
    add(page, grain(page.size(), 1.2, 0.02, seed + 1));
    return sensed(page, look.dpi);
}

Raster copied(const Look& look, const std::vector<Placed>& words, unsigned seed, double blur, double at,
              double specks) {
    cv::Mat page = draw(look, words);
    cv::GaussianBlur(page, page, {}, blur);
    add(page, grain(page.size(), 1, 0.12, seed));
    cv::Mat black = threshold(page, at);
    const cv::Mat dirt = grain(black.size(), 1.1, 1, seed + 3) > specks;
    black.setTo(0, dirt);
    cv::GaussianBlur(black, black, {}, 0.8);
    return sensed(0.12 + 0.8 * black, look.dpi, 0.5, 0.012, seed);
}

Raster faxed(const Look& look, const std::vector<Placed>& words, unsigned seed, bool coarse) {
    cv::Mat page = draw(look, words);
    add(page, grain(page.size(), 0.7, 0.08, seed));
    cv::Mat grey = grey_of(page);
    const cv::Size whole = grey.size();
    if (coarse) {
        cv::resize(grey, grey, {whole.width, whole.height / 2}, 0, 0, cv::INTER_AREA);
        grey = (grey > 0.6) / 255;
        grey.convertTo(grey, CV_8U, 255);
        cv::resize(grey, grey, whole, 0, 0, cv::INTER_NEAREST);
    } else {
        cv::Mat black = grey > 0.6;
        grey = black;
    }
    return {grey, look.dpi, Ink::Black};
}

Raster uneven(const Look& look, const std::vector<Placed>& words, unsigned seed, bool gutter) {
    cv::Mat page = draw(look, words), light(page.size(), CV_32F);
    const double w = light.cols, h = light.rows;
    light.forEach<float>([&](float& v, const int* at) {
        const double x = at[1] / w, y = at[0] / h;
        v = static_cast<float>(gutter ? 0.94 - 0.66 * std::exp(-x / 0.13)
                                      : 0.95 - 0.62 * std::clamp((x - 0.2) * 0.7 + (y - 0.1) * 0.6, 0.0, 1.0));
    });
    times(page, light);
    return sensed(page, look.dpi, 0.6, 0.012, seed);
}

Raster shines_through(const Look& look, const std::vector<Placed>& words, unsigned seed, double strength) {
    cv::Mat page = draw(look, words);
    Look other = look;
    other.points *= 1.1;
    cv::Mat back = draw(other, set_words(other, seed + 100));
    cv::flip(back, back, 1);
    cv::GaussianBlur(back, back, {}, look.dpi / 110);
    page = page.mul(cv::Scalar::all(1 - strength) + strength * back);
    return sensed(page, look.dpi, 0.5, 0.01, seed);
}

Raster on_lines(const Look& look, const std::vector<Placed>& words, unsigned seed, bool squares) {
    const double size = look.points * 25.4 / 72;
    return sensed(draw(look, words,
                       [&](Sheet& sheet) {
                           sheet.colour(squares ? cv::Vec3d{0.85, 0.7, 0.55} : cv::Vec3d{0.75, 0.5, 0.35});
                           const double step = squares ? 5 : 1.45 * size;
                           for (double y = squares ? 5 : 14 + size + 0.12 * size; y < height_mm; y += step)
                               sheet.rule({4, y}, {width_mm - 4, y}, squares ? 0.2 : 0.25);
                           for (double x = 5; squares && x < width_mm; x += step)
                               sheet.rule({x, 4}, {x, height_mm - 4}, 0.2);
                       }),
                  look.dpi, 0.5, 0.008, seed);
}

// Every second paragraph is white on a dark band.
Raster reversed_bands(const Look& look, const std::vector<Placed>& words, unsigned seed) {
    const double size = look.points * 25.4 / 72;
    const auto dark = [&](int line) { return line % 8 < 3; };
    return sensed(draw(
                      look, words,
                      [&](Sheet& sheet) {
                          sheet.colour({0.45, 0.2, 0.15});
                          for (const Placed& word : words)
                              if (dark(word.line)) sheet.box({6, word.y - 1.05 * size, width_mm - 12, 1.5 * size});
                      },
                      [&](Sheet& sheet, const Placed& word) {
                          if (dark(word.line)) sheet.colour({1, 1, 1});
                      }),
                  look.dpi, 0.5, 0.008, seed);
}

Raster two_inks(const Look& look, const std::vector<Placed>& words, unsigned seed, cv::Vec3d one, cv::Vec3d two) {
    return sensed(
        draw(look, words, {}, [&](Sheet& sheet, const Placed& word) { sheet.colour(word.line / 2 % 2 ? one : two); }),
        look.dpi, 0.5, 0.008, seed);
}

Raster screened(const Look& look, const std::vector<Placed>& words, unsigned seed) {
    return sensed(draw(look, words,
                       [&](Sheet& sheet) {
                           sheet.colour({0.15, 0.15, 0.15});
                           for (int row = 0; row * 0.42 < height_mm; ++row)
                               for (double x = row % 2 * 0.21; x < width_mm; x += 0.42) {
                                   cairo_arc(sheet.pen(), x, row * 0.42, 0.085, 0, 6.2832);
                                   cairo_fill(sheet.pen());
                               }
                       }),
                  look.dpi, 0.6, 0.008, seed);
}

Raster highlighted(const Look& look, const std::vector<Placed>& words, unsigned seed) {
    const double size = look.points * 25.4 / 72;
    return sensed(draw(look, words,
                       [&](Sheet& sheet) {
                           for (const Placed& word : words) {
                               sheet.colour(word.line % 3 ? cv::Vec3d{0.55, 0.75, 1} : cv::Vec3d{0.45, 0.9, 0.5});
                               if (word.line % 2)
                                   sheet.box({word.x - 0.5, word.y - size,
                                              static_cast<double>(word.text.size()) * 0.5 * size, 1.3 * size});
                           }
                       }),
                  look.dpi, 0.5, 0.008, seed);
}

Raster as_jpeg(const Look& look, const std::vector<Placed>& words, unsigned seed) {
    Raster page = plain(look, words, seed);
    page.pixels = decode_jpeg(encode_jpeg(page, 22).value())->raster.pixels;
    return page;
}

const std::vector<Kind>& kinds() {
    using std::placeholders::_1, std::placeholders::_2, std::placeholders::_3;
    static const std::vector<Kind> all{
        {"yellow paper", {.paper = {0.3, 0.8, 0.95}}, plain},
        {"blue paper", {.face = "Liberation Sans", .points = 9, .paper = {0.85, 0.65, 0.45}}, plain},
        {"dark red paper", {.points = 11, .paper = {0.4, 0.4, 0.8}}, plain},
        {"rough paper", {.points = 10, .paper = {0.86, 0.9, 0.92}}, rough(1.6, 0.06)},
        {"very rough paper", {.face = "Liberation Sans", .points = 10, .paper = {0.7, 0.78, 0.82}}, rough(2.2, 0.09)},
        {"typewriter on rough paper",
         {.face = "Nimbus Mono PS", .points = 10, .paper = {0.85, 0.9, 0.92}, .ink = {0.3, 0.3, 0.3}},
         rough(1.3, 0.06)},
        {"typewriter, grey paper",
         {.face = "Nimbus Mono PS", .points = 10.5, .dpi = 200, .paper = {0.66, 0.68, 0.7}, .ink = {0.25, 0.25, 0.25}},
         rough(1.0, 0.045)},
        {"worn ribbon", {.face = "Nimbus Mono PS", .points = 11, .dpi = 300, .paper = {0.9, 0.94, 0.95}}, worn_ribbon},
        {"faint print", {.points = 10, .paper = {0.93, 0.94, 0.95}, .ink = {0.74, 0.74, 0.74}}, rough(0.8, 0.02)},
        {"very faint print",
         {.face = "Liberation Sans", .points = 9, .paper = {0.93, 0.94, 0.95}, .ink = {0.83, 0.83, 0.83}},
         rough(0.6, 0.018)},
        {"photocopy, light", {.points = 10, .dpi = 300}, std::bind(copied, _1, _2, _3, 1.0, 0.5, 4.2)},
        {"photocopy, dark",
         {.face = "Liberation Sans", .points = 9, .dpi = 300},
         std::bind(copied, _1, _2, _3, 1.3, 0.66, 3.7)},
        {"fax, fine", {.face = "Liberation Sans", .points = 10, .dpi = 200}, std::bind(faxed, _1, _2, _3, false)},
        {"fax, coarse", {.face = "Liberation Sans", .points = 12, .dpi = 200}, std::bind(faxed, _1, _2, _3, true)},
        {"6 pt", {.points = 6, .dpi = 300}, plain},
        {"6 pt at 200 dpi", {.face = "Liberation Sans", .points = 6, .dpi = 200}, plain},
        {"110 dpi", {.points = 11, .dpi = 110}, plain},
        {"130 dpi", {.face = "Liberation Sans", .points = 9, .dpi = 130}, plain},
        {"150 dpi, rough", {.points = 10, .dpi = 150, .paper = {0.85, 0.9, 0.9}}, rough(1, 0.04)},
        {"a book's gutter", {.points = 10}, std::bind(uneven, _1, _2, _3, true)},
        {"light from one side",
         {.face = "Liberation Sans", .points = 10, .dpi = 200},
         std::bind(uneven, _1, _2, _3, false)},
        {"ruled paper", {.points = 11}, std::bind(on_lines, _1, _2, _3, false)},
        {"squared paper", {.face = "Nimbus Mono PS", .points = 11}, std::bind(on_lines, _1, _2, _3, true)},
        {"print shining through", {.points = 10}, std::bind(shines_through, _1, _2, _3, 0.35)},
        {"print shining through, thin",
         {.points = 11, .dpi = 200, .ink = {0.35, 0.35, 0.35}},
         std::bind(shines_through, _1, _2, _3, 0.3)},
        {"white on dark bands", {.face = "Liberation Sans", .points = 10, .bold = true}, reversed_bands},
        {"white on dark", {.points = 11, .paper = {0.35, 0.2, 0.1}, .ink = {0.95, 0.95, 0.95}}, plain},
        {"red and blue ink",
         {.points = 10, .paper = {0.85, 0.93, 0.96}},
         std::bind(two_inks, _1, _2, _3, cv::Vec3d{0.2, 0.15, 0.75}, cv::Vec3d{0.7, 0.3, 0.15})},
        {"pale green and orange ink",
         {.points = 11, .paper = {0.97, 0.97, 0.97}},
         std::bind(two_inks, _1, _2, _3, cv::Vec3d{0.55, 0.8, 0.6}, cv::Vec3d{0.4, 0.7, 0.98})},
        {"a screen of dots", {.points = 11, .bold = true}, screened},
        {"marker pen", {.points = 10}, highlighted},
        {"out of focus",
         {.points = 10, .dpi = 200},
         [](const Look& l, const std::vector<Placed>& w, unsigned s) {
             return sensed(draw(l, w), l.dpi, 1.9, 0.01, s);
         }},
        {"italics, poor JPEG", {.points = 9, .italic = true, .dpi = 200}, as_jpeg},
    };
    return all;
}

}

std::string letters_of(const std::string& word) {
    const auto inner = [](unsigned char c) { return std::isalnum(c) || c >= 0x80; };
    const auto first = std::find_if(word.begin(), word.end(), inner);
    const auto last = std::find_if(word.rbegin(), word.rend(), inner).base();
    return first < last ? std::string(first, last) : std::string();
}

size_t hard_kinds() { return kinds().size(); }
std::string hard_kind(size_t index) { return kinds().at(index).name; }

HardPage hard_page(size_t index, unsigned seed) {
    const Kind& kind = kinds().at(index);
    const auto placed = set_words(kind.look, seed * 100 + static_cast<unsigned>(index));
    Look clean = kind.look;
    clean.dpi = 300;
    clean.paper = {1, 1, 1};
    clean.ink = {0, 0, 0};
    return {kind.name, kind.make(kind.look, placed, seed), sensed(grey_of(draw(clean, placed)), 300, 0.4, 0.002),
            words_of(placed)};
}

SetPage hard_page_with(size_t index, unsigned seed, const char* face, const SetWords& set) {
    const Kind& kind = kinds().at(index);
    Look look = kind.look;
    if (face) look.face = face;
    const auto placed = set(look);
    return {kind.make(look, placed, seed), placed};
}

SetPage clean_page_with(const char* face, const SetWords& set) {
    const Look look{.face = face, .ink = {0, 0, 0}};
    const auto placed = set(look);
    return {sensed(grey_of(draw(look, placed)), look.dpi, 0.4, 0.002), placed};
}

WordCount& WordCount::operator+=(const WordCount& other) {
    found += other.found;
    of += other.of;
    invented += other.invented;
    return *this;
}

WordCount count_words(const std::vector<std::string>& truth, const std::vector<std::string>& read) {
    std::map<std::string, int> left;
    WordCount count;
    for (const std::string& word : truth)
        if (const auto letters = letters_of(word); !letters.empty()) ++left[letters], ++count.of;
    for (const std::string& word : read) {
        const auto letters = letters_of(word);
        if (letters.empty()) continue;
        if (auto at = left.find(letters); at != left.end() && at->second > 0)
            --at->second, ++count.found;
        else
            ++count.invented;
    }
    return count;
}

}
