// The print preview: the sheets of a document, and the choices for printing it.
#pragma once

#include "core/errands/print_layout.h"

#include <QImage>
#include <QWidget>

namespace yelvin {

class Errands;
class OutTray;
class Pictures;
class PhraseSheet;

// Shows one side of a sheet in its true proportions.
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
    std::vector<QImage> pages_; // pictures of the pages on the side, in order
    bool grey_ = false;
};

struct PrintLookModels {
    Errands& errands;
    OutTray& tray;
    Pictures& pictures;
};
// Opens the print preview over `parent`; it is destroyed with its window.
PhraseSheet* open_print_look(const PrintLookModels& models, const QString& document_id, QWidget* parent);

}
