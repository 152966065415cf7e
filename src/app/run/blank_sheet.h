// The sheet that sets the blank limit: each side with its ink, and at once which of them would be left out.
#pragma once

#include "app/theme/popup.h"
#include "core/tray/tray.h"

class QLabel;
class QSlider;

namespace yelvin {

class Pictures;
class Scanning;
class Tickets;

class BlankSides;

class BlankSheet : public theme::Popup {
    Q_OBJECT
  public:
    BlankSheet(Scanning& run, Pictures& pictures, Tickets& tickets, QWidget* parent);
    void open();
    double limit() const; // percent
    int going() const;    // number of sides that would be left out

  private:
    Scanning& run_;
    Pictures& pictures_;
    Tickets& tickets_;
    QSlider* slider_;
    QLabel *value_, *count_;
    BlankSides* sides_;
    std::vector<PagePtr> pages_;
    void refresh();
};

}
