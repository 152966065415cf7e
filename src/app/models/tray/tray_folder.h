// The folder of the out tray: the usual one, or one beside it that the user began because the usual one cannot be
// opened.
#pragma once

#include "app/models/window/last_choices.h"

namespace yelvin {

QString tray_folder(const QString& usual, const LastChoices& last);
void choose_fresh_tray(const QString& usual, LastChoices& last);

}
