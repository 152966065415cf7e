// Where the out tray's documents and pages stand: a value, worked out from what is to be shown, and asked by whoever
// paints and by whoever presses. It knows no window. Lengths and places in px, in the strip.
#pragma once

#include "core/tray/tray.h"

#include <QList>
#include <QRect>
#include <QString>

namespace yelvin {

class TrayLayout {
  public:
    // What is to be shown.
    struct Page {
        QString id;
        Dropped dropped = Dropped::No; // else it stands on edge, as a thin slip
        int width = 0;                 // of its thumbnail
    };
    struct Document {
        QString id, title, facts;
        QString ticket_colour; // of the ticket that it goes by: a role of the theme
        QString shown_title;   // with its middle left out where it is long
        int title_width = 0, facts_width = 0;
        int words_width = 0;                 // of what can be pressed behind the facts
        bool saved = false, current = false; // current: it holds the page that is looked at
        double progress = -1;                // of saving, 0 to 1; below 0: it is not being saved
        QList<Page> pages;
    };

    // Where it stands.
    struct PageBox {
        QString id;
        QRect rect; // of the thumbnail's field
        Dropped dropped = Dropped::No;
        int number = 0; // among those that go into the file
    };
    struct DocumentBox : Document {
        QRect card, tab;
        QList<PageBox> boxes;
    };

    TrayLayout() = default; // of nothing
    // `slim`: only the tabs.
    TrayLayout(const QList<Document>& documents, int height, bool slim);

    const QList<DocumentBox>& documents() const { return documents_; }
    bool is_slim() const { return slim_; }
    int width() const { return width_; }
    int thumb_height() const { return thumb_height_; }
    static int thumb_height_in(int height);               // of a full strip
    const QRect& next_slip() const { return next_slip_; } // behind the last page; empty: there is none
    const QRect& new_slip() const { return new_slip_; }   // of a new document

    const DocumentBox* document(const QString& id) const; // null if it is not shown
    const DocumentBox* current() const;                   // null if no page is looked at
    const DocumentBox* tab_at(QPoint at) const;           // null if no tab is there
    // The edge that bears its ticket's colour and can be pressed; in front of the name, as the next.
    static QRect ticket_edge(const DocumentBox& box, int left_seen);
    const PageBox* page_at(QPoint at) const;       // with its number and its frame; null: there is none
    QRect page_rect(const QString& page_id) const; // empty: it is not there
    // Where a tab's name begins, and where the words behind its facts do, while the strip is scrolled so that
    // `left_seen` is its left edge: the name stays in sight while its pages are scrolled past.
    static int name_left(const DocumentBox& box, int left_seen);
    static int words_left(const DocumentBox& box, int left_seen);

    // A place between two pages.
    struct Drop {
        QString document; // empty: there is none
        size_t index = 0; // before this page of it
        int x = 0;
    };
    Drop drop_at(QPoint at) const; // the nearest place
    // Where the document's divider would come to stand; `index` counts through both documents beside it.
    Drop divider_drop(const QString& document_id, QPoint at) const;

  private:
    QList<DocumentBox> documents_;
    QRect next_slip_, new_slip_;
    bool slim_ = false;
    int width_ = 0, thumb_height_ = 0;

    int lay_out_pages(DocumentBox& box, int x, bool last); // where they end
};

}
