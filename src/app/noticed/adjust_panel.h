// Adjust: corrections by hand of the current page, in three folds. Nothing is on by default; each can be reset alone or
// all together, and copied to other pages.
#pragma once

#include "app/models/groups.h"
#include "app/noticed/adjust_parts.h"
#include "app/noticed/correction_words.h"
#include "app/page/page_view.h"

class QCheckBox;
class QDoubleSpinBox;

namespace yelvin {

class AdjustPanel : public QWidget {
    Q_OBJECT
  public:
    AdjustPanel(const PageModels& models, QWidget* parent);
    void set_tool(PageTool tool); // the tool in use on the page
    // Opens one of the folds, 0 to 2 from above; `alone` closes the others.
    void open_fold(int index, bool alone);

  signals:
    void tool_wanted(PageTool tool); // None: the one in use is to be put away

  protected:
    // Levels are counted only while it is visible.
    void showEvent(QShowEvent* event) override {
        QWidget::showEvent(event);
        refresh();
    }

  private:
    OutTray& tray_;
    Choice& choice_;
    PageEdits& edits_;
    Pictures& pictures_;
    Scanning& run_;
    Fold *tone_, *edges_, *cleaning_;
    LevelsView* levels_;
    QList<SliderRow*> rows_;
    QList<std::pair<QCheckBox*, AdjustField>> switches_;
    QList<QPushButton*> inks_;
    QWidget *black_box_, *crop_box_;
    QDoubleSpinBox* crop_[4];
    QPushButton *tilt_, *crop_button_, *corners_button_, *pick_, *point_, *back_, *same_;
    QLabel* swatch_;
    QString counted_; // the page and geometry whose levels were counted
    bool showing_ = false;

    void make_tone();
    void make_edges();
    void make_tools();
    void make_crop_box();
    void make_cleaning();
    void add_corrections(QVBoxLayout* into, CorrectionPlace place);
    void add_slider(QVBoxLayout* into, const CorrectionWords& words);
    void add_switch(QVBoxLayout* into, const CorrectionWords& words);
    void refresh();
    void refresh_states(const Recipe& recipe, Ink scanned);
    void enable_what_changes(const Page& page, const Adjust& adjust);
    void count_levels();
    enum class Way { Try, Set, Continue }; // only shown; an undo step; joined with the step before
    void change(const std::function<void(Recipe&)>& how, const QString& name, Way way = Way::Set);
    void open_same_sheet();
};

}
