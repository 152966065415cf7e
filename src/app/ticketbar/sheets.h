// What each phrase's sheet holds.
#pragma once

#include "app/models/groups.h"
#include "core/ticket/ticket.h"

#include <QString>

#include <functional>

namespace yelvin {
class PhraseSheet;
}

namespace yelvin::sheets {

// What leads on from a sheet to another one.
struct Doors {
    std::function<void()> bench, more, blank, separators, strip, quality, formats, then, uses, file, protection,
        properties, stamp, also, growth, scan_as, make_as, ticket_more;
};
// Those that lead to the sheet of a phrase, or of a rarer choice: `to` gives what opens it.
Doors doors_to(const std::function<std::function<void()>(const char* phrase)>& to);
void fill(PhraseSheet& sheet, const QString& phrase, const TicketModels& models, const Doors& doors);
// The tickets: to choose, keep, copy, name, colour, remove.
void fill_tickets(PhraseSheet& sheet, const TicketModels& models, const Doors& doors);
void fill_ticket_more(PhraseSheet& sheet, const TicketModels& models);
void fill_like(PhraseSheet& sheet, const TicketModels& models, bool scanning); // whose half it takes

// The pattern people type for a name, "yyyy-mm-dd Mooring ###", and back.
QString name_pattern(const std::vector<NamePart>& parts);
std::vector<NamePart> parts_of(const QString& pattern);

}
