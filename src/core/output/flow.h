// A page as a document that can be edited: its blocks in the order of reading, with the pictures cut from it in their
// places. What the writers of text formats set.
#pragma once

#include "core/raster/raster.h"
#include "core/raster/units.h"
#include "core/reading/tables.h"

#include <string>
#include <vector>

namespace yelvin {

struct FlowRun {
    std::string text; // UTF-8
    bool bold = false;
    bool operator==(const FlowRun&) const = default;
};

struct FlowPicture {
    std::string bytes; // a whole PNG or JPEG file
    bool is_png = false;
    int width_px = 0, height_px = 0;
    RectMm place; // on the page
};

struct FlowBlock {
    enum class Kind { Heading, Paragraph, ListItem, Table, Picture } kind = Kind::Paragraph;
    int level = 1;             // of a heading: 1 to 3, 1 the largest
    std::vector<FlowRun> runs; // of a heading, a paragraph, an item (its mark with it, as it is printed)
    Table table;
    FlowPicture picture;
    double size_pt = 11;  // of its letters
    std::string language; // by Tesseract's name; may be empty

    std::string text() const; // its runs one after the other
};

// Blocks that stand beside others: a column is all of a band from `first` on, up to the next column's.
struct FlowColumn {
    size_t first = 0;           // block
    double left = 0, right = 0; // mm
};
struct FlowBand {
    size_t first = 0, count = 0;     // blocks
    std::vector<FlowColumn> columns; // one or more
};

// A line in its place on the page.
struct FlowLine {
    std::vector<FlowRun> runs;
    RectMm place;
    double baseline = 0; // mm from the upper edge
    double size_pt = 11;
    double stretched = 1; // how much wider it is printed than in the usual serif face of that size; 0.5 to 2
    std::string language;
};

struct FlowPage {
    std::vector<FlowBlock> blocks; // where lines keep their places: pictures only
    std::vector<FlowBand> bands;   // all blocks, band after band
    std::vector<FlowLine> lines;   // where they keep their places
    SizeMm size;
    RectMm used; // where its text and pictures lie
};

enum class FlowAs { Paragraphs, LinesInPlace };
// `text` without what is left out. A pure function; may run on any thread.
FlowPage flow_of(const PageText& text, const Raster& page, int jpeg_quality, FlowAs as = FlowAs::Paragraphs);

// flow_layout.cpp. Bands of blocks by their places: where reading goes on higher up to the right, a column begins.
std::vector<FlowBand> bands_of(const std::vector<RectMm>& places);
std::vector<FlowLine> lines_in_place(const PageText& text, double dpi);

// Of each paragraph: of a heading its level, 1 to 3, 1 the largest; else 0.
std::vector<int> heading_levels(const PageText& text);

// After how many blocks, by their places, a picture comes: behind the last one that ends above its middle, over or
// under it.
size_t behind_which(const std::vector<cv::Rect2d>& blocks, const cv::Rect& picture);

// Places on the page where there is a picture and no text: at least 6 mm high and wide.
std::vector<cv::Rect> pictures_on(const PageText& text, const Raster& page);

}
