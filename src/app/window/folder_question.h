// Asks in which folder a document is saved, where the ticket leaves it open.
#pragma once

#include <QRect>

class QWidget;

namespace yelvin {

class SavePlaces;

// `anchor` in global coordinates. Closed without an answer, nothing is saved.
void open_folder_question(SavePlaces& places, const QRect& anchor, QWidget* parent);

}
