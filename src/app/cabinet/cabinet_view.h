// The cabinet, in place of the view: one entry for words, what was found below it, what narrows it to the left, the
// page to the right.
#pragma once

#include "core/errands/mail_draft.h"

#include <QFrame>

class QBoxLayout;
class QLabel;
class QLineEdit;
class QPushButton;
class QStackedWidget;

namespace yelvin {

class CabinetKeeper;
class CabinetSearch;
class Errands;
class Incoming;
class Messages;
class NewsBar;
class PaperPreview;
class ResultList;
class Saving;

struct CabinetModels {
    CabinetKeeper& keeper;
    CabinetSearch& search;
    Messages& messages;
    Errands& errands;
    Incoming& files;
};

class CabinetView : public QFrame {
    Q_OBJECT
  public:
    CabinetView(const CabinetModels& models, QWidget* news, QWidget* parent);
    void open();     // the entry is ready for words
    void close();    // it stays as it was for the next time
    bool step_out(); // something narrower than the whole is left; false: there was nothing
    void rename_current();
    void choose_all();
    void undo();

  signals:
    void left();
    void taken_back(); // into the tray

  protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    CabinetModels models_;
    QLineEdit* entry_;
    QLabel *count_, *note_, *empty_, *taking_, *match_;
    QPushButton *take_in_, *stop_, *undo_, *whole_, *empty_take_in_;
    QPushButton *open_, *show_, *back_, *rename_, *move_, *mail_, *away_;
    QStackedWidget* middle_;
    ResultList* results_;
    PaperPreview* preview_;

    QWidget* made_head();
    QWidget* made_middle();
    QWidget* made_side();
    void join();
    void refresh();
    void refresh_empty();
    void refresh_taking();
    void refresh_side();
    QStringList chosen_files() const;
    void open_chosen();
    void show_chosen();
    void take_back_chosen();
    void mail_chosen();
    void put_away_chosen();
    void move_chosen();
    void open_take_in();
};

}
