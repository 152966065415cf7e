// The sheet that chooses a PDF, and a place in it, to add pages to.
#pragma once

#include <QRect>

#include <string>

class QWidget;

namespace yelvin {

class PhraseSheet;
class Saving;

// `anchor` in global coordinates.
PhraseSheet* open_add_sheet(Saving& saving, const std::string& document_id, const QRect& anchor, QWidget* parent);

}
