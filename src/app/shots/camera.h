// The camera of the documentation's pictures: waits until the window is at rest, and takes it with what is open over
// it.
#pragma once

#include "app/desk.h"
#include "app/window/main_window.h"

#include <functional>

namespace yelvin::shots {

// Runs the event loop until the desk is at rest and its pictures are there.
void settle(Desk& desk);
void until(const std::function<bool()>& so); // likewise, until it is so
void close_sheet();
// The window with whatever sheet is open over it.
void shoot(MainWindow& window, const QString& file);

}
