#include "core/naming/name_part.h"

#include <algorithm>

namespace yelvin {

bool is_read_on_paper(NamePart::Kind kind) {
    using Kind = NamePart::Kind;
    switch (kind) {
    case Kind::Heading:
    case Kind::PaperDate:
    case Kind::Sender:
    case Kind::PaperKind:
    case Kind::Number:
        return true;
    case Kind::Words:
    case Kind::Date:
    case Kind::Counter:
    case Kind::Barcode:
    case Kind::Ticket:
    case Kind::Slash:
        break;
    }
    return false;
}

bool needs_reading(const std::vector<NamePart>& parts) {
    return std::ranges::any_of(parts, [](const NamePart& part) { return is_read_on_paper(part.kind); });
}

}
