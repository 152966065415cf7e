// What is done to every page as it comes in: look at it, and decide its corrections by the ticket.
#pragma once

#include "core/seeing/notice.h"
#include "core/ticket/ticket.h"
#include "jobs/reader_pool.h"

namespace yelvin {

// Where a page came from, as far as looking at it is concerned.
struct PageOrigin {
    bool from_stack = false; // the sheet may lie anywhere in the picture, on the feeder's roller
    bool back = false;
    std::optional<Region> item; // the page is this part of the picture
    bool framed = false;        // `item` was drawn by a person, not found
};

// All notices, which way up the text lies included (that part borrows a reader).
Notices noticed(const Raster& original, const Ticket& ticket, ReaderPool& readers, PageOrigin origin = {});

// Decides again whether a side bears anything, where its notices are in doubt and the sheet's other side is there.
void look_through(Notices& notices, const Raster& side, const Notices& other_notices, const Raster& other);

// A back that no text says how to turn is turned as the stack's sheets are.
Recipe recipe_for(const Notices& notices, const Raster& original, const Ticket& ticket, PageOrigin origin = {});

// What becomes a page of a picture of the whole glass, as the ticket says: each item, or one rectangle around them all.
// Empty: the whole picture.
std::vector<Region> items_on(const Raster& picture, Frames frames);

// What the ticket asks of the scanner. `paper` automatic: as long as the sheet from a feeder, all of the glass.
ScanRequest request_for(const Ticket& ticket, const std::string& scanner, RectMm area);

}
