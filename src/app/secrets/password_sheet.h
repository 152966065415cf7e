// Asks for passwords, over the window.
#pragma once

#include <QRect>

class QWidget;

namespace yelvin {

class PasswordKeeper;
class PhraseSheet;

// Answers the keeper's present question; closing it without an answer gives up. `anchor` in global coordinates.
PhraseSheet* open_password_sheet(PasswordKeeper& keeper, const QRect& anchor, QWidget* parent);

}
