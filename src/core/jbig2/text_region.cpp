#include "core/jbig2/text_region.h"

#include "core/jbig2/arithmetic_encoder.h"
#include "core/jbig2/regions.h"
#include "core/jbig2/segments.h"

#include <algorithm>
#include <bit>
#include <utility>

namespace yelvin {

namespace {

int bits_for(size_t count) { return count < 2 ? 0 : static_cast<int>(std::bit_width(count - 1)); }

// Encodes symbols in the order of 6.5.5: by heights and widths, each of which is given by its difference.
class DictionaryEncoder {
  public:
    // `size_of` returns a symbol's size, and `put` encodes its pixels.
    template <class SizeOf, class Put>
    void encode(size_t count, const SizeOf& size_of, const Put& put) {
        int height = 0;
        for (size_t i = 0; i < count;) {
            height_step_.encode(encoder, size_of(i).height - height);
            height = size_of(i).height;
            int width = 0;
            for (; i < count && size_of(i).height == height; ++i) {
                width_step_.encode(encoder, size_of(i).width - width);
                width = size_of(i).width;
                put(i);
            }
            width_step_.encode(encoder, std::nullopt);
        }
    }
    // 6.5.10: the number of symbols that are not exported, and of those behind them that are.
    std::string finish(size_t kept_back, size_t exported) {
        exported_.encode(encoder, static_cast<int>(kept_back));
        exported_.encode(encoder, static_cast<int>(exported));
        return encoder.finish();
    }

    ArithmeticEncoder encoder;

  private:
    IntegerEncoder height_step_, width_step_, exported_;
};

}

std::string symbol_dictionary(std::span<const cv::Mat> symbols) {
    DictionaryEncoder dictionary;
    GenericContexts pixels;
    dictionary.encode(
        symbols.size(), [&](size_t i) { return symbols[i].size(); },
        [&](size_t i) { pixels.encode(dictionary.encoder, symbols[i], false); });
    const auto count = static_cast<std::uint32_t>(symbols.size());
    return BigEndian()
        .u16(0) // arithmetic coding, template 0
        .bytes(nominal_pixels)
        .u32(count)
        .u32(count)
        .bytes(dictionary.finish(0, symbols.size()))
        .take();
}

std::string variant_dictionary(std::span<const SymbolVariant> variants, std::span<const cv::Mat> symbols) {
    DictionaryEncoder dictionary;
    ArithmeticEncoder& encoder = dictionary.encoder;
    IntegerEncoder instances, right, down;
    SymbolNumberEncoder number(bits_for(symbols.size() + variants.size()));
    RefinementContexts pixels;
    dictionary.encode(
        variants.size(), [&](size_t i) { return variants[i].mask.size(); },
        [&](size_t i) {
            // 6.5.8.2: an aggregate of a single refined symbol.
            instances.encode(encoder, 1);
            number.encode(encoder, static_cast<std::uint32_t>(variants[i].symbol));
            right.encode(encoder, variants[i].offset.x);
            down.encode(encoder, variants[i].offset.y);
            pixels.encode(encoder, variants[i].mask, symbols[variants[i].symbol], variants[i].offset);
        });
    constexpr std::uint32_t refines = 2; // SDREFAGG, with templates 0
    const auto count = static_cast<std::uint32_t>(variants.size());
    return BigEndian()
        .u16(refines)
        .bytes(nominal_pixels)
        .bytes(nominal_refinement_pixels)
        .u32(count)
        .u32(count)
        .bytes(dictionary.finish(symbols.size(), variants.size()))
        .take();
}

namespace {

// The rows of a strip are 1 << LOGSBSTRIPS pixels high.
constexpr int log_strips_limit = 3;

int strip_of(const SymbolInstance& instance, int log_strips) { return (instance.box.br().y - 1) >> log_strips; }

void sort(std::vector<SymbolInstance>& instances, int log_strips) {
    std::ranges::stable_sort(
        instances, {}, [&](const SymbolInstance& each) { return std::pair(strip_of(each, log_strips), each.box.x); });
}

// Encodes instances in the order of 6.4.5, with the lower left corner as reference corner.
class TextEncoder {
  public:
    // `refines` tells whether the region may have refined symbols.
    TextEncoder(std::span<const cv::Mat> symbols, bool refines, int log_strips)
        : symbols_(symbols), may_refine_(refines), log_strips_(log_strips), number_(bits_for(symbols.size())) {}

    // `instances` must be sorted for the strips. With `places_alone` only what depends on the strips is encoded.
    std::string encode(const std::vector<SymbolInstance>& instances, bool places_alone) {
        int strip = 0, first_in_strip = 0;
        strip_step_.encode(encoder_, 0);
        for (size_t i = 0; i < instances.size();) {
            const int here = strip_of(instances[i], log_strips_);
            strip_step_.encode(encoder_, here - strip);
            strip = here;
            first_step_.encode(encoder_, instances[i].box.x - first_in_strip);
            first_in_strip = instances[i].box.x;
            int x = first_in_strip;
            for (bool is_first = true; i < instances.size() && strip_of(instances[i], log_strips_) == here; ++i) {
                const SymbolInstance& each = instances[i];
                if (!std::exchange(is_first, false)) step_.encode(encoder_, each.box.x - x);
                if (log_strips_ > 0) in_strip_.encode(encoder_, each.box.br().y - 1 - (here << log_strips_));
                if (!places_alone) put(each);
                x = each.box.br().x - 1;
            }
            step_.encode(encoder_, std::nullopt);
        }
        return encoder_.finish();
    }

  private:
    std::span<const cv::Mat> symbols_;
    bool may_refine_;
    int log_strips_;
    ArithmeticEncoder encoder_;
    IntegerEncoder strip_step_, first_step_, step_, in_strip_, refines_, wider_, higher_, right_, down_;
    SymbolNumberEncoder number_;
    RefinementContexts pixels_;

    void put(const SymbolInstance& each) {
        number_.encode(encoder_, static_cast<std::uint32_t>(each.symbol));
        if (may_refine_) refines_.encode(encoder_, each.exact.empty() ? 0 : 1);
        if (each.exact.empty()) return;
        // 6.4.11: the symbol is centred on the larger box before it is shifted.
        const cv::Mat& symbol = symbols_[each.symbol];
        const int wider = each.box.width - symbol.cols, higher = each.box.height - symbol.rows;
        wider_.encode(encoder_, wider);
        higher_.encode(encoder_, higher);
        right_.encode(encoder_, each.offset.x - (wider >> 1));
        down_.encode(encoder_, each.offset.y - (higher >> 1));
        pixels_.encode(encoder_, each.exact, symbol, each.offset);
    }
};

}

std::string text_region(cv::Size page, std::vector<SymbolInstance> instances, std::span<const cv::Mat> symbols) {
    const bool refines = std::ranges::any_of(instances, [](const SymbolInstance& each) { return !each.exact.empty(); });
    int log_strips = 0;
    size_t least = 0;
    for (int each = 0; each <= log_strips_limit; ++each) {
        sort(instances, each);
        const size_t bytes = TextEncoder(symbols, refines, each).encode(instances, true).size();
        if (each > 0 && bytes >= least) continue;
        least = bytes;
        log_strips = each;
    }
    sort(instances, log_strips);
    // 7.4.3.1.1: arithmetic coding, lower left corner, combined by OR, refinement template 0.
    const std::uint32_t flags = (refines ? 2U : 0U) | static_cast<std::uint32_t>(log_strips) << 2;
    BigEndian out;
    out.bytes(region_information({{0, 0}, page})).u16(flags);
    if (refines) out.bytes(nominal_refinement_pixels);
    return out.u32(static_cast<std::uint32_t>(instances.size()))
        .bytes(TextEncoder(symbols, refines, log_strips).encode(instances, false))
        .take();
}

}
