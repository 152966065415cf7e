// What is done to every new page: determine its notices, and derive its recipe from them and the ticket. The functions
// block and may be called on any thread.
#pragma once

#include "core/seeing/notice.h"
#include "core/ticket/ticket.h"
#include "jobs/reader_pool.h"

namespace yelvin {

// Where a page came from, as far as checking it needs to know.
struct PageOrigin {
    bool from_stack = false; // the sheet may be anywhere in the picture, on the feeder's roller
    bool back = false;
    std::optional<Region> item; // the part of the picture that is the page
    bool framed = false;        // `item` was drawn by the user, not found
};

// Determines all notices, including which way up the text is, for which it borrows a reader.
Notices noticed(const Raster& original, const Ticket& ticket, ReaderPool& readers, PageOrigin origin = {});

// Updates the notices of a side that is in doubt by the sheet's other side.
void look_through(Notices& notices, const Raster& side, const Notices& other_notices, const Raster& other);

// Derives the recipe. A back without enough text is turned as the stack's sheets are turned over.
Recipe recipe_for(const Notices& notices, const Raster& original, const Ticket& ticket, PageOrigin origin = {});

// Returns the parts of a picture of the whole glass that become pages: each item, or one rectangle around all. Empty:
// the whole picture.
std::vector<Region> items_on(const Raster& picture, Frames frames);

// Returns the request for a ticket. With automatic paper size, sheets of a feeder are scanned as long as they are, and
// all of the glass.
ScanRequest request_for(const Ticket& ticket, const std::string& scanner, RectMm area);

}
