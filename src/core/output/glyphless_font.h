// The font of the invisible text of PDFs: one glyph without an outline, half an em wide, for each character that
// occurs. The place and width of a character come from the text operators alone, so any script can be searched.
#pragma once

#include <map>
#include <string>
#include <string_view>

namespace yelvin {

inline constexpr int glyph_width = 500;                          // in thousandths of an em
inline constexpr double font_ascent = 0.78, font_descent = 0.22; // in ems, as in most text faces

// Assigns codes to characters in the order in which they occur. Not thread-safe.
class GlyphlessCodes {
  public:
    // Returns the codes of a UTF-8 text as a PDF hexadecimal string without brackets, and their number. Invalid bytes
    // are skipped.
    struct Encoded {
        std::string hex;
        int count = 0;
    };
    Encoded encode(std::string_view text);

    int count() const { return static_cast<int>(codes_.size()); }
    std::string to_unicode_map() const; // the ToUnicode CMap (ISO 32000-1, 9.10.3)

  private:
    std::map<char32_t, int> codes_;
};

// Returns a TrueType font program with `glyphs` empty glyphs besides .notdef and the tables that ISO 32000-1, 9.9
// requires of a CIDFontType2 (layout after the OpenType specification 1.9).
std::string glyphless_truetype(int glyphs);

}
