// What a page says, word by word, with the place of each: what is kept of it in the cabinet, and small.
#pragma once

#include "core/error.h"
#include "core/reading/page_text.h"

#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace yelvin {

struct PlacedWord {
    std::string text; // UTF-8, without spaces
    cv::Rect2d box;   // mm from the page's upper left corner; kept to 0.5 mm
};

struct PlacedLine {
    std::vector<PlacedWord> words; // in the order of reading
    std::string language;          // by Tesseract's name; empty: not known
    bool heading = false;
};

struct PageWords {
    double width_mm = 0, height_mm = 0;
    std::vector<PlacedLine> lines;
    bool empty() const { return lines.empty(); }
};

// Paragraphs that are left out count too: papers are found by their letterheads. `dpi` is of the page that was read.
PageWords words_of_page(const PageText& text, double dpi);

// What makes packed pages smaller; what was packed with one is unpacked with the same. Empty: none.
struct PackingDictionary {
    std::string text, places;
    bool empty() const { return text.empty(); }
};
// From the packed_text and packed_places of some hundred pages; empty where they are too few.
PackingDictionary trained_dictionary(const std::vector<PageWords>& pages);
std::string
packed_text(const PageWords& page); // its words parted by spaces, lines by line ends; a byte 1 before a heading

// On one thread at a time.
class WordPacker {
  public:
    explicit WordPacker(PackingDictionary dictionary = {});
    ~WordPacker();
    WordPacker(WordPacker&&) noexcept;
    WordPacker& operator=(WordPacker&&) noexcept;

    std::string packed(const PageWords& page); // about 3 bytes a word
    // Nothing where the bytes are none that packed() made with this dictionary.
    std::optional<PageWords> unpacked(std::string_view bytes);
    // The words alone, without their places and languages: several times as quick.
    std::optional<PageWords> unpacked_text(std::string_view bytes);

  private:
    struct Coding;
    std::unique_ptr<Coding> coding_;
};

}
