// The out tray along the bottom: documents from left to right, each behind its divider tab, pages as thumbnails. The
// dashed slip shows where the next scanned page will land; pressing the other one moves it. Pages are dragged; F2
// renames.
#pragma once

#include "app/desk.h"

#include <QWidget>

class QLineEdit;

namespace yelvin {

class TrayStrip : public QWidget {
    Q_OBJECT
  public:
    TrayStrip(Desk& desk, QWidget* parent);
    void rename_current();
    QRect page_rect(const QString& page_id) const; // in the strip
    QRect tab_rect(const QString& document_id) const;
    QRect new_document_rect() const { return new_slip_; }
    QSize sizeHint() const override { return {content_width_, 154}; }

  signals:
    void page_chosen();
    void show_rect(const QRect& rect); // to be scrolled into view

  protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void mouseDoubleClickEvent(QMouseEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
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
        bool saved = false, current = false;
        double progress = -1;
    };
    Desk& desk_;
    QList<DocumentBox> boxes_;
    QRect next_slip_, new_slip_;
    int content_width_ = 200;
    QHash<QString, double> progress_;
    QLineEdit* editor_ = nullptr;
    QString pressed_page_, dragging_;
    QPoint pressed_at_, drag_at_;

    struct Drop {
        QString document;
        size_t index = 0;
        int x = 0;
    };
    Drop drop_at(QPoint at) const;
    void lay_out();
    void paint_document(QPainter& painter, const DocumentBox& box, const QRect& seen);
    struct Scaled {
        qint64 from = 0; // the picture's key
        QPixmap pixmap;
    };
    QHash<QString, Scaled> scaled_;
    const QPixmap& scaled(const QString& id, const QImage& image, const QSizeF& size);
    void paint_page(QPainter& painter, const PageBox& box, int number);
    void paint_dropped(QPainter& painter, const PageBox& box);
    void paint_slip(QPainter& painter, const QRect& rect, const QString& words, bool active);
    void rename(const QString& document_id);
    void walk(int step);
};

}
