// The layout of the out tray: the places of documents and pages, computed from what is to be shown, for painting and
// for the mouse. A value without a window. All lengths are px in the strip.
#pragma once

#include "core/tray/tray.h"

#include <QList>
#include <QRect>
#include <QString>

namespace yelvin {

class TrayLayout {
  public:
    // Input: what is to be shown.
    struct Page {
        QString id;
        Dropped dropped = Dropped::No; // if it is left out, it is a thin slip
        int width = 0;                 // width of its thumbnail
    };
    struct Document {
        QString id, title, facts;
        QString ticket_colour; // role of its ticket's colour
        QString shown_title;   // shortened in the middle if it is long
        int title_width = 0, facts_width = 0;
        int words_width = 0;                 // width of the words behind the facts
        bool saved = false, current = false; // current: it has the current page
        double progress = -1;                // of saving, 0 to 1; negative: it is not being saved
        QList<Page> pages;
    };

    // Output: the places.
    struct PageBox {
        QString id;
        QRect rect; // of the thumbnail
        Dropped dropped = Dropped::No;
        int number = 0; // page number, without pages that are left out
    };
    struct DocumentBox : Document {
        QRect card, tab;
        QList<PageBox> boxes;
    };

    TrayLayout() = default; // shows nothing
    // `slim`: tabs only.
    TrayLayout(const QList<Document>& documents, int height, bool slim);

    const QList<DocumentBox>& documents() const { return documents_; }
    bool is_slim() const { return slim_; }
    int width() const { return width_; }
    int thumb_height() const { return thumb_height_; }
    static int thumb_height_in(int height);               // height of thumbnails in a full strip
    const QRect& next_slip() const { return next_slip_; } // the place behind the last page; may be empty
    const QRect& new_slip() const { return new_slip_; }   // the place of a new document

    const DocumentBox* document(const QString& id) const; // null if it is not shown
    const DocumentBox* current() const;                   // null if there is no current page
    const DocumentBox* tab_at(QPoint at) const;           // null if no tab is there
    // The coloured edge of a tab, which can be clicked, in front of the name.
    static QRect ticket_edge(const DocumentBox& box, int left_seen);
    const PageBox* page_at(QPoint at) const;       // including its number and frame; null if there is none
    QRect page_rect(const QString& page_id) const; // empty if it is not shown
    // Where a tab's name and the words behind its facts begin if the strip is scrolled so that `left_seen` is its left
    // edge: the name stays visible while its pages are scrolled past.
    static int name_left(const DocumentBox& box, int left_seen);
    static int words_left(const DocumentBox& box, int left_seen);

    // A place between two pages.
    struct Drop {
        QString document; // empty if there is none
        size_t index = 0; // index of the page behind the place
        int x = 0;
    };
    Drop drop_at(QPoint at) const; // the nearest place
    // The place to which a divider would move; `index` counts the pages of both documents beside it.
    Drop divider_drop(const QString& document_id, QPoint at) const;

  private:
    QList<DocumentBox> documents_;
    QRect next_slip_, new_slip_;
    bool slim_ = false;
    int width_ = 0, thumb_height_ = 0;

    int lay_out_pages(DocumentBox& box, int x, bool last); // returns where they end
};

}
