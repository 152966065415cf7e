// The cabinet, shown instead of the view: an entry for words, the results below it, filters at the left, the page at
// the right.
#pragma once

#include "app/cabinet/paper_actions.h"

#include <QFrame>

class QLabel;
class QLineEdit;
class QPushButton;
class QStackedWidget;

namespace yelvin {

class PaperPreview;
class ResultList;

class CabinetView : public QFrame {
    Q_OBJECT
  public:
    CabinetView(const CabinetModels& models, QWidget* news, QWidget* parent);
    void open();     // shows it and puts the focus into the entry
    void close();    // keeps the query and the results
    bool step_out(); // leaves the innermost state; returns false if there was none
    void rename_current();
    void choose_all();
    void undo();

  signals:
    void left();
    void taken_back(); // a document was returned to the tray

  protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    CabinetModels models_;
    QLineEdit* entry_;
    QLabel *count_, *note_, *empty_, *taking_, *match_;
    QPushButton *take_in_, *stop_, *undo_, *whole_, *empty_take_in_;
    QPushButton *save_list_, *older_;
    PaperActions* actions_;
    QStackedWidget* middle_;
    ResultList* results_;
    PaperPreview* preview_;

    QWidget* made_head();
    QWidget* made_middle();
    QWidget* made_foot(QWidget* parent);
    QWidget* made_side();
    void join();
    void refresh();
    void refresh_empty();
    void refresh_taking();
    void refresh_side();
    void save_list();
    void open_older();
    void open_take_in();
};

}
