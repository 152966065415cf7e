// A drawing of how to place the paper: on the glass, in the feeder, and turning the stack over for two passes.
#pragma once

#include "core/scanner/scanner.h"

#include <QWidget>

namespace yelvin {

class Placement : public QWidget {
  public:
    Placement(Source source, Flip flip, bool two_passes, QWidget* parent);
    QSize sizeHint() const override { return {230, 116}; }

  protected:
    void paintEvent(QPaintEvent*) override;

  private:
    Source source_;
    Flip flip_;
    bool two_passes_;
};

// Returns what the drawing shows as text.
QString placement_words(Source source, Flip flip, bool two_passes);

}
