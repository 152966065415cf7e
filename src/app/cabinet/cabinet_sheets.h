// The cabinet's small sheets: another name, another folder, a folder that is taken in.
#pragma once

#include "core/cabinet/cabinet.h"

#include <QRect>

class QWidget;

namespace yelvin {

class CabinetKeeper;
class PhraseSheet;

// `anchor`: global coordinates of what was pressed.
PhraseSheet* open_rename_sheet(CabinetKeeper& keeper, const CabinetPaper& paper, const QRect& anchor, QWidget* parent);
PhraseSheet* open_move_sheet(CabinetKeeper& keeper, const std::vector<long long>& ids, const QRect& anchor,
                             QWidget* parent);
// How many papers are older than a year, and so on; once they are counted.
void open_older_sheet(CabinetKeeper& keeper, const QRect& anchor, QWidget* parent);
PhraseSheet* open_take_in_sheet(CabinetKeeper& keeper, const QRect& anchor, QWidget* parent);

}
