// The table of formats (format_table.cpp): how each is encoded, written and checked. Internal to core/output.
#pragma once

#include "core/output/document_writer.h"

namespace yelvin {

// A finished file to be checked.
struct Finished {
    const std::filesystem::path& file;
    std::uintmax_t bytes = 0;
    int pages = 0;
    const Secret& password;
};

// A line of the table.
struct FormatEntry {
    Format format;
    // Encodes the picture of a page into `out`, whose other members are set already.
    Result<void> (*encode)(const Raster& page, const Ticket::Make& make, EncodedPage& out);
    std::unique_ptr<DocumentWriter> (*writer)(const std::filesystem::path& file, const DocumentInfo& info);
    bool (*opens)(const Finished& made); // whether another library can open the file
};
const FormatEntry& format_entry(Format format);

// opens_again.cpp
bool pdf_opens(const Finished& made);
bool tiff_opens(const Finished& made);
bool png_opens(const Finished& made);
bool jpeg_opens(const Finished& made);
bool webp_opens(const Finished& made);
bool bmp_opens(const Finished& made);
bool heif_opens(const Finished& made); // AVIF, HEIC
bool text_opens(const Finished& made);
bool html_opens(const Finished& made);
bool alto_opens(const Finished& made);
bool zip_with_kind_opens(const Finished& made); // ODT, EPUB
bool docx_opens(const Finished& made);

}
