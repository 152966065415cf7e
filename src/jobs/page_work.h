// What is done to every page as it comes in: look at it, and decide its corrections by the ticket.
#pragma once

#include "core/page/notice.h"
#include "core/ticket/ticket.h"
#include "jobs/reader_pool.h"

namespace yelvin {

// All notices, which way up the text lies included (that part borrows a reader).
Notices noticed(const Raster& original, const Ticket& ticket, ReaderPool& readers);

Recipe recipe_for(const Notices& notices, const Raster& original, const Ticket& ticket);

}
