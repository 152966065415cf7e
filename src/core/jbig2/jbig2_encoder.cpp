#include "core/jbig2/jbig2_encoder.h"

#include "core/jbig2/segments.h"
#include "core/jbig2/symbol_margins.h"
#include "core/jbig2/text_region.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <numeric>
#include <unordered_map>
#include <utility>

namespace yelvin {

namespace {

// Numbers of segments: two dictionaries, then those of a page.
constexpr std::uint32_t dictionary_numbers[] = {0, 1}, first_number = 2;
constexpr int the_page = 1; // every page is page 1 of a PDF's stream

// The symbols as the dictionaries have them: with margins, and in their order.
struct Dictionary {
    std::vector<cv::Mat> symbols; // those that stand for themselves, then the variants
    std::vector<SymbolVariant> variants;
    struct Entry {
        size_t number = 0; // in `symbols`
        int left = 0;      // margin at the left of the symbol
    };
    std::vector<Entry> entries;                       // of each symbol in the order in which they were found
    std::unordered_map<size_t, size_t> variant_of;    // bitmap: number in `symbols`
    std::unordered_map<size_t, cv::Point> variant_at; // bitmap: place of the variant's pixel (0, 0) on it
};

// The numbers from 0 to `count` - 1 in the order of a dictionary.
template <class SizeOf>
std::vector<size_t> dictionary_order(size_t count, const SizeOf& size_of) {
    std::vector<size_t> order(count);
    std::iota(order.begin(), order.end(), size_t{0});
    std::ranges::stable_sort(order, {}, [&](size_t i) {
        const cv::Size size = size_of(i);
        return std::pair(size.height, size.width);
    });
    return order;
}

// The place of a symbol on a bitmap that is encoded by it.
cv::Rect symbol_on(const SymbolUse& use, const Dictionary& dictionary) {
    const Dictionary::Entry& entry = dictionary.entries[use.symbol];
    return {use.offset - cv::Point(entry.left, 0), dictionary.symbols[entry.number].size()};
}

void add_variants(Dictionary& dictionary, const Symbols& found, const std::vector<PackedBitmap>& bitmaps) {
    std::vector<size_t> numbers; // of bitmaps
    std::vector<SymbolVariant> variants;
    for (size_t i = 0; i < bitmaps.size(); ++i) {
        const auto& use = found.uses[i];
        if (!use || use->is_exact || !use->repeats) continue;
        const cv::Rect symbol = symbol_on(*use, dictionary), box = symbol | cv::Rect({0, 0}, bitmaps[i].size());
        cv::Mat mask = cv::Mat::zeros(box.size(), CV_8UC1);
        bitmaps[i].mask().copyTo(mask(cv::Rect(-box.tl(), bitmaps[i].size())));
        variants.push_back({dictionary.entries[use->symbol].number, std::move(mask), symbol.tl() - box.tl()});
        numbers.push_back(i);
        dictionary.variant_at[i] = box.tl();
    }
    for (const size_t i : dictionary_order(variants.size(), [&](size_t each) { return variants[each].mask.size(); })) {
        dictionary.variant_of[numbers[i]] = dictionary.symbols.size();
        dictionary.symbols.push_back(variants[i].mask);
        dictionary.variants.push_back(std::move(variants[i]));
    }
}

Dictionary dictionary_of(const Symbols& found, const std::vector<PlacedSymbol>& places,
                         const std::vector<PackedBitmap>& bitmaps) {
    const std::vector<SymbolMargins> margins = margins_for(places, found.symbols.size());
    std::vector<PackedBitmap> padded;
    for (size_t i = 0; i < margins.size(); ++i)
        padded.push_back(found.symbols[i].padded(margins[i].left, 0, margins[i].right, margins[i].bottom));
    Dictionary out;
    out.entries.resize(padded.size());
    for (const size_t i : dictionary_order(padded.size(), [&](size_t each) { return padded[each].size(); })) {
        out.entries[i] = {out.symbols.size(), margins[i].left};
        out.symbols.push_back(padded[i].mask());
    }
    add_variants(out, found, bitmaps);
    return out;
}

SymbolInstance instance_of(const PlacedBitmap& placed, const PackedBitmap& bitmap, const SymbolUse& use,
                           const Dictionary& dictionary, cv::Size page) {
    const cv::Rect whole({0, 0}, page), ink(placed.at, bitmap.size()), symbol = symbol_on(use, dictionary) + placed.at;
    if (const auto variant = dictionary.variant_of.find(placed.bitmap); variant != dictionary.variant_of.end()) {
        const cv::Rect box(placed.at + dictionary.variant_at.at(placed.bitmap),
                           dictionary.symbols[variant->second].size());
        if ((box & whole) == box) return {variant->second, box, {}, {}};
    }
    // Some decoders misplace a box that begins left of the page, so that it is cut off, and refined.
    const size_t number = dictionary.entries[use.symbol].number;
    const cv::Rect box = (symbol | ink) & whole;
    if (use.is_exact && box == symbol) return {number, box, {}, {}};
    cv::Mat exact = cv::Mat::zeros(box.size(), CV_8UC1);
    bitmap.mask().copyTo(exact(ink - box.tl()));
    return {number, box, std::move(exact), symbol.tl() - box.tl()};
}

// Appends the ink as a generic region, unless there is none.
void put_pixels(const cv::Mat& ink, std::uint32_t number, std::string& out) {
    const cv::Rect box = cv::boundingRect(ink);
    if (!box.empty())
        out += segment(number, SegmentType::GenericRegion, {}, the_page, generic_region(ink(box), box.tl()));
}

}

void Jbig2Encoder::add(const cv::Mat& ink, double dpi) {
    const InkPieces pieces = InkPieces::of(ink);
    auto [placed, others] = finder_.add(pieces);
    Page page{ink.size(), dpi, std::move(placed), {}};
    std::vector<bool> is_other(pieces.pieces().size());
    for (const size_t each : others) is_other[each] = true;
    for (const InkPieces::Run& run : pieces.runs())
        if (is_other[run.piece]) page.others.push_back(run);
    pages_.push_back(std::move(page));
}

Jbig2Document Jbig2Encoder::finish() {
    const Symbols found = finder_.found();
    std::vector<PlacedSymbol> places;
    for (size_t i = 0; i < pages_.size(); ++i)
        for (const PlacedBitmap& placed : pages_[i].placed)
            if (const auto& use = found.uses[placed.bitmap])
                places.push_back({i, {placed.at + use->offset, found.symbols[use->symbol].size()}, use->symbol});
    const Dictionary dictionary = dictionary_of(found, places, finder_.bitmaps());
    const std::span<const cv::Mat> symbols(dictionary.symbols.data(),
                                           dictionary.symbols.size() - dictionary.variants.size());
    const std::span<const std::uint32_t> dictionaries(dictionary_numbers, dictionary.variants.empty() ? 1 : 2);

    Jbig2Document out;
    if (!symbols.empty())
        out.globals = segment(dictionary_numbers[0], SegmentType::SymbolDictionary, {}, 0, symbol_dictionary(symbols));
    if (!dictionary.variants.empty())
        out.globals += segment(dictionary_numbers[1], SegmentType::SymbolDictionary, dictionaries.first(1), 0,
                               variant_dictionary(dictionary.variants, symbols));
    for (const Page& page : pages_) {
        cv::Mat rest = cv::Mat::zeros(page.size, CV_8UC1);
        for (const InkPieces::Run& run : page.others)
            std::fill(rest.ptr(run.y) + run.from, rest.ptr(run.y) + run.to, uchar{255});
        std::vector<SymbolInstance> instances;
        for (const PlacedBitmap& placed : page.placed) {
            const PackedBitmap& bitmap = finder_.bitmaps()[placed.bitmap];
            if (const auto& use = found.uses[placed.bitmap])
                instances.push_back(instance_of(placed, bitmap, *use, dictionary, page.size));
            else
                cv::bitwise_or(rest(cv::Rect(placed.at, bitmap.size())), bitmap.mask(),
                               rest(cv::Rect(placed.at, bitmap.size())));
        }
        std::uint32_t number = first_number;
        std::string bytes =
            segment(number++, SegmentType::PageInformation, {}, the_page, page_information(page.size, page.dpi));
        if (!instances.empty())
            bytes += segment(number++, SegmentType::TextRegion, dictionaries, the_page,
                             text_region(page.size, std::move(instances), dictionary.symbols));
        put_pixels(rest, number, bytes);
        out.pages.push_back(std::move(bytes));
    }
    *this = {};
    return out;
}

std::string jbig2_of_pixels(const cv::Mat& ink, double dpi) {
    std::string out =
        segment(first_number, SegmentType::PageInformation, {}, the_page, page_information(ink.size(), dpi));
    put_pixels(ink, first_number + 1, out);
    return out;
}

}
