// The contents of each phrase's sheet.
#pragma once

#include "app/models/groups.h"
#include "core/naming/name_part.h"

#include <QString>

#include <functional>

namespace yelvin {
class PhraseSheet;
}

namespace yelvin::sheets {

// Functions that open another sheet from a sheet.
struct Doors {
    std::function<void()> bench, more, blank, separators, strip, quality, formats, then, uses, file, protection,
        properties, stamp, also, growth, scan_as, make_as, ticket_more;
};
// Returns the doors to the sheets of phrases and of rare choices; `to` returns the function that opens one.
Doors doors_to(const std::function<std::function<void()>(const char* phrase)>& to);
void fill(PhraseSheet& sheet, const QString& phrase, const TicketModels& models, const Doors& doors);
// The sheet of tickets: choosing, saving, copying, naming, colouring, removing.
void fill_tickets(PhraseSheet& sheet, const TicketModels& models, const Doors& doors);
void fill_ticket_more(PhraseSheet& sheet, const TicketModels& models);
void fill_like(PhraseSheet& sheet, const TicketModels& models, bool scanning); // from which ticket a half is taken

// Conversion between a typed pattern such as "yyyy-mm-dd Mooring ###" and name parts.
QString name_pattern(const std::vector<NamePart>& parts);
std::vector<NamePart> parts_of(const QString& pattern);

}
