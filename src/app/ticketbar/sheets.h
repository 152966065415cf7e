// What each phrase's sheet holds.
#pragma once

#include "app/desk.h"

#include <functional>

namespace yelvin {
class PhraseSheet;
}

namespace yelvin::sheets {

void fill(PhraseSheet& sheet, const QString& phrase, Desk& desk, const std::function<void()>& open_bench);
void fill_stub(PhraseSheet& sheet, Desk& desk);

// The pattern people type for a name, "yyyy-mm-dd Mooring ###", and back.
QString name_pattern(const std::vector<NamePart>& parts);
std::vector<NamePart> parts_of(const QString& pattern);

}
