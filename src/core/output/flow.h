// A page as an editable document: its blocks in reading order with the pictures cut out of the page, or its lines in
// their places. Input of the writers of text formats. Values and pure functions.
#pragma once

#include "core/raster/raster.h"
#include "core/raster/units.h"
#include "core/text/tables.h"

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
    int level = 1;             // of a Heading: 1 (largest) to 3
    std::vector<FlowRun> runs; // of a Heading, Paragraph or ListItem (with its mark as printed)
    Table table;
    FlowPicture picture;
    double size_pt = 11;  // type size
    std::string language; // Tesseract's name; may be empty

    std::string text() const; // the texts of its runs
};

// A column of a band: its blocks from `first` up to the first one of the next column.
struct FlowColumn {
    size_t first = 0;           // index of its first block
    double left = 0, right = 0; // mm
};
// A horizontal part of the page with columns side by side.
struct FlowBand {
    size_t first = 0, count = 0;     // index of the first block, number of blocks
    std::vector<FlowColumn> columns; // at least one
};

// A line in its place on the page.
struct FlowLine {
    std::vector<FlowRun> runs;
    RectMm place;
    double baseline = 0; // mm from the upper edge
    double size_pt = 11;
    double stretched = 1; // printed width relative to a usual serif face of that size; 0.5 to 2
    std::string language;
};

struct FlowPage {
    std::vector<FlowBlock> blocks; // in reading order; with FlowAs::LinesInPlace pictures only
    std::vector<FlowBand> bands;   // all blocks, band by band
    std::vector<FlowLine> lines;   // with FlowAs::LinesInPlace
    SizeMm size;                   // of the page
    RectMm used;                   // bounding box of text and pictures
};

enum class FlowAs { Paragraphs, LinesInPlace };
// Makes the editable page. `text` must not contain what is left out.
FlowPage flow_of(const PageText& text, const Raster& page, int jpeg_quality, FlowAs as = FlowAs::Paragraphs);

// The following are in flow_layout.cpp. Divides blocks into bands by their places: a column begins where reading
// continues higher up to the right.
std::vector<FlowBand> bands_of(const std::vector<RectMm>& places);
std::vector<FlowLine> lines_in_place(const PageText& text, double dpi);

// Returns for each paragraph the level of a heading, 1 (largest) to 3, or 0.
std::vector<int> heading_levels(const PageText& text);

// Returns after how many blocks a picture is inserted: behind the last block in its column that ends above its middle.
size_t behind_which(const std::vector<cv::Rect2d>& blocks, const cv::Rect& picture);

// Returns the places of pictures without text on the page, at least 6 mm high and wide.
std::vector<cv::Rect> pictures_on(const PageText& text, const Raster& page);

}
