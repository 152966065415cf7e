// Where the out tray is kept: in the usual folder, or in one beside it that a person began because that one cannot be
// opened.
#pragma once

#include "app/models/last_choices.h"

namespace yelvin {

QString tray_folder(const QString& usual, const LastChoices& last);
void choose_fresh_tray(const QString& usual, LastChoices& last);

}
