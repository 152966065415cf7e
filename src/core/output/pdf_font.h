// The glyphless font as a PDF object. Internal to core/output.
#pragma once

#include "core/output/glyphless_font.h"

#include <qpdf/QPDFObjectHandle.hh>

namespace yelvin {

// Turns `font`, an empty dictionary to which pages refer already, into the font of these codes. Call it after all words
// were encoded.
void fill_font(QPDF& pdf, QPDFObjectHandle font, const GlyphlessCodes& codes);

}
