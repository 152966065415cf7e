#include "core/output/glyphless_font.h"

#include "core/utf8.h"

#include <fmt/format.h>

#include <array>
#include <cstdint>
#include <vector>

namespace yelvin {

namespace {

std::string utf16_hex(char32_t c) {
    if (c < 0x10000) return fmt::format("{:04X}", static_cast<uint32_t>(c));
    const uint32_t rest = static_cast<uint32_t>(c) - 0x10000;
    return fmt::format("{:04X}{:04X}", 0xD800 + (rest >> 10), 0xDC00 + (rest & 0x3FF));
}

// Appends big-endian numbers, as TrueType requires.
class Bytes {
  public:
    Bytes& u16(int value) { return byte(value >> 8).byte(value); }
    Bytes& u32(uint32_t value) { return u16(static_cast<int>(value >> 16)).u16(static_cast<int>(value & 0xFFFF)); }
    Bytes& zeros(size_t count) {
        bytes.append(count, '\0');
        return *this;
    }
    std::string bytes;

  private:
    Bytes& byte(int value) {
        bytes += static_cast<char>(value & 0xFF);
        return *this;
    }
};

uint32_t checksum(const std::string& table) {
    uint32_t sum = 0;
    for (size_t i = 0; i < table.size(); i += 4) {
        for (size_t k = 0; k < 4; ++k)
            sum += static_cast<uint32_t>(i + k < table.size() ? static_cast<unsigned char>(table[i + k]) : 0)
                   << (24 - 8 * k);
    }
    return sum;
}

}

GlyphlessCodes::Encoded GlyphlessCodes::encode(std::string_view text) {
    Encoded out;
    for (size_t at = 0; at < text.size();) {
        const auto decoded = next_code_point(text, at);
        if (!decoded) continue;
        const auto [code, added] = codes_.try_emplace(*decoded, count() + 1);
        out.hex += fmt::format("{:04X}", code->second);
        ++out.count;
    }
    return out;
}

std::string GlyphlessCodes::to_unicode_map() const {
    std::string out = "/CIDInit /ProcSet findresource begin\n12 dict begin\nbegincmap\n"
                      "/CIDSystemInfo << /Registry (Adobe) /Ordering (UCS) /Supplement 0 >> def\n"
                      "/CMapName /Yelvin-Text def\n/CMapType 2 def\n"
                      "1 begincodespacerange\n<0000> <FFFF>\nendcodespacerange\n";
    std::vector<std::string> rows;
    for (const auto& [character, code] : codes_)
        rows.push_back(fmt::format("<{:04X}> <{}>\n", code, utf16_hex(character)));
    constexpr size_t most_in_a_block = 100; // ISO 32000-1, 9.10.3 by way of Adobe Technical Note 5014
    for (size_t i = 0; i < rows.size(); i += most_in_a_block) {
        const size_t end = std::min(rows.size(), i + most_in_a_block);
        out += fmt::format("{} beginbfchar\n", end - i);
        for (size_t k = i; k < end; ++k) out += rows[k];
        out += "endbfchar\n";
    }
    return out + "endcmap\nCMapName currentdict /CMap defineresource pop\nend\nend\n";
}

namespace {

constexpr int ascent = static_cast<int>(1000 * font_ascent), descent = static_cast<int>(1000 * font_descent);

// The fields of the tables "head" and "hhea" in the order of OpenType 1.9.
std::string head_table() {
    Bytes head;
    head.u32(0x10000).u32(0x10000).u32(0).u32(0x5F0F3CF5); // version, revision, checksum (later), magic number
    head.u16(3).u16(1000).zeros(16);                       // flags, units per em, dates
    head.u16(0).u16(-descent).u16(glyph_width).u16(ascent);
    head.u16(0).u16(8).u16(2).u16(0).u16(0); // style, smallest size, direction, short offsets, format
    return head.bytes;
}

std::string hhea_table() {
    Bytes hhea;
    hhea.u32(0x10000).u16(ascent).u16(-descent).u16(0).u16(glyph_width);
    hhea.zeros(2).zeros(2).u16(0).u16(1).u16(0).u16(0); // bearings, extent, caret
    hhea.zeros(8).u16(0).u16(1);                        // reserved, format, widths given
    return hhea.bytes;
}

struct Table {
    const char* tag;
    std::string data;
};

// Returns the font: the directory followed by all tables, with the checksum in "head".
std::string font_of(const std::array<Table, 6>& tables) {
    Bytes directory;
    directory.u32(0x10000).u16(6).u16(64).u16(2).u16(32);
    const auto offset = static_cast<uint32_t>(12 + 16 * tables.size());
    std::string body;
    for (const Table& table : tables) {
        directory.bytes += table.tag;
        directory.u32(checksum(table.data))
            .u32(offset + static_cast<uint32_t>(body.size()))
            .u32(static_cast<uint32_t>(table.data.size()));
        body += table.data;
        body.append((4 - table.data.size() % 4) % 4, '\0');
    }
    std::string font = directory.bytes + body;
    const uint32_t adjustment = 0xB1B0AFBAU - checksum(font); // head.checkSumAdjustment
    const size_t at = offset + 4 + 8;                         // after glyf (4 bytes), 8 bytes into head
    for (size_t k = 0; k < 4; ++k) font[at + k] = static_cast<char>(adjustment >> (24 - 8 * k));
    return font;
}

}

std::string glyphless_truetype(int glyphs) {
    const int all = glyphs + 1;
    const std::string maxp = Bytes().u32(0x10000).u16(all).zeros(8).u16(1).zeros(16).bytes;
    const std::string hmtx = Bytes().u16(glyph_width).u16(0).zeros(2 * static_cast<size_t>(glyphs)).bytes;
    const std::string loca = Bytes().zeros(2 * (static_cast<size_t>(all) + 1)).bytes;
    return font_of({{{"glyf", std::string(4, '\0')},
                     {"head", head_table()},
                     {"hhea", hhea_table()},
                     {"hmtx", hmtx},
                     {"loca", loca},
                     {"maxp", maxp}}});
}

}
