// Which way up the text of a page lies.
#pragma once

#include "core/reading/reader.h"
#include "core/seeing/notice.h"

namespace yelvin {

// The clockwise turn (0, 90, 180, 270) that sets the text of `original` upright; nothing where there is too little text
// to tell. `notices` must hold the tilt, which is taken out first. Letters with ascenders (b d f h k l) outnumber those
// with descenders in every language of Latin, Greek or Cyrillic script, which decides most pages at once; a doubtful
// page, and every page that may be in another script, asks Tesseract, and a page still doubtful is read both ways.
std::optional<int> text_turn(const Raster& original, const Notices& notices, Reader& reader,
                             const std::vector<std::string>& languages);

}
