// The window: ticket bar, light table with its ways of looking, the side column, and the out tray. It joins the parts
// and holds the keys.
#pragma once

#include "app/desk.h"

#include <QMainWindow>

class QLabel;
class QPushButton;
class QFrame;
class QScrollArea;
class QStackedWidget;

namespace yelvin {

class AdvicePanel;
class FramePanel;
class GlassView;
class NoticedPanel;
class PageView;
class ResolutionCard;
class RunCard;
class StitchPanel;
class StitchView;
class Stitching;
class StripView;
class TicketBar;
class TrayStrip;

class MainWindow : public QMainWindow {
    Q_OBJECT
  public:
    explicit MainWindow(Desk& desk);
    enum class Look { Glass, Page, Strip, Pieces };
    void look_at(Look look);
    TicketBar& ticket_bar() { return *bar_; }
    PageView& page_view() { return *page_; }
    NoticedPanel& noticed() { return *noticed_; }
    TrayStrip& tray_strip() { return *tray_; }
    Stitching& stitching() { return *stitching_; }
    StitchView& stitch_view() { return *stitch_; }
    void stitch_chosen();
    void scan_in_pieces();
    void open_bench();
    void open_blank_sheet();
    bool write_separators(const QString& file, const QStringList& texts); // says what became of it
    void close_news(); // the line that says what was saved or went wrong

  protected:
    bool eventFilter(QObject* watched, QEvent* event) override;
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;

  private:
    Desk& desk_;
    TicketBar* bar_;
    GlassView* glass_;
    PageView* page_;
    StripView* strip_;
    Stitching* stitching_;
    StitchView* stitch_;
    StitchPanel* stitch_panel_;
    NoticedPanel* noticed_;
    FramePanel* frame_panel_;
    AdvicePanel* advice_;
    QStackedWidget* side_;
    TrayStrip* tray_;
    QScrollArea* tray_scroll_;
    QStackedWidget* table_;
    QPushButton *glass_tab_, *page_tab_, *strip_tab_, *pieces_tab_, *preview_, *zoom_, *save_, *save_all_, *put_away_,
        *choose_, *steps_;
    QLabel *facts_, *summary_, *news_words_;
    QFrame* news_;
    RunCard* run_;
    ResolutionCard* resolution_;
    QList<QPushButton*> news_actions_;

    QWidget* make_table();
    QWidget* make_tray();
    void make_keys();
    void refresh();
    void say(const QString& words, bool bad, const QStringList& files = {});
    void press_scan();
    void add_files();
    void print_separators();
    void save_current();
    void save_all();
    void choose_zoom();
    void open_history();
    void next_region(int step);
    QString current_document() const;
};

}
