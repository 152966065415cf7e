// The font of the invisible text: glyphs without outlines, all half an em wide, one for each character that occurs.
// Where a character is on the page and how wide it is comes from the text operators alone, so any script can be
// searched.
#pragma once

#include <map>
#include <string>
#include <string_view>

namespace yelvin {

inline constexpr int glyph_width = 500;                          // in thousandths of an em
inline constexpr double font_ascent = 0.78, font_descent = 0.22; // in ems, as most text faces have

// Gives each character its code as it first occurs.
class GlyphlessCodes {
  public:
    // The codes of a UTF-8 text as a PDF hexadecimal string without brackets, and how many there are. Invalid bytes are
    // left out.
    struct Encoded {
        std::string hex;
        int count = 0;
    };
    Encoded encode(std::string_view text);

    int count() const { return static_cast<int>(codes_.size()); }
    std::string to_unicode_map() const; // a CMap (ISO 32000-1, 9.10.3)

  private:
    std::map<char32_t, int> codes_;
};

// A TrueType font program with `glyphs` empty glyphs besides .notdef, with the tables that ISO 32000-1, 9.9 asks of a
// CIDFontType2 (OpenType specification 1.9 for their layout).
std::string glyphless_truetype(int glyphs);

}
