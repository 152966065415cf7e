// The arithmetic encoder of JBIG2 (ITU-T T.88 | ISO/IEC 14492, annexes A and E): bits and integers to bytes.
//
// An encoder is used by one thread at a time. Everything here lives in memory and cannot fail.
#pragma once

#include <array>
#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace yelvin {

// The adaptive estimate of one context (annex E.2.4): its place in the table of probabilities, and the bit that is the
// more probable one.
struct BitContext {
    std::uint8_t index = 0;
    std::uint8_t likely = 0; // 0 or 1
};

class ArithmeticEncoder {
  public:
    // Encodes a bit and adapts the context's estimate.
    void encode(BitContext& context, bool bit);
    // Ends the data and returns it, with the marker FF AC at its end (E.2.9). The encoder must not be used afterwards.
    std::string finish();
    // Returns the number of complete bytes so far.
    size_t size() const { return out_.size(); }

  private:
    std::uint32_t code_ = 0, interval_ = 0x8000; // C and A of annex E
    int until_byte_ = 12;                        // CT: shifts until a byte is complete
    std::uint32_t last_ = 0;                     // B: the last byte, which a carry may still increase
    bool has_last_ = false;
    std::string out_; // the bytes before it

    void renormalise();
    void put_byte();
    void push(std::uint32_t byte);
};

// The contexts of one integer procedure (annex A.2), such as IADW.
class IntegerEncoder {
  public:
    // Encodes a value from -2,000,004,435 to 2,000,004,435; nullopt is the out-of-band value.
    void encode(ArithmeticEncoder& encoder, std::optional<int> value);

  private:
    std::array<BitContext, 512> contexts_{};
};

// The contexts of the procedure for symbol numbers, IAID (annex A.3).
class SymbolNumberEncoder {
  public:
    // `bits`, 0 to 24, is the length of every number.
    explicit SymbolNumberEncoder(int bits) : bits_(bits), contexts_(size_t{1} << bits) {}
    void encode(ArithmeticEncoder& encoder, std::uint32_t number);

  private:
    int bits_;
    std::vector<BitContext> contexts_;
};

}
