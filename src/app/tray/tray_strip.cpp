#include "app/tray/tray_strip.h"

#include "app/theme/theme.h"
#include "app/ticketbar/ticket_bar.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QLineEdit>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QToolTip>

namespace yelvin {

namespace {
constexpr int tab_height = 30, thumb_height = 96, thumb_top = tab_height + 8, number_height = 16, between = 9, pad = 10,
              card_gap = 18, slip_width = 68, widest_thumb = 124, dropped_width = 15;

int thumb_width(const Page& page) {
    const auto size = developed_size(page.recipe, {page.original.width_px, page.original.height_px}, page.original.dpi);
    return std::clamp(thumb_height * size.width / std::max(1, size.height), 30, widest_thumb);
}
}

TrayStrip::TrayStrip(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
    setFocusPolicy(Qt::StrongFocus);
    setObjectName("tray");
    setAccessibleName(tr("Out tray"));
    setFixedHeight(theme::tray_height);
    connect(&desk_, &Desk::tray_changed, this, &TrayStrip::lay_out);
    connect(&desk_, &Desk::ticket_changed, this, &TrayStrip::lay_out);
    connect(&desk_, &Desk::current_changed, this, [this] {
        lay_out();
        emit show_rect(page_rect(desk_.current_page()));
    });
    connect(&desk_, &Desk::picture_ready, this, [this] { update(); });
    connect(&desk_, &Desk::saving_progress, this, [this](const QString& id, double done) {
        progress_[id] = done;
        lay_out();
    });
    connect(&desk_, &Desk::busy_changed, this, [this] {
        if (!desk_.saving()) progress_.clear();
        lay_out();
    });
    lay_out();
}

void TrayStrip::lay_out() {
    boxes_.clear();
    int x = 0;
    const QFontMetrics title(theme::body()), facts(theme::measure());
    const auto& documents = desk_.tray().documents;
    next_slip_ = {};
    for (size_t d = 0; d < documents.size(); ++d) {
        const Document& document = *documents[d];
        DocumentBox box;
        box.id = QString::fromStdString(document.id);
        box.saved = !document.saved_as.empty();
        box.title = desk_.title_of(document);
        if (box.saved) box.title = QString::fromStdString(std::filesystem::path(document.saved_as).stem().string());
        const auto pages = static_cast<int>(document.kept_pages().size());
        const QString count = pages == 1 ? tr("1 page") : tr("%1 pages").arg(pages);
        const QString kind = QString::fromStdString(std::string(format_words(desk_.make_of(document).format)));
        box.facts = box.saved ? tr("%1 · saved").arg(count)
                              : tr("%1 · %2 about %3").arg(count, kind, bytes_words(desk_.estimated_bytes(document)));
        box.progress = progress_.value(box.id, -1);
        int inner = x + pad, number = 0;
        for (const auto& page : document.pages) {
            const bool slip = page->dropped != Dropped::No;
            const int width = slip ? dropped_width : thumb_width(*page);
            number += slip ? 0 : 1;
            box.pages.append({QString::fromStdString(page->id), QRect(inner, thumb_top, width, thumb_height),
                              page->dropped, number});
            box.current = box.current || box.pages.back().id == desk_.current_page();
            inner += width + between;
        }
        const bool last = d + 1 == documents.size();
        if (last && !box.saved) {
            next_slip_ = QRect(inner, thumb_top, slip_width, thumb_height);
            inner += slip_width + between;
        }
        const int for_words = pad * 2 + std::min(230, title.horizontalAdvance(box.title)) + 10 +
                              facts.horizontalAdvance(box.facts) + (box.saved ? 20 : 0);
        const int width = std::max({inner - between + pad - x, for_words, 150});
        box.card = QRect(x, 0, width, height() - 1);
        box.tab = QRect(x, 0, width, tab_height);
        boxes_.append(box);
        x += width + card_gap;
    }
    new_slip_ = QRect(x, thumb_top, documents.empty() ? 150 : 92, thumb_height);
    content_width_ = new_slip_.right() + 4;
    setMinimumWidth(content_width_);
    updateGeometry();
    update();
}

QRect TrayStrip::page_rect(const QString& page_id) const {
    for (const auto& box : boxes_) {
        for (const auto& page : box.pages) {
            if (page.id == page_id) return page.rect;
        }
    }
    return {};
}

QRect TrayStrip::tab_rect(const QString& document_id) const {
    for (const auto& box : boxes_) {
        if (box.id == document_id) return box.tab;
    }
    return {};
}

void TrayStrip::paintEvent(QPaintEvent* event) {
    QPainter painter(this);
    painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
    for (const auto& box : boxes_) {
        if (box.card.intersects(event->rect())) paint_document(painter, box, event->rect());
    }
    const bool starts = desk_.next_page_starts_document();
    if (!next_slip_.isNull())
        paint_slip(painter, next_slip_, starts ? tr("add\nhere") : tr("next page\nlands here"), !starts);
    const QString words = desk_.tray().documents.empty() ? tr("The first page\nlands here")
                          : starts                       ? tr("next page starts\na document")
                                                         : tr("start a new\ndocument");
    paint_slip(painter, new_slip_, words, starts);
    if (!dragging_.isEmpty()) {
        const Drop drop = drop_at(drag_at_);
        painter.setPen(QPen(theme::colours().plum, 3));
        if (!drop.document.isEmpty()) painter.drawLine(drop.x, thumb_top - 2, drop.x, thumb_top + thumb_height + 2);
        painter.setOpacity(0.7);
        const QImage image = desk_.thumbnail(dragging_);
        if (!image.isNull())
            painter.drawImage(QRect(drag_at_ - QPoint(20, 30), image.size().scaled(60, 60, Qt::KeepAspectRatio)),
                              image);
    }
}

void TrayStrip::paint_document(QPainter& painter, const DocumentBox& box, const QRect& seen) {
    const auto& c = theme::colours();
    // A divider: the tab is higher at its left and cut round at its right, the card lies under it.
    QPainterPath shape;
    const QRectF r = QRectF(box.card).adjusted(0.5, 1.5, -0.5, -0.5);
    shape.moveTo(r.left(), r.bottom() - 4);
    shape.lineTo(r.left(), r.top());
    shape.lineTo(r.right() - 14, r.top());
    shape.quadTo(r.right(), r.top(), r.right(), r.top() + 14);
    shape.lineTo(r.right(), r.bottom() - 4);
    shape.quadTo(r.right(), r.bottom(), r.right() - 4, r.bottom());
    shape.lineTo(r.left() + 4, r.bottom());
    shape.quadTo(r.left(), r.bottom(), r.left(), r.bottom() - 4);
    painter.setPen(QPen(c.hairline, 1));
    painter.setBrush(c.paper);
    painter.drawPath(shape);
    painter.drawLine(QPointF(r.left(), tab_height + 0.5), QPointF(r.right(), tab_height + 0.5));
    if (box.current) {
        painter.save();
        painter.setClipRect(QRectF(r.left() - 1, 0, r.width() + 2, 4.5));
        painter.setPen(QPen(c.plum, 3));
        painter.setBrush(Qt::NoBrush);
        painter.drawPath(shape);
        painter.restore();
    }
    int x = box.tab.left() + pad;
    if (box.saved) {
        theme::icon("check", c.moss).paint(&painter, x - 2, 9, 14, 14);
        x += 18;
    }
    const QFontMetrics title(theme::body());
    const QString shown = title.elidedText(box.title, Qt::ElideMiddle, 230);
    painter.setFont(theme::body());
    painter.setPen(c.ink);
    painter.drawText(QRect(x, 1, 240, tab_height), Qt::AlignVCenter, shown);
    x += title.horizontalAdvance(shown) + 10;
    painter.setFont(theme::measure());
    painter.setPen(box.saved ? c.moss : c.quiet);
    painter.drawText(QRect(x, 2, box.card.right() - x, tab_height), Qt::AlignVCenter, box.facts);
    if (box.progress >= 0)
        painter.fillRect(QRectF(r.left() + 1, tab_height - 1, (r.width() - 2) * box.progress, 2.5), c.moss);
    for (const auto& page : box.pages) {
        if (!page.rect.adjusted(-4, -4, 4, number_height + 4).intersects(seen)) continue;
        if (page.dropped == Dropped::No)
            paint_page(painter, page, page.number);
        else
            paint_dropped(painter, page);
    }
}

// Scaling well takes longer than all the rest of painting; it is done once for each picture.
const QPixmap& TrayStrip::scaled(const QString& id, const QImage& image, const QSizeF& size) {
    const double ratio = devicePixelRatioF();
    const QSize dots = (size * ratio).toSize();
    Scaled& kept = scaled_[id];
    if (kept.from != image.cacheKey() || kept.pixmap.size() != dots) {
        kept = {image.cacheKey(),
                QPixmap::fromImage(image.scaled(dots, Qt::IgnoreAspectRatio, Qt::SmoothTransformation))};
        kept.pixmap.setDevicePixelRatio(ratio);
    }
    return kept.pixmap;
}

void TrayStrip::paint_page(QPainter& painter, const PageBox& box, int number) {
    const auto& c = theme::colours();
    const QImage image = desk_.thumbnail(box.id);
    QRectF field(box.rect);
    if (!image.isNull()) {
        const QSizeF size = QSizeF(image.size()).scaled(field.size(), Qt::KeepAspectRatio);
        field = QRectF(field.left() + (field.width() - size.width()) / 2, field.bottom() - size.height(), size.width(),
                       size.height());
        painter.drawPixmap(field.topLeft(), scaled(box.id, image, field.size()));
    } else {
        painter.fillRect(field, c.desk);
    }
    const bool current = box.id == desk_.current_page();
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(current ? c.plum : c.hairline, current ? 2.5 : 1));
    painter.drawRect(field.adjusted(0, 0, -0.5, -0.5));
    if (current && hasFocus()) {
        painter.setPen(QPen(c.plum, 1));
        painter.drawRect(field.adjusted(-3, -3, 2.5, 2.5));
    }
    painter.setFont(theme::measure());
    painter.setPen(current ? c.plum : c.quiet);
    const PagePtr page = page_at(desk_.tray(), box.id.toStdString());
    const bool corrected = page && page->recipe != Recipe{};
    painter.drawText(QRect(box.rect.left() - 4, box.rect.bottom() + 2, box.rect.width() + 8, number_height),
                     Qt::AlignHCenter | Qt::AlignVCenter, QString::number(number));
    if (corrected)
        theme::icon("turn-right", c.quiet).paint(&painter, box.rect.center().x() + 8, box.rect.bottom() + 5, 10, 10);
}

// A dropped side stands on edge: thin, with a word along it. One press looks at it, a double press brings it back.
void TrayStrip::paint_dropped(QPainter& painter, const PageBox& box) {
    const auto& c = theme::colours();
    const bool current = box.id == desk_.current_page();
    painter.setBrush(c.desk);
    painter.setPen(QPen(current ? c.plum : c.quiet, current ? 2 : 1, Qt::DotLine));
    painter.drawRect(QRectF(box.rect).adjusted(0.5, 0.5, -0.5, -0.5));
    painter.save();
    painter.translate(box.rect.center().x() + 1, box.rect.center().y());
    painter.rotate(-90);
    painter.setFont(theme::measure());
    painter.setPen(current ? c.plum : c.quiet);
    painter.drawText(QRect(-box.rect.height() / 2, -box.rect.width() / 2, box.rect.height(), box.rect.width()),
                     Qt::AlignCenter, box.dropped == Dropped::Blank ? tr("blank side") : tr("separator"));
    painter.restore();
}

void TrayStrip::paint_slip(QPainter& painter, const QRect& rect, const QString& words, bool active) {
    const auto& c = theme::colours();
    painter.setBrush(active ? c.plum_wash : Qt::transparent);
    painter.setPen(QPen(active ? c.plum : c.quiet, 1.2, Qt::DashLine));
    painter.drawRoundedRect(QRectF(rect).adjusted(0.5, 0.5, -0.5, -0.5), theme::corner, theme::corner);
    painter.setFont(theme::measure());
    painter.setPen(active ? c.plum : c.quiet);
    painter.drawText(rect.adjusted(3, 3, -3, -3), Qt::AlignCenter | Qt::TextWordWrap, words);
}

void TrayStrip::mousePressEvent(QMouseEvent* event) {
    pressed_page_.clear();
    if (event->button() != Qt::LeftButton) return;
    if (next_slip_.contains(event->pos())) return desk_.set_next_page_starts_document(false);
    if (new_slip_.contains(event->pos())) return desk_.set_next_page_starts_document(true);
    for (const auto& box : boxes_) {
        for (const auto& page : box.pages) {
            if (!page.rect.adjusted(-3, -3, 3, number_height).contains(event->pos())) continue;
            pressed_page_ = page.id;
            pressed_at_ = event->pos();
            desk_.set_current_page(page.id);
            emit page_chosen();
            return;
        }
        if (box.card.contains(event->pos()) && !box.pages.isEmpty()) {
            desk_.set_current_page(box.pages.front().id);
            emit page_chosen();
        }
    }
}

void TrayStrip::mouseMoveEvent(QMouseEvent* event) {
    if (pressed_page_.isEmpty() || (event->pos() - pressed_at_).manhattanLength() < 8) return;
    dragging_ = pressed_page_;
    drag_at_ = event->pos();
    update();
}

void TrayStrip::mouseReleaseEvent(QMouseEvent*) {
    if (!dragging_.isEmpty()) {
        const Drop drop = drop_at(drag_at_);
        if (!drop.document.isEmpty())
            desk_.edit(with_page_moved(desk_.tray(), dragging_.toStdString(), drop.document.toStdString(), drop.index),
                       tr("move page"));
    }
    dragging_.clear();
    pressed_page_.clear();
    update();
}

// The place between two pages that is nearest to the mouse, in the document under it or nearest to it.
TrayStrip::Drop TrayStrip::drop_at(QPoint at) const {
    Drop best;
    int nearest = 1 << 30;
    for (const auto& box : boxes_) {
        for (qsizetype i = 0; i <= box.pages.size(); ++i) {
            const int x = i < box.pages.size() ? box.pages[i].rect.left() - 5 : box.pages.back().rect.right() + 5;
            if (std::abs(x - at.x()) < nearest) {
                nearest = std::abs(x - at.x());
                best = {box.id, static_cast<size_t>(i), x};
            }
        }
    }
    return best;
}

void TrayStrip::mouseDoubleClickEvent(QMouseEvent* event) {
    for (const auto& box : boxes_) {
        if (box.tab.contains(event->pos())) return rename(box.id);
        for (const auto& page : box.pages) {
            if (page.dropped != Dropped::No && page.rect.contains(event->pos())) return desk_.bring_back(page.id);
        }
    }
}

void TrayStrip::rename_current() {
    for (const auto& box : boxes_) {
        if (box.current) return rename(box.id);
    }
}

void TrayStrip::rename(const QString& document_id) {
    const auto box = std::ranges::find_if(boxes_, [&](const auto& b) { return b.id == document_id; });
    if (box == boxes_.end() || box->saved) return;
    delete editor_;
    editor_ = new QLineEdit(box->title, this);
    editor_->setObjectName("rename");
    editor_->setAccessibleName(tr("name of the document"));
    editor_->setGeometry(box->tab.adjusted(3, 3, -16, -2));
    editor_->selectAll();
    editor_->show();
    editor_->setFocus();
    emit show_rect(box->tab);
    connect(editor_, &QLineEdit::editingFinished, this, [this, document_id, editor = editor_, before = box->title] {
        if (editor != editor_) return;
        editor_ = nullptr;
        const QString name = editor->text().trimmed();
        editor->deleteLater();
        setFocus();
        if (!name.isEmpty() && name != before)
            desk_.edit(with_document_name(desk_.tray(), document_id.toStdString(), name.toStdString()), tr("rename"));
    });
}

void TrayStrip::walk(int step) {
    QStringList ids;
    for (const auto& box : boxes_) {
        for (const auto& page : box.pages) ids.append(page.id);
    }
    if (ids.isEmpty()) return;
    const auto at = std::clamp<qsizetype>(ids.indexOf(desk_.current_page()) + step, 0, ids.size() - 1);
    desk_.set_current_page(ids[at]);
    emit page_chosen();
}

void TrayStrip::keyPressEvent(QKeyEvent* event) {
    switch (event->key()) {
    case Qt::Key_Left:
        walk(-1);
        break;
    case Qt::Key_Right:
        walk(1);
        break;
    case Qt::Key_Home:
        walk(-1000000);
        break;
    case Qt::Key_End:
        walk(1000000);
        break;
    default:
        QWidget::keyPressEvent(event);
    }
}

bool TrayStrip::event(QEvent* event) {
    if (event->type() == QEvent::ToolTip) {
        auto* help = static_cast<QHelpEvent*>(event);
        for (const auto& box : boxes_) {
            if (box.tab.contains(help->pos()))
                QToolTip::showText(help->globalPos(), box.title + "\n" + tr("Rename: F2 or double-click"), this);
            for (const auto& page : box.pages) {
                if (page.dropped != Dropped::No && page.rect.contains(help->pos()))
                    QToolTip::showText(help->globalPos(), tr("Left out of the file. Double-click brings it back."),
                                       this);
            }
        }
        return true;
    }
    return QWidget::event(event);
}

}
