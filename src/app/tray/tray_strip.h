// The strip of the out tray. Handles mouse and keys; TrayLayout has the places, TrayPainter paints.
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
    void show_current(); // scrolls to the current page; emits show_rect()
    void rename_current();
    void open_names_of_current();
    bool is_at_end() const { return at_end_ && hasFocus(); } // whether the keyboard cursor is behind the last page
    void open_choose_sheet(const QRect& anchor) { sheets_.open_choose(anchor); } // global coordinates
    QSize sizeHint() const override { return {layout_.width(), height()}; }

    // Places in the strip; empty if not shown.
    QRect page_rect(const QString& page_id) const { return layout_.page_rect(page_id); }
    QRect tab_rect(const QString& document_id) const;
    QRect new_document_rect() const { return layout_.new_slip(); }
    QRect errand_rect(const QString& document_id, Errand errand) const; // on a saved document's tab
    QRect ticket_rect(const QString& document_id) const;                // the coloured edge of its tab
    QRect add_rect(const QString& document_id) const;                   // place of "add … to its file"
    QRect word_rect(const QString& document_id, const QString& words) const;

  signals:
    void page_chosen();
    void stitch_wanted();   // the selected pages should be stitched
    void question_wanted(); // the card about a document should get the focus
    void ticket_wanted(const QStringList& documents,
                       const QRect& anchor); // what becomes of these documents should be shown; global coordinates
    void dropped(const QList<QUrl>& files);  // files were dropped from another program
    void dragging(bool begins);              // dragging began, or ended
    void said(const QString& words);
    void show_rect(const QRect& rect); // this place should be scrolled into view

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
    QHash<QString, double> progress_; // progress of documents that are being saved
    QLineEdit* editor_ = nullptr;     // for a document's name

    // State from pressing a mouse button to its release.
    struct Press {
        QString page, divider;           // id of the page, or of a divider's document
        QPoint at;                       // on the screen
        QPoint now;                      // in the strip
        bool moves = false;              // whether selected pages or the divider are moved
        bool makes_files = false;        // whether the pages left the strip and become files
        bool chooses_on_release = false; // a click on one of several selected pages
        bool looks_on_release = false;   // makes the clicked page the current one
    };
    Press press_;

    void lay_out();
    TrayLayout::Document shown(const Document& document) const;
    QString facts_of(const Document& document) const;
    QString ticket_name_of(const QString& document_id) const;
    int thumb_width(const Page& page) const;
    int left_seen() const; // left edge of the visible part
    template <class Fits>
    QRect rect_of_word(const QString& document_id, const Fits& fits) const;
    std::optional<TabWord> tab_word_at(QPoint at) const;
    void press_page(const QString& page_id, Qt::KeyboardModifiers with);
    void press_word(const QString& document_id, const TabWord& word);
    void choose_first_of(const QString& document_id);
    void rename(const QString& document_id);
    bool at_end_ = false;
    void walk(int step, bool extend);
    // In tray_drag.cpp.
    void move_pressed();
    void drop_pressed(const Press& press);
    bool drag_out(const QString& document_id);
    void make_dragged_pages();                 // makes files of the dragged pages, for another program's window
    void drag_files(const QStringList& files); // drags files until the mouse is released
};

}
