// The words of a page with their places, as the cabinet stores them, and packing them.
#pragma once

#include "core/text/page_text.h"

#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace yelvin {

struct PlacedWord {
    std::string text; // UTF-8, without spaces
    cv::Rect2d box;   // mm from the page's upper left corner; stored to 0.5 mm
};

struct PlacedLine {
    std::vector<PlacedWord> words; // in reading order
    std::string language;          // Tesseract's name; empty: not known
    bool heading = false;
};

struct PageWords {
    double width_mm = 0, height_mm = 0;
    std::vector<PlacedLine> lines;
    bool empty() const { return lines.empty(); }
};

// Returns the words of a page, including paragraphs that are left out, because documents are found by their
// letterheads. `dpi` is that of the page that was read. A pure function.
PageWords words_of_page(const PageText& text, double dpi);

// Zstandard dictionaries that make packed pages smaller. A page must be unpacked with the dictionary that packed it.
// Empty: none.
struct PackingDictionary {
    std::string text, places;
    bool empty() const { return text.empty(); }
};
// Trains dictionaries on a few hundred pages. Empty if there are too few.
PackingDictionary trained_dictionary(const std::vector<PageWords>& pages);
std::string
packed_text(const PageWords& page); // its words separated by spaces, lines by line ends; a byte 1 before a heading

// Packs and unpacks pages. Used by one thread at a time.
class WordPacker {
  public:
    explicit WordPacker(PackingDictionary dictionary = {});
    ~WordPacker();
    WordPacker(WordPacker&&) noexcept;
    WordPacker& operator=(WordPacker&&) noexcept;

    std::string packed(const PageWords& page); // about 3 bytes for each word
    // Returns nullopt if packed() did not make the bytes with this dictionary.
    std::optional<PageWords> unpacked(std::string_view bytes);
    // Returns the words without places and languages, several times faster.
    std::optional<PageWords> unpacked_text(std::string_view bytes);

  private:
    struct Coding;
    std::unique_ptr<Coding> coding_;
};

}
