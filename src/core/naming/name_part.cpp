#include "core/naming/name_part.h"

#include <algorithm>

namespace yelvin {

bool is_read_on_paper(NamePart::Kind kind) {
    using Kind = NamePart::Kind;
    for (const Kind each : {Kind::Heading, Kind::PaperDate, Kind::Sender, Kind::PaperKind, Kind::Number})
        if (kind == each) return true;
    return false;
}

bool needs_reading(const std::vector<NamePart>& parts) {
    return std::ranges::any_of(parts, [](const NamePart& part) { return is_read_on_paper(part.kind); });
}

}
