// The foot beside the out tray: its state in words, and actions for all of it: selecting, undoing, saving.
#pragma once

#include "app/models/groups.h"

#include <QWidget>

class QBoxLayout;
class QLabel;
class QPushButton;

namespace yelvin {

class TrayFoot : public QWidget {
    Q_OBJECT
  public:
    TrayFoot(const TrayModels& models, QWidget* parent);
    void save_current();
    QWidget* save_button() const;
    void set_slim(bool slim); // arranges the widgets in a row

  signals:
    void choose_wanted(const QRect& anchor); // global coordinates

  private:
    TrayModels models_;
    QBoxLayout* column_;
    bool slim_ = false;
    QLabel* summary_;
    QPushButton *reading_, *choose_, *steps_, *put_away_, *keeping_, *sending_, *save_all_, *save_;

    void refresh();
    void refresh_summary();
    void refresh_reading();
    void refresh_save();
    void refresh_keeping();
    void refresh_sending();
    void open_history();
};

}
