// The choices of one name part.
#pragma once

#include "core/naming/name_part.h"

#include <QWidget>

#include <functional>

namespace yelvin {

// Called with the changed part.
QWidget* new_chip_choices(const NamePart& part, const std::function<void(const NamePart&)>& apply, QWidget* parent);

}
