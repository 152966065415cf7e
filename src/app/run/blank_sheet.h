// The small sheet that moves the limit under which a side counts as blank: each side with the ink that was found on it,
// and at once which of them would go.
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
    int going() const;    // sides that would be dropped

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
