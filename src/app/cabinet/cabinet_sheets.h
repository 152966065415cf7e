// The cabinet's small sheets: renaming, moving, adding a folder, removing older entries.
#pragma once

#include "core/cabinet/cabinet.h"

#include <QRect>

class QWidget;

namespace yelvin {

class CabinetKeeper;
class PhraseSheet;

// `anchor` is the place of the button that opened the sheet, in global coordinates.
PhraseSheet* open_rename_sheet(CabinetKeeper& keeper, const CabinetPaper& paper, const QRect& anchor, QWidget* parent);
PhraseSheet* open_move_sheet(CabinetKeeper& keeper, const std::vector<long long>& ids, const QRect& anchor,
                             QWidget* parent);
// Opens the sheet that offers removing older entries, with their numbers once they are counted.
void open_older_sheet(CabinetKeeper& keeper, const QRect& anchor, QWidget* parent);
PhraseSheet* open_take_in_sheet(CabinetKeeper& keeper, const QRect& anchor, QWidget* parent);

}
