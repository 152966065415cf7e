#include "core/ocr/engine_page.h"

#include <malloc.h>
#include <tesseract/baseapi.h>

#include <cmath>

namespace yelvin {

PixPtr ink_of(PIX* grey) {
    NUMA* levels = pixGetGrayHistogram(grey, 1);
    l_int32 paper = 0;
    numaSplitDistribution(levels, 0, &paper, nullptr, nullptr, nullptr, nullptr, nullptr);
    numaDestroy(&levels);
    PixPtr ink{pixThresholdToBinary(grey, paper)};
    l_int32 dark = 0;
    if (!ink || pixCountPixels(ink.get(), &dark, nullptr) != 0) return ink;
    const double all = static_cast<double>(pixGetWidth(grey)) * pixGetHeight(grey);
    if (dark == all)
        pixClearAll(ink.get());
    else if (2.0 * dark >= all)
        pixInvert(ink.get(), ink.get());
    return ink;
}

void set_page(tesseract::TessBaseAPI& engine, const Raster& page) {
    const Raster grey{grey_pixels(page), page.dpi, page.ink == Ink::Black ? Ink::Black : Ink::Grey};
    PixPtr pix = to_pix(grey);
    if (const PixPtr ink = grey.ink == Ink::Black || !pix ? nullptr : ink_of(pix.get())) {
        engine.SetImage(ink.get());
        engine.SetInputImage(pix.release()); // The picture from which the LSTM reads.
    } else {
        engine.SetImage(pix.get());
    }
    engine.SetSourceResolution(static_cast<int>(std::lround(page.dpi)));
}

ReleasedPixels::ReleasedPixels(Raster& page, tesseract::TessBaseAPI& engine)
    : page_(page), engine_(engine), theirs_(pixClone(engine.GetInputImage())) {
    const bool is_ours = page.pixels.u && page.pixels.u->refcount == 1;
    if (is_ours && page.ink == Ink::Grey && theirs_) page.pixels.release();
}

ReleasedPixels::~ReleasedPixels() {
    engine_.Clear();
    if (page_.pixels.empty()) page_.pixels = from_pix(theirs_.get(), page_.dpi).pixels;
}

void give_memory_back() { malloc_trim(0); }

}
