// The panel beside the pieces: what the newest one contributed, doubtful seams, pieces that were left out and why, and
// what to do next.
#pragma once

#include "app/models/scanning/stitching.h"

#include <QWidget>

class QLabel;
class QPushButton;
class QVBoxLayout;

namespace yelvin {

class StitchPanel : public QWidget {
    Q_OBJECT
  public:
    StitchPanel(Stitching& stitching, QWidget* parent);

  protected:
    void showEvent(QShowEvent* event) override;

  private:
    Stitching& stitching_;
    QLabel *title_, *advice_;
    QVBoxLayout* list_;
    QPushButton *make_, *walk_, *scale_, *leave_;

    void refresh();
    void refresh_list();
};

}
