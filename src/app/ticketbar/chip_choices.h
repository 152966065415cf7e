// The few choices of one part of a name.
#pragma once

#include "core/ticket/name_part.h"

#include <QWidget>

#include <functional>

namespace yelvin {

// Told of each change; the part is given as it is then.
QWidget* new_chip_choices(const NamePart& part, const std::function<void(const NamePart&)>& apply, QWidget* parent);

}
