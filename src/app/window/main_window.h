// The main window: ticket bar, view, side column and out tray. Connects them and owns the shortcuts.
#pragma once

#include "app/models/groups.h"
#include "app/window/look.h"

#include <QMainWindow>

#include <functional>

namespace yelvin {

class CabinetView;
class NoticedPanel;
class PageView;
class StitchView;
class TextLook;
class TicketBar;
class TicketButtons;
struct Wish;
class TrayPanel;
class TrayStrip;
class View;
enum class Do;

class MainWindow : public QMainWindow {
    Q_OBJECT
  public:
    using Look = yelvin::Look;
    explicit MainWindow(const WindowModels& models);
    void come_forward();           // raises the window
    void fulfil(const Wish& wish); // handles the request of a start of the program
    void look_at(Look look);
    TicketBar& ticket_bar() { return *bar_; }
    PageView& page_view();
    TextLook& text_look();
    NoticedPanel& noticed();
    void open_cabinet();
    CabinetView& cabinet();
    TrayStrip& tray_strip();
    StitchView& stitch_view();
    void stitch_chosen();
    void scan_in_pieces();
    void open_bench();
    void open_blank_sheet();
    void write_separators(const QString& file, const QStringList& texts); // reports the result when it is written
    void close_news();                                                    // closes the news bar

  protected:
    void dragEnterEvent(QDragEnterEvent* event) override;
    void dropEvent(QDropEvent* event) override;
    void closeEvent(QCloseEvent* event) override;

  private:
    WindowModels models_;
    TicketBar* bar_;
    TicketButtons* buttons_;
    void scan_with(const QString& ticket_file);
    void scan_when_ready();
    View* view_;
    TrayPanel* tray_;

    void join();
    void join_room();
    void make_keys();
    void make_page_keys();
    void key(Do what, const std::function<void()>& action);
    void press_scan();
    void press_escape();
    void turn(int quarters);
    void tilt(double degrees);
    void add_files();
    void take_dropped(const QList<QUrl>& urls); // adds dropped files or a ticket
    void next_region(int step);
};

}
