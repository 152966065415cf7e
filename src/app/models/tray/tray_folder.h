// The folder of the out tray: the usual one, or one beside it that the user began because the usual one cannot be
// opened. Used on the window's thread, at the start or before a restart; choose_fresh_tray() asks the disk which names
// are free.
#pragma once

#include "app/models/window/last_choices.h"

namespace yelvin {

// Returns the folder to use: the one that was begun, or `usual`.
QString tray_folder(const QString& usual, const LastChoices& last);
// Begins another folder beside `usual`, from the next start on. The folder is created when the tray is opened.
void choose_fresh_tray(const QString& usual, LastChoices& last);

}
