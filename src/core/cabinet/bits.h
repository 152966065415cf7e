// A set of small numbers as bits. Internal to core/cabinet.
#pragma once

#include <bit>
#include <cstddef>
#include <cstdint>
#include <vector>

namespace yelvin {

class Bits {
  public:
    Bits() = default;
    explicit Bits(size_t size) : size_(size), words_((size + 63) / 64) {}
    static Bits all(size_t size) {
        Bits out(size);
        for (std::uint64_t& word : out.words_) word = ~0ULL;
        if (size % 64 != 0) out.words_.back() >>= 64 - size % 64;
        return out;
    }
    size_t size() const { return size_; }
    bool has(size_t i) const { return i < size_ && (words_[i / 64] >> i % 64 & 1) != 0; }
    void set(size_t i) {
        if (i < size_) words_[i / 64] |= 1ULL << i % 64;
    }
    void set_word(size_t at, std::uint64_t bits) {
        if (at < words_.size()) words_[at] |= bits;
    }
    size_t count() const {
        size_t sum = 0;
        for (const std::uint64_t word : words_) sum += static_cast<size_t>(std::popcount(word));
        return sum;
    }
    bool any() const {
        for (const std::uint64_t word : words_)
            if (word != 0) return true;
        return false;
    }
    // The operands of the following must have the same size.
    Bits& operator&=(const Bits& other) {
        for (size_t i = 0; i < words_.size(); ++i) words_[i] &= other.words_[i];
        return *this;
    }
    Bits& operator|=(const Bits& other) {
        for (size_t i = 0; i < words_.size(); ++i) words_[i] |= other.words_[i];
        return *this;
    }
    Bits& without(const Bits& other) {
        for (size_t i = 0; i < words_.size(); ++i) words_[i] &= ~other.words_[i];
        return *this;
    }
    template <class Each>
    void each(Each each) const {
        for (size_t i = 0; i < words_.size(); ++i)
            for (std::uint64_t word = words_[i]; word != 0; word &= word - 1)
                each(i * 64 + static_cast<size_t>(std::countr_zero(word)));
    }

  private:
    size_t size_ = 0;
    std::vector<std::uint64_t> words_;
};

}
