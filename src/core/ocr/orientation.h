// Finding which way up a page's text is. Blocks for up to two readings of the page; called on the thread that uses the
// Reader.
#pragma once

#include "core/ocr/reader.h"
#include "core/seeing/notice.h"

namespace yelvin {

// Returns the clockwise turn (0, 90, 180, 270) that sets the text of `original` upright, or nullopt if there is too
// little text. `notices` must contain the tilt, which is removed first. In every language of Latin, Greek or Cyrillic
// script, letters with ascenders (b d f h k l) outnumber those with descenders, which decides most pages quickly; for a
// doubtful page, and for any page that may be in another script, Tesseract is asked; a page that is still doubtful is
// read both ways.
std::optional<int> text_turn(const Raster& original, const Notices& notices, Reader& reader,
                             const std::vector<std::string>& languages);

}
