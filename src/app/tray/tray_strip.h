// The out tray: documents as dividers with pages behind them. It takes the mouse and the keys; where things stand is a
// TrayLayout, how they look a TrayPainter's.
#pragma once

#include "app/models/groups.h"
#include "app/tray/tab_words.h"
#include "app/tray/tray_layout.h"
#include "app/tray/tray_painter.h"
#include "app/tray/tray_sheets.h"

#include <QHash>
#include <QUrl>
#include <QWidget>

class QLineEdit;

namespace yelvin {

class TrayStrip : public QWidget {
    Q_OBJECT
  public:
    TrayStrip(const TrayModels& models, QWidget* parent);
    void set_slim();
    void set_full(int height_px);
    bool is_slim() const { return layout_.is_slim(); }
    void show_current(); // the page looked at, or its document; ends with show_rect()
    void rename_current();
    void open_names_of_current();
    bool is_at_end() const { return at_end_ && hasFocus(); } // the keys' place is behind the last page
    void open_choose_sheet(const QRect& anchor) { sheets_.open_choose(anchor); } // global coordinates
    QSize sizeHint() const override { return {layout_.width(), height()}; }

    // In the strip; empty: not there.
    QRect page_rect(const QString& page_id) const { return layout_.page_rect(page_id); }
    QRect tab_rect(const QString& document_id) const;
    QRect new_document_rect() const { return layout_.new_slip(); }
    QRect errand_rect(const QString& document_id, Errand errand) const; // on a saved document's tab
    QRect ticket_rect(const QString& document_id) const; // the edge of its tab that bears its ticket's colour
    QRect add_rect(const QString& document_id) const;    // of "add … to its file"
    QRect word_rect(const QString& document_id, const QString& words) const;

  signals:
    void page_chosen();
    void stitch_wanted();                                                  // of the chosen pages
    void question_wanted();                                                // the card that asks about a document
    void ticket_wanted(const QStringList& documents, const QRect& anchor); // what becomes of them; global coordinates
    void dropped(const QList<QUrl>& files);                                // from another program
    void dragging(bool begins);                                            // a divider or pages; ends with false
    void said(const QString& words);
    void show_rect(const QRect& rect); // to be scrolled into view

  protected:
    void paintEvent(QPaintEvent*) override;
    void moveEvent(QMoveEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void mouseDoubleClickEvent(QMouseEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    void contextMenuEvent(QContextMenuEvent*) override;
    void dragEnterEvent(QDragEnterEvent*) override;
    void dragMoveEvent(QDragMoveEvent*) override;
    void dropEvent(QDropEvent*) override;
    bool event(QEvent* event) override;

  private:
    TrayModels models_;
    TabWords words_;
    TrayLayout layout_;
    TrayPainter painter_;
    TraySheets sheets_;
    bool slim_ = false;
    QHash<QString, double> progress_; // of documents that are being saved
    QLineEdit* editor_ = nullptr;     // of a document's name

    // From the press of a button to its release.
    struct Press {
        QString page, divider;           // what was pressed; a divider's document
        QPoint at;                       // on the screen
        QPoint now;                      // in the strip
        bool moves = false;              // the page with all chosen ones, or the divider
        bool makes_files = false;        // of the pages, which have left the strip
        bool chooses_on_release = false; // a press on one of several chosen pages
        bool looks_on_release = false;   // at the page that was pressed
    };
    Press press_;

    void lay_out();
    TrayLayout::Document shown(const Document& document) const;
    QString facts_of(const Document& document) const;
    QString ticket_name_of(const QString& document_id) const;
    int thumb_width(const Page& page) const;
    int left_seen() const; // of what is scrolled
    template <class Fits>
    QRect rect_of_word(const QString& document_id, const Fits& fits) const;
    std::optional<TabWord> tab_word_at(QPoint at) const;
    void press_page(const QString& page_id, Qt::KeyboardModifiers with);
    void press_word(const QString& document_id, const TabWord& word);
    void choose_first_of(const QString& document_id);
    void rename(const QString& document_id);
    bool at_end_ = false;
    void walk(int step, bool extend);
    // tray_drag.cpp
    void move_pressed();
    void drop_pressed(const Press& press);
    bool drag_out(const QString& document_id);
    void make_dragged_pages();                 // files of them, to be dragged into another program's window
    void drag_files(const QStringList& files); // until the mouse is released
};

}
