// Painting the out tray: documents as dividers with pages behind them, what is dragged, and where the next page lands.
#pragma once

#include "app/models/groups.h"
#include "app/tray/tab_words.h"
#include "app/tray/tray_layout.h"

#include <QCoreApplication>
#include <QHash>
#include <QPixmap>

class QPainter;

namespace yelvin {

class TrayPainter {
    Q_DECLARE_TR_FUNCTIONS(TrayPainter)

  public:
    TrayPainter(const TrayModels& models, const TabWords& words) : models_(models), words_(words) {}

    // What is dragged: pages or a divider.
    struct Drag {
        QString page, divider; // id of the page under the mouse, or of the divider's document; one is empty
        QPoint at;
    };
    // The present state of the strip.
    struct Seen {
        QRect dirty;
        int left = 0; // left edge of the visible part
        bool has_focus = false;
        double pixel_ratio = 1;
        bool at_end = false; // whether the keyboard cursor is behind the last page
        std::optional<Drag> drag = {};
    };
    void paint(QPainter& painter, const TrayLayout& layout, const Seen& seen);

  private:
    using DocumentBox = TrayLayout::DocumentBox;
    using PageBox = TrayLayout::PageBox;
    struct Scaled {
        qint64 from = 0; // cache key of the picture
        QPixmap pixmap;
    };
    TrayModels models_;
    const TabWords& words_;
    QHash<QString, Scaled> scaled_; // by page id

    void paint_document(QPainter& painter, const DocumentBox& box, const TrayLayout& layout, const Seen& seen);
    void paint_tab(QPainter& painter, const DocumentBox& box, int left_seen) const;
    void paint_tab_words(QPainter& painter, const DocumentBox& box, int x) const;
    void paint_page(QPainter& painter, const PageBox& box, const Seen& seen);
    void paint_landing(QPainter& painter, const PageBox& box) const;
    void paint_marks(QPainter& painter, const PageBox& box, const Page& page) const;
    void paint_dropped(QPainter& painter, const PageBox& box) const;
    void paint_new_slip(QPainter& painter, const TrayLayout& layout) const;
    void paint_drag(QPainter& painter, const TrayLayout& layout, const Drag& drag) const;
    std::optional<double> share_read(const QString& document_id) const;
    const QPixmap& scaled(const QString& id, const QImage& image, const QSizeF& size, double pixel_ratio);
    static void paint_slip(QPainter& painter, const QRect& rect, const QString& words, bool active);
    static void paint_reading(QPainter& painter, const QRectF& field, int percent);
};

}
