// How a document's pages will come on the sheets, and what can be chosen about that, before they are printed.
#pragma once

#include "app/models/outside.h"
#include "core/errands/print_layout.h"

#include <QImage>
#include <QWidget>

namespace yelvin {

class Errands;
class OutTray;
class Pictures;
class PhraseSheet;

// One side of a sheet, true to its proportions.
class SheetPicture : public QWidget {
    Q_OBJECT
  public:
    explicit SheetPicture(QWidget* parent);
    void show_side(const PrintedSide& side, SizeMm sheet, double margin_mm, std::vector<QImage> pages, bool grey);

  protected:
    void paintEvent(QPaintEvent*) override;

  private:
    PrintedSide side_;
    SizeMm sheet_{210, 297};
    double margin_ = 4;
    std::vector<QImage> pages_; // of the side, in its order
    bool grey_ = false;
};

struct PrintLookModels {
    Errands& errands;
    OutTray& tray;
    Pictures& pictures;
};
// Opens over `parent`; goes with its window.
PhraseSheet* open_print_look(const PrintLookModels& models, const QString& document_id, QWidget* parent);

}
