// The panel beside the glass: the frames in order with their results, and place and size of the selected one.
#pragma once

#include "core/seeing/frame.h"

#include <QWidget>

class QDoubleSpinBox;
class QLabel;
class QPushButton;
class QVBoxLayout;

namespace yelvin {

class Glass;
class NextScan;
class Scanners;
class Tickets;

class FramePanel : public QWidget {
    Q_OBJECT
  public:
    FramePanel(Glass& glass, Scanners& scanners, Tickets& tickets, NextScan& next_scan, QWidget* parent);

  signals:
    void pieces_wanted(); // the paper is larger than the glass

  protected:
    void showEvent(QShowEvent*) override { refresh(); }

  private:
    Glass& glass_;
    Scanners& scanners_;
    Tickets& tickets_;
    NextScan& next_scan_;
    QVBoxLayout* list_;
    QLabel *title_, *total_, *chosen_title_;
    QWidget* fields_;
    QDoubleSpinBox *x_, *y_, *width_, *height_, *angle_;
    QPushButton *unit_, *earlier_, *later_, *pieces_;
    bool inches_ = false, filling_ = false;
    QString shown_; // what the list shows, to avoid rebuilding it

    void refresh();
    void refresh_list();
    void refresh_fields();
    void make_fields();
    QStringList facts_of(const Frame& frame) const;
    void add_entry(int number, const Frame& frame, bool drawn);
    void add_plain(const QString& strong, const QString& quiet);
    void take_fields();
    QString length_words(double mm) const;
};

}
