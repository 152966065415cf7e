// The out tray at the bottom of the window: strip, foot, and the upper edge, by which it is dragged between slim, full
// and taller. It opens automatically while something is dragged in it.
#pragma once

#include "app/models/groups.h"
#include "app/models/window/room.h"
#include "app/tray/tray_strip.h"

#include <QWidget>

class QScrollArea;

namespace yelvin {

class TrayFoot;

class TrayPanel : public QWidget {
    Q_OBJECT
  public:
    TrayPanel(const TrayModels& models, Room& room, QWidget* parent);
    TrayStrip& strip() { return *strip_; }
    TrayFoot& foot() { return *foot_; }
    void stand_beside(Room::Beside beside);
    void change_rest();         // switches between slim and full
    void step_by(int px);       // becomes full above slim, and slim below the least height
    void drag_to(int strip_px); // sets the height of the strip; slim if it is low enough

  protected:
    void resizeEvent(QResizeEvent*) override { strip_->show_current(); }

  private:
    Room& room_;
    Room::Beside beside_ = Room::Beside::TheRest;
    bool opened_for_drag_ = false;
    TrayStrip* strip_;
    QScrollArea* scroll_;
    TrayFoot* foot_;

    void refresh();
};

}
