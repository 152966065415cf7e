// Numbers of variable length. Internal to core/cabinet.
#pragma once

#include <cstdint>
#include <stdexcept>
#include <string>
#include <string_view>

namespace yelvin {

// Unsigned numbers are LEB128 (DWARF 5, 7.6), small ones in one byte; signed numbers use the zigzag mapping.
inline void put(std::string& out, std::uint32_t value) {
    for (; value >= 0x80; value >>= 7) out += static_cast<char>((value & 0x7F) | 0x80);
    out += static_cast<char>(value);
}
inline std::uint32_t zigzag(int value) {
    return (static_cast<std::uint32_t>(value) << 1) ^ static_cast<std::uint32_t>(value >> 31);
}
inline int unzigzag(std::uint32_t value) { return static_cast<int>(value >> 1) ^ -static_cast<int>(value & 1); }
inline void put_signed(std::string& out, int value) { put(out, zigzag(value)); }

class Numbers {
  public:
    explicit Numbers(std::string_view bytes) : bytes_(bytes) {}
    std::uint32_t take() {
        std::uint32_t value = 0;
        for (int shift = 0; shift < 35; shift += 7) {
            if (at_ >= bytes_.size()) throw std::out_of_range("packed words end too early");
            const auto byte = static_cast<unsigned char>(bytes_[at_++]);
            value |= static_cast<std::uint32_t>(byte & 0x7F) << shift;
            if (byte < 0x80) return value;
        }
        throw std::out_of_range("a packed number is too long");
    }
    std::uint32_t take_count() {
        const std::uint32_t count = take();
        if (count > 1U << 20U) throw std::out_of_range("too much in a page");
        return count;
    }
    int take_signed() { return unzigzag(take()); }
    std::string_view take_bytes(size_t count) {
        if (count > bytes_.size() - at_) throw std::out_of_range("packed words end too early");
        at_ += count;
        return bytes_.substr(at_ - count, count);
    }
    size_t left() const { return bytes_.size() - at_; }

  private:
    std::string_view bytes_;
    size_t at_ = 0;
};

}
