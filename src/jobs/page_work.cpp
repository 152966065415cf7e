#include "jobs/page_work.h"

#include "core/reading/orientation.h"

namespace yelvin {

Notices noticed(const Raster& original, const Ticket& ticket, ReaderPool& readers) {
    Notices notices = notice(original);
    notices.turn_degrees = text_turn(original, notices, *readers.borrow(), ticket.read.languages);
    return notices;
}

Recipe recipe_for(const Notices& notices, const Raster& original, const Ticket& ticket) {
    return recipe_from(notices, original, {ticket.pages.straighten, ticket.pages.turn_upright, ticket.how.ink});
}

}
