// The content of a PDF page: its picture over the whole page and its invisible words exactly where they are printed.
// Pure but for `codes`.
#pragma once

#include "core/output/glyphless_font.h"
#include "core/output/pdf_tags.h"
#include "core/text/text_layer.h"

#include <string>

namespace yelvin {

// Returns the content stream (ISO 32000-1, 8 and 9) of a page of `width_pt` x `height_pt`: picture /Im0, font /F0 in
// text rendering mode 3. Each line is set in one size that spans its ascenders and descenders along its own baseline;
// each word is stretched to its printed width, and the gap behind it is filled by a space, so that a selection runs
// along the line. With `tags`, all of it is marked content.
std::string page_content(double width_pt, double height_pt, double dpi, const TextLayer& text, GlyphlessCodes& codes,
                         const PdfTags* tags = nullptr);

// Returns the words only, for a page that has its picture already. `font` is the font's name in the page's resources.
std::string words_content(double width_pt, double height_pt, double dpi, const TextLayer& text, GlyphlessCodes& codes,
                          const std::string& font);

}
