#include "core/cabinet/word_places.h"

#include "core/cabinet/small_numbers.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <utility>

namespace yelvin {

std::vector<std::string_view> parted(std::string_view text, char at) {
    std::vector<std::string_view> out;
    for (size_t begin = 0; begin <= text.size();) {
        const size_t end = std::min(text.find(at, begin), text.size());
        out.push_back(text.substr(begin, end - begin));
        begin = end + 1;
    }
    return out;
}

namespace {

constexpr double unit_mm = 0.5; // The precision of what is stored.
constexpr std::uint32_t most = 1 << 20;

int units(double mm) { return static_cast<int>(std::clamp(std::lround(mm / unit_mm), -100000L, 100000L)); }

// The expected width of a word from its letters, an average letter being 8. Only the difference from it is stored.
int letter_widths(std::string_view text) {
    int sum = 0;
    for (const char c : text) {
        const auto byte = static_cast<unsigned char>(c);
        if ((byte & 0xC0) == 0x80) continue; // A continuation byte of UTF-8.
        if (std::string_view("iljtfrI.,:;'!|()[]-").find(c) != std::string_view::npos)
            sum += 5;
        else if (std::string_view("mwMW@%").find(c) != std::string_view::npos)
            sum += 13;
        else
            sum += c >= 'A' && c <= 'Z' ? 10 : 8;
    }
    return std::max(sum, 1);
}
bool is_tall(std::string_view text) {
    return text.find_first_of("ABCDEFGHIJKLMNOPQRSTUVWXYZbdfhklti0123456789()[]/|!?&%@") != std::string_view::npos;
}
bool is_deep(std::string_view text) { return text.find_first_of("gjpqy,;()[]/|Q@") != std::string_view::npos; }

struct Box {
    int x = 0, y = 0, width = 0, height = 0;
};
Box box_of(const PlacedWord& word) {
    const int x = units(word.box.x), y = units(word.box.y);
    return {x, y, units(word.box.x + word.box.width) - x, units(word.box.y + word.box.height) - y};
}

int middle(std::vector<int> of) {
    if (of.empty()) return 0;
    std::ranges::nth_element(of, of.begin() + static_cast<long>(of.size() / 2));
    return of[of.size() / 2];
}

// Each kind of number has a stream of its own, because similar numbers next to each other compress best.
struct Streams {
    std::string lines, gaps, widths, edges;
};

// The vertical shape of a line: its top and bottom, and the distances of the x-height and the baseline from them.
struct LineShape {
    int top = 0, bottom = 0, small = 0, flat = 0;
    int scale = 0, gap = 0; // how wide its letters are, and what is between its words
};

LineShape shape_of_line(const PlacedLine& line) {
    LineShape shape;
    std::vector<int> small, flat;
    std::vector<int> tops, bottoms;
    int width = 0, letters = 0;
    for (const PlacedWord& word : line.words) {
        const Box box = box_of(word);
        if (is_tall(word.text)) tops.push_back(box.y);
        if (is_deep(word.text)) bottoms.push_back(box.y + box.height);
        width += box.width;
        letters += letter_widths(word.text);
    }
    const Box first = box_of(line.words.front());
    shape.top = tops.empty() ? first.y : middle(tops);
    shape.bottom = bottoms.empty() ? first.y + first.height : middle(bottoms);
    for (const PlacedWord& word : line.words) {
        const Box box = box_of(word);
        if (!is_tall(word.text)) small.push_back(box.y - shape.top);
        if (!is_deep(word.text)) flat.push_back(shape.bottom - box.y - box.height);
    }
    std::vector<int> gaps;
    for (size_t i = 1; i < line.words.size(); ++i) {
        const Box before = box_of(line.words[i - 1]);
        gaps.push_back(box_of(line.words[i]).x - before.x - before.width);
    }
    shape.gap = middle(gaps);
    shape.small = middle(small);
    shape.flat = middle(flat);
    shape.scale = letters > 0 ? (width * 256 + letters / 2) / letters : 0;
    return shape;
}

Box expected(const LineShape& shape, std::string_view text) {
    const int top = shape.top + (is_tall(text) ? 0 : shape.small);
    const int bottom = shape.bottom - (is_deep(text) ? 0 : shape.flat);
    return {0, top, (letter_widths(text) * shape.scale + 128) / 256, bottom - top};
}

void put_line(Streams& to, const PlacedLine& line, std::uint32_t language, Box& before) {
    const LineShape shape = shape_of_line(line);
    const Box first = box_of(line.words.front());
    put(to.lines, language);
    put_signed(to.lines, first.x - before.x);
    put_signed(to.lines, shape.top - before.y);
    put_signed(to.lines, shape.bottom - shape.top);
    put_signed(to.lines, shape.small);
    put_signed(to.lines, shape.flat);
    put_signed(to.lines, shape.gap);
    put(to.lines, static_cast<std::uint32_t>(std::max(0, shape.scale)));
    int end = first.x - shape.gap;
    for (const PlacedWord& word : line.words) {
        const Box box = box_of(word), guess = expected(shape, word.text);
        put_signed(to.gaps, box.x - end - shape.gap);
        put_signed(to.widths, box.width - guess.width);
        put(to.edges, zigzag(box.y - guess.y) * 8 + std::min(7U, zigzag(box.y + box.height - guess.y - guess.height)));
        if (zigzag(box.y + box.height - guess.y - guess.height) >= 7)
            put_signed(to.edges, box.y + box.height - guess.y - guess.height);
        end = box.x + box.width;
    }
    before = {first.x, shape.top, 0, 0};
}

PageWords from_streams(Numbers head, std::string_view text, const std::vector<std::string>& languages,
                       std::array<Numbers, 4> streams) {
    PageWords page;
    page.width_mm = head.take() * unit_mm;
    page.height_mm = head.take() * unit_mm;
    if (text.empty()) return page;
    auto& [lines, gaps, widths, edges] = streams;
    Box before;
    for (std::string_view each : parted(text, '\n')) {
        PlacedLine line;
        line.heading = each.starts_with(heading_mark);
        if (line.heading) each.remove_prefix(1);
        if (const std::uint32_t language = lines.take(); language > 0) line.language = languages.at(language - 1);
        LineShape shape;
        const int x = before.x + lines.take_signed();
        shape.top = before.y + lines.take_signed();
        shape.bottom = shape.top + lines.take_signed();
        shape.small = lines.take_signed();
        shape.flat = lines.take_signed();
        shape.gap = lines.take_signed();
        shape.scale = static_cast<int>(std::min<std::uint32_t>(lines.take(), most));
        int end = x - shape.gap;
        for (const std::string_view word : parted(each, ' ')) {
            const Box guess = expected(shape, word);
            const int left = end + shape.gap + gaps.take_signed(), width = guess.width + widths.take_signed();
            const std::uint32_t both = edges.take();
            const int top = guess.y + unzigzag(both / 8);
            const int below = both % 8 < 7 ? unzigzag(both % 8) : edges.take_signed();
            const int bottom = guess.y + guess.height + below;
            line.words.push_back(
                {std::string(word), {left * unit_mm, top * unit_mm, width * unit_mm, (bottom - top) * unit_mm}});
            end = left + width;
        }
        before = {x, shape.top, 0, 0};
        page.lines.push_back(std::move(line));
    }
    return page;
}

}

std::string packed_places(const PageWords& page) {
    std::vector<std::string> languages;
    Streams streams;
    Box before;
    for (const PlacedLine& line : page.lines) {
        std::uint32_t language = 0;
        if (!line.language.empty()) {
            const auto at = std::ranges::find(languages, line.language);
            language = static_cast<std::uint32_t>(at - languages.begin()) + 1;
            if (at == languages.end()) languages.push_back(line.language);
        }
        put_line(streams, line, language, before);
    }
    std::string numbers;
    put(numbers, static_cast<std::uint32_t>(std::max(0, units(page.width_mm))));
    put(numbers, static_cast<std::uint32_t>(std::max(0, units(page.height_mm))));
    put(numbers, static_cast<std::uint32_t>(languages.size()));
    for (const std::string& each : languages) {
        put(numbers, static_cast<std::uint32_t>(each.size()));
        numbers += each;
    }
    const std::string* const all[] = {&streams.lines, &streams.gaps, &streams.widths, &streams.edges};
    for (const std::string* each : all) put(numbers, static_cast<std::uint32_t>(each->size()));
    for (const std::string* each : all) numbers += *each;
    return numbers;
}

PageWords page_of(std::string_view text, const std::string& places) {
    Numbers all(places);
    const Numbers head = all;
    all.take();
    all.take();
    std::vector<std::string> languages(all.take_count());
    for (std::string& each : languages) each = all.take_bytes(all.take_count());
    std::array<std::uint32_t, 4> sizes{};
    for (std::uint32_t& size : sizes) size = all.take_count();
    const auto next = [&](size_t i) { return Numbers(all.take_bytes(sizes[i])); };
    return from_streams(head, text, languages, {next(0), next(1), next(2), next(3)});
}

}
