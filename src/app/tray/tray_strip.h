// The out tray along the bottom: documents from left to right, each behind its divider tab, pages as thumbnails. The
// dashed slip shows where the next scanned page will land; pressing the other one moves it. Pages are chosen with the
// mouse, Ctrl and Shift, and dragged; so are dividers. F2 renames; a right press, or the menu key, says what else there
// is. Slim, only the dividers' tabs are left.
#pragma once

#include "app/models/errands.h"
#include "app/models/groups.h"
#include "core/saving/paper_name.h"
#include "core/tray/tray.h"

#include <QHash>
#include <QPixmap>
#include <QWidget>

class QLineEdit;

namespace yelvin {

class PhraseSheet;

class TrayStrip : public QWidget {
    Q_OBJECT
  public:
    TrayStrip(const TrayModels& models, QWidget* parent);
    void set_slim();
    void set_full(int height_px);
    bool is_slim() const { return slim_; }
    void show_current(); // the page looked at, or its document; ends with show_rect()
    void rename_current();
    QRect page_rect(const QString& page_id) const; // in the strip
    QRect tab_rect(const QString& document_id) const;
    QRect new_document_rect() const { return new_slip_; }
    QRect errand_rect(const QString& document_id, Errand errand) const; // on a saved document's tab; empty: not there
    QRect word_rect(const QString& document_id, const QString& words) const; // on a tab; empty: not there
    void open_names_sheet(const QString& document_id, const QRect& anchor);  // names proposed, global coordinates
    void open_names_of_current();
    QRect add_rect(const QString& document_id) const; // likewise, of "add … to its file"
    void open_choose_sheet(const QRect& anchor);      // global coordinates
    void open_page_sheet(const QRect& anchor);
    QSize sizeHint() const override { return {content_width_, height()}; }

  signals:
    void page_chosen();
    void stitch_wanted();       // of the chosen pages
    void dragging(bool begins); // a divider or pages; ends with false
    void said(const QString& words);
    void question_wanted();            // the card that asks about a document
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
    bool event(QEvent* event) override;

  private:
    struct PageBox {
        QString id;
        QRect rect;                    // of the thumbnail's field
        Dropped dropped = Dropped::No; // a thin slip
        int number = 0;                // among those that go into the file
    };
    struct DocumentBox {
        QString id, title, facts;
        QRect card, tab;
        QList<PageBox> pages;
        bool saved = false, current = false; // holds the current page
        double progress = -1;
    };
    bool slim_ = false;
    TrayModels models_;
    QList<DocumentBox> boxes_;
    QRect next_slip_, new_slip_;
    int content_width_ = 200;
    QHash<QString, double> progress_;
    QLineEdit* editor_ = nullptr;
    QString pressed_page_, dragging_; // the page under the mouse; while it moves, with all chosen ones
    QString pressed_divider_;         // the document whose divider is pressed …
    bool divider_moves_ = false, choose_on_release_ = false; // … and moves; a press on one of several chosen pages
    bool look_on_release_ = false;                           // at the page that was pressed
    QPoint pressed_at_, drag_at_;                            // on the screen; in the strip
    bool makes_files_ = false;                               // of the dragged pages, which have left the strip

    struct Drop {
        QString document;
        size_t index = 0;
        int x = 0;
    };
    Drop drop_at(QPoint at) const;
    Drop divider_drop() const; // `index` counts through both documents beside the divider
    int thumb_height() const;
    int widest_thumb() const { return thumb_height() * 4 / 3; }
    int thumb_width(const Page& page) const;
    void lay_out();
    DocumentBox box_of(const Document& document) const;                              // its words
    int lay_out_pages(DocumentBox& box, const Document& document, int x, bool last); // where they end
    void paint_document(QPainter& painter, const DocumentBox& box, const QRect& seen);
    void paint_tab(QPainter& painter, const DocumentBox& box);
    // Words on the tab of a saved document (tray_errands.cpp).
    struct TabWord {
        ErrandState state;
        QString words;
        bool begun = false, adds = false;     // … its new pages to its file
        bool proposes = false, waits = false; // names; for its folder, or an answer
        bool asks = false;                    // the latter
        int x = 0, width = 0;                 // behind the tab's facts
    };
    QList<ErrandState> errands_on(const QString& document_id) const;
    QList<TabWord> tab_words(const QString& document_id) const;
    int words_width(const QString& document_id) const;
    int tab_text_left(const DocumentBox& box) const;
    int words_begin(const DocumentBox& box) const;
    void paint_tab_words(QPainter& painter, const DocumentBox& box, int x);
    const DocumentBox* box_at(QPoint at) const; // by its tab
    std::optional<TabWord> tab_word_at(QPoint at) const;
    void begin_errand(const QString& document_id, Errand errand, const QRect& anchor);
    DocumentPtr
    growing(const QString& document_id) const; // whose file does not have its last pages yet; null: it is none
    QString growing_words(const Document& document) const;
    // tray_names.cpp
    std::vector<NameProposal> proposals_for(const QString& document_id) const; // other than its name
    void press_word(const QString& document_id, const TabWord& word);
    void open_waits_sheet(const QString& document_id, const QRect& anchor);
    void add_waiting_rows(PhraseSheet& sheet, const QString& document_id); // none where it does not wait
    void add_folder_rows(PhraseSheet& sheet, const QString& document_id);
    void add_to_file(const QString& document_id);
    void add_to_another(const QString& document_id, const QRect& anchor);
    bool drag_out(const QString& document_id);
    void make_dragged_pages();                 // files of them, to be dragged into another program's window
    void drag_files(const QStringList& files); // until the mouse is released
    QString document_of_current() const;
    int left_seen() const; // of what is scrolled
    struct Scaled {
        qint64 from = 0; // the picture's key
        QPixmap pixmap;
    };
    QHash<QString, Scaled> scaled_;
    const QPixmap& scaled(const QString& id, const QImage& image, const QSizeF& size);
    void paint_page(QPainter& painter, const PageBox& box, int number);
    void paint_dropped(QPainter& painter, const PageBox& box);
    void paint_new_slip(QPainter& painter);
    void paint_slip(QPainter& painter, const QRect& rect, const QString& words, bool active);
    void rename(const QString& document_id);
    void choose_first_of(const QString& document_id);
    std::optional<double> share_read(const QString& document_id) const;
    static void paint_reading(QPainter& painter, const QRectF& field, int percent);
    void paint_marks(QPainter& painter, const PageBox& box, const Page& page);
    void paint_drag(QPainter& painter);
    void walk(int step, bool extend);
};

}
