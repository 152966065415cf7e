// The glyphless font as an object of a PDF.
#pragma once

#include "core/output/glyphless_font.h"

#include <qpdf/QPDFObjectHandle.hh>

namespace yelvin {

// Makes an empty dictionary, which pages may refer to already, the font of these codes. Once all words are encoded.
void fill_font(QPDF& pdf, QPDFObjectHandle font, const GlyphlessCodes& codes);

}
