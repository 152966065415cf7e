// The out tray's place at the window's foot: the strip of documents, what is done with all of it, and the upper edge by
// which it is dragged between slim, full and taller. While something is dragged in it it opens by itself.
#pragma once

#include "app/models/groups.h"
#include "app/models/room.h"
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
    void change_rest();         // slim becomes full, full slim
    void step_by(int px);       // from slim upwards it is full, below the least height slim
    void drag_to(int strip_px); // so high that the strip would be; low enough, it is slim

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
