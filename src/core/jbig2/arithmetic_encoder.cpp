#include "core/jbig2/arithmetic_encoder.h"

#include <cstdlib>
#include <iterator>
#include <utility>

namespace yelvin {

namespace {

// Table E.1: the probability of the less likely bit, the next state after each kind of bit, and whether the less likely
// bit becomes the more likely one.
struct State {
    std::uint16_t probability;
    std::uint8_t after_likely, after_unlikely;
    bool switches;
};
constexpr State states[] = {
    {0x5601, 1, 1, true},    {0x3401, 2, 6, false},   {0x1801, 3, 9, false},   {0x0AC1, 4, 12, false},
    {0x0521, 5, 29, false},  {0x0221, 38, 33, false}, {0x5601, 7, 6, true},    {0x5401, 8, 14, false},
    {0x4801, 9, 14, false},  {0x3801, 10, 14, false}, {0x3001, 11, 17, false}, {0x2401, 12, 18, false},
    {0x1C01, 13, 20, false}, {0x1601, 29, 21, false}, {0x5601, 15, 14, true},  {0x5401, 16, 14, false},
    {0x5101, 17, 15, false}, {0x4801, 18, 16, false}, {0x3801, 19, 17, false}, {0x3401, 20, 18, false},
    {0x3001, 21, 19, false}, {0x2801, 22, 19, false}, {0x2401, 23, 20, false}, {0x2201, 24, 21, false},
    {0x1C01, 25, 22, false}, {0x1801, 26, 23, false}, {0x1601, 27, 24, false}, {0x1401, 28, 25, false},
    {0x1201, 29, 26, false}, {0x1101, 30, 27, false}, {0x0AC1, 31, 28, false}, {0x09C1, 32, 29, false},
    {0x08A1, 33, 30, false}, {0x0521, 34, 31, false}, {0x0441, 35, 32, false}, {0x02A1, 36, 33, false},
    {0x0221, 37, 34, false}, {0x0141, 38, 35, false}, {0x0111, 39, 36, false}, {0x0085, 40, 37, false},
    {0x0049, 41, 38, false}, {0x0025, 42, 39, false}, {0x0015, 43, 40, false}, {0x0009, 44, 41, false},
    {0x0005, 45, 42, false}, {0x0001, 45, 43, false}, {0x5601, 46, 46, false}};

}

// Figures E.4 to E.6.
void ArithmeticEncoder::encode(BitContext& context, bool bit) {
    const State& state = states[context.index];
    interval_ -= state.probability;
    if (bit == (context.likely != 0)) {
        if (interval_ & 0x8000) {
            code_ += state.probability;
            return;
        }
        if (interval_ < state.probability)
            interval_ = state.probability;
        else
            code_ += state.probability;
        context.index = state.after_likely;
    } else {
        if (interval_ < state.probability)
            code_ += state.probability;
        else
            interval_ = state.probability;
        if (state.switches) context.likely ^= 1;
        context.index = state.after_unlikely;
    }
    renormalise();
}

void ArithmeticEncoder::renormalise() {
    do {
        interval_ <<= 1;
        code_ <<= 1;
        if (--until_byte_ == 0) put_byte();
    } while (!(interval_ & 0x8000));
}

void ArithmeticEncoder::push(std::uint32_t byte) {
    if (std::exchange(has_last_, true)) out_.push_back(static_cast<char>(last_));
    last_ = byte;
}

// Figure E.8. After a byte FF only seven bits follow, so that a carry cannot reach it.
void ArithmeticEncoder::put_byte() {
    const bool carries = code_ >= 0x8000000 && !(has_last_ && last_ == 0xFF);
    if (carries) {
        // The first byte is preceded by an imaginary one that never gets a carry.
        if (has_last_) ++last_;
        code_ &= 0x7FFFFFF;
    }
    if (has_last_ && last_ == 0xFF) {
        push(code_ >> 20);
        code_ &= 0xFFFFF;
        until_byte_ = 7;
    } else {
        push(code_ >> 19);
        code_ &= 0x7FFFF;
        until_byte_ = 8;
    }
}

// Figures E.10 and E.11.
std::string ArithmeticEncoder::finish() {
    const std::uint32_t end = code_ + interval_;
    code_ |= 0xFFFF;
    if (code_ >= end) code_ -= 0x8000;
    code_ <<= until_byte_;
    put_byte();
    code_ <<= until_byte_;
    put_byte();
    if (last_ != 0xFF) push(0xFF);
    push(0xAC);
    out_.push_back(static_cast<char>(last_));
    return std::move(out_);
}

namespace {

// Table A.1: the values that a prefix of ones covers.
struct Range {
    std::uint32_t first;
    int bits;
};
constexpr Range ranges[] = {{0, 2}, {4, 4}, {20, 6}, {84, 8}, {340, 12}, {4436, 32}};

}

void IntegerEncoder::encode(ArithmeticEncoder& encoder, std::optional<int> value) {
    unsigned before = 1; // PREV of A.2: the bits so far
    const auto put = [&](bool bit) {
        encoder.encode(contexts_[before], bit);
        before = before < 256 ? before << 1 | bit : ((before << 1 | bit) & 511) | 256;
    };
    put(!value || *value < 0);
    const std::uint32_t size = value ? static_cast<std::uint32_t>(std::abs(*value)) : 0;
    size_t at = 0;
    while (at + 1 < std::size(ranges) && size >= ranges[at + 1].first) ++at;
    for (size_t i = 0; i < at; ++i) put(true);
    if (at + 1 < std::size(ranges)) put(false);
    const std::uint32_t rest = size - ranges[at].first;
    for (int bit = ranges[at].bits - 1; bit >= 0; --bit) put(rest >> bit & 1);
}

void SymbolNumberEncoder::encode(ArithmeticEncoder& encoder, std::uint32_t number) {
    std::uint32_t before = 1;
    for (int i = bits_ - 1; i >= 0; --i) {
        const bool bit = number >> i & 1;
        encoder.encode(contexts_[before], bit);
        before = before << 1 | bit;
    }
}

}
