// The marks of one PDF page: its picture over the whole page and, invisibly, its words exactly where they are printed.
#pragma once

#include "core/output/glyphless_font.h"
#include "core/output/pdf_tags.h"
#include "core/reading/text_layer.h"

#include <string>

namespace yelvin {

// The content stream (ISO 32000-1, 8 and 9) of a page of `width_pt` x `height_pt`: picture /Im0, font /F0 in text
// rendering mode 3. Each line is set in one size that spans its ascenders and descenders along its own baseline; each
// word is stretched to its printed width, and the gap behind it is filled by a space, so that a selection runs along
// the line.
// With `tags` all of it is marked content.
std::string page_content(double width_pt, double height_pt, double dpi, const TextLayer& text, GlyphlessCodes& codes,
                         const PdfTags* tags = nullptr);

// Only the words of such a page, for one that shows its picture already; `font`: its name among the page's.
std::string words_content(double width_pt, double height_pt, double dpi, const TextLayer& text, GlyphlessCodes& codes,
                          const std::string& font);

}
