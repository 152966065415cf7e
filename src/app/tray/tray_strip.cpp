#include "app/tray/tray_strip.h"

#include "app/models/choice.h"
#include "app/models/document_names.h"
#include "app/models/experience.h"
#include "app/models/looking.h"
#include "app/models/out_tray.h"
#include "app/models/page_edits.h"
#include "app/models/papers.h"
#include "app/models/pictures.h"
#include "app/models/reading.h"
#include "app/models/renaming.h"
#include "app/models/saving.h"
#include "app/models/scanners.h"
#include "app/models/scanning.h"
#include "app/models/tickets.h"
#include "app/theme/theme.h"
#include "app/ticketbar/ticket_bar.h"
#include "app/tray/tray_metrics.h"

#include <QApplication>
#include <QDir>
#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QToolTip>

namespace yelvin {

using namespace tray;

TrayStrip::TrayStrip(const TrayModels& models, QWidget* parent) : QWidget(parent), models_(models) {
    setFocusPolicy(Qt::StrongFocus);
    setObjectName("tray");
    setAccessibleName(tr("Out tray"));
    setFixedHeight(slim_height);
    connect(&models_.tray, &OutTray::changed, this, &TrayStrip::lay_out);
    connect(&models_.tickets, &Tickets::changed, this, &TrayStrip::lay_out);
    connect(&models_.choice, &Choice::changed, this, [this] {
        lay_out();
        show_current();
    });
    connect(&models_.pictures, &Pictures::ready, this, [this] { update(); });
    connect(&models_.saving, &Saving::progress, this, [this](const QString& id, double done) {
        progress_[id] = done;
        lay_out();
    });
    connect(&models_.saving, &Saving::changed, this, [this] {
        if (!models_.saving.at_work()) progress_.clear();
        lay_out();
    });
    connect(&models_.looking, &Looking::changed, this, [this] { update(); });
    connect(&models_.reading, &Reading::changed, this, [this] {
        if (slim_) lay_out(); // how many words are doubtful
        update();
    });
    connect(&models_.experience, &Experience::changed, this, &TrayStrip::lay_out);
    connect(&models_.errands, &Errands::changed, this, &TrayStrip::lay_out);
    connect(&models_.errands, &Errands::used_changed, this, &TrayStrip::lay_out);
    connect(&models_.papers, &Papers::changed, this, &TrayStrip::lay_out);
    lay_out();
}

int TrayStrip::thumb_height() const { return height() - thumb_top - number_height - foot; }

int TrayStrip::thumb_width(const Page& page) const {
    const auto size = developed_size(page.recipe, {page.original.width_px, page.original.height_px}, page.original.dpi);
    return std::clamp(thumb_height() * size.width / std::max(1, size.height), 30, widest_thumb());
}

void TrayStrip::set_slim() {
    slim_ = true;
    setFixedHeight(slim_height);
    lay_out();
    show_current();
}

void TrayStrip::set_full(int height_px) {
    slim_ = false;
    setFixedHeight(height_px);
    lay_out();
    show_current();
}

void TrayStrip::show_current() {
    if (!slim_) return emit show_rect(page_rect(models_.choice.current_id()));
    for (const auto& box : boxes_)
        if (box.current) emit show_rect(box.tab);
}

TrayStrip::DocumentBox TrayStrip::box_of(const Document& document) const {
    DocumentBox box;
    box.id = QString::fromStdString(document.id);
    box.saved = !document.saved_as.empty();
    box.title = models_.names.title_of(document);
    if (box.saved) box.title = QString::fromStdString(std::filesystem::path(document.saved_as).stem().string());
    const auto pages = static_cast<int>(document.kept_pages().size());
    const Ticket::Make make = make_for(models_.tickets.ticket().make, all_photographs(document.kept_pages()));
    const QString count = pages == 1 ? tr("1 page") : tr("%1 pages").arg(pages);
    const QString kind = QString::fromStdString(std::string(format_words(make.format)));
    box.facts =
        box.saved ? tr("%1 · saved").arg(count)
                  : tr("%1 · %2 about %3")
                        .arg(count, kind, bytes_words(models_.experience.bytes_of(document, models_.tickets.ticket())));
    if (!box.saved && !document.folder.empty())
        box.facts += tr(" · in %1").arg(QDir(QString::fromStdString(document.folder)).dirName());
    int doubtful = 0;
    for (const PagePtr& page : document.kept_pages())
        doubtful += models_.reading.doubtful_words(QString::fromStdString(page->id));
    if (doubtful > 0 && slim_ && !box.saved) box.facts += tr(" · %1 doubtful").arg(doubtful);
    box.progress = progress_.value(box.id, -1);
    const std::string current = models_.choice.current_id().toStdString();
    box.current = std::ranges::any_of(document.pages, [&](const PagePtr& page) { return page->id == current; });
    return box;
}

int TrayStrip::lay_out_pages(DocumentBox& box, const Document& document, int x, bool last) {
    int number = 0;
    for (const auto& page : document.pages) {
        const bool slip = page->dropped != Dropped::No;
        const int width = slip ? dropped_width : thumb_width(*page);
        number += slip ? 0 : 1;
        box.pages.append(
            {QString::fromStdString(page->id), QRect(x, thumb_top, width, thumb_height()), page->dropped, number});
        x += width + between;
    }
    if (last) {
        next_slip_ = QRect(x, thumb_top, slip_width, thumb_height());
        x += slip_width + between;
    }
    return x;
}

void TrayStrip::lay_out() {
    boxes_.clear();
    int x = 0;
    const QFontMetrics title(theme::body()), facts(theme::measure());
    const auto& documents = models_.tray.tray().documents;
    next_slip_ = {};
    for (size_t d = 0; d < documents.size(); ++d) {
        DocumentBox box = box_of(*documents[d]);
        const int for_words = pad * 2 + std::min(230, title.horizontalAdvance(box.title)) + 10 +
                              facts.horizontalAdvance(box.facts) + (box.saved ? 20 : 0) + words_width(box.id);
        const int for_pages =
            slim_ ? 0 : lay_out_pages(box, *documents[d], x + pad, d + 1 == documents.size()) - between + pad - x;
        const int width = std::max({for_pages, for_words, 150});
        box.card = QRect(x, 0, width, height() - 1);
        box.tab = QRect(x, 0, width, tab_height);
        boxes_.append(box);
        x += width + (slim_ ? slim_gap : card_gap);
    }
    new_slip_ = slim_ ? QRect(x, 3, documents.empty() ? 150 : 30, height() - 6)
                      : QRect(x, thumb_top, documents.empty() ? 150 : 92, thumb_height());
    content_width_ = new_slip_.right() + 4;
    setMinimumWidth(content_width_);
    updateGeometry();
    update();
}

// The names of dividers stand at the left edge of what is seen.
void TrayStrip::moveEvent(QMoveEvent*) { update(0, 0, width(), tab_height + 1); }
int TrayStrip::left_seen() const { return std::max(0, -pos().x()); }

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

void TrayStrip::mousePressEvent(QMouseEvent* event) {
    pressed_page_.clear();
    pressed_divider_.clear();
    choose_on_release_ = look_on_release_ = false;
    if (event->button() != Qt::LeftButton) return;
    pressed_at_ = event->globalPosition().toPoint();
    drag_at_ = event->pos();
    if (next_slip_.contains(event->pos())) return models_.tray.set_next_page_starts_document(false);
    if (new_slip_.contains(event->pos())) return models_.tray.set_next_page_starts_document(true);
    for (const auto& box : boxes_) {
        for (const auto& page : box.pages) {
            if (!page.rect.adjusted(-3, -3, 3, number_height).contains(event->pos())) continue;
            pressed_page_ = page.id;
            if (event->modifiers() & Qt::ControlModifier)
                models_.choice.toggle(page.id);
            else if (event->modifiers() & Qt::ShiftModifier)
                models_.choice.choose_up_to(page.id);
            else if (models_.choice.several() && models_.choice.chosen().contains(page.id.toStdString()))
                choose_on_release_ = true; // all of them may be about to be dragged
            else
                models_.choice.set_current(page.id);
            look_on_release_ = true;
            return;
        }
        if (box.tab.contains(event->pos())) {
            pressed_divider_ = box.id;
            if (const auto word = tab_word_at(event->pos())) {
                pressed_divider_.clear();
                return press_word(QString(box.id), *word);
            }
        }
        if (box.card.contains(event->pos())) {
            const QString id = box.id; // the boxes are laid out anew
            return choose_first_of(id);
        }
    }
}

void TrayStrip::choose_first_of(const QString& document_id) {
    const DocumentPtr document = document_at(models_.tray.tray(), document_id.toStdString());
    if (!document) return;
    models_.choice.set_current(QString::fromStdString(document->pages.front()->id));
    look_on_release_ = true;
}

void TrayStrip::mouseMoveEvent(QMouseEvent* event) {
    // On the screen: the strip may be scrolled, or stand elsewhere by then.
    const bool far =
        (event->globalPosition().toPoint() - pressed_at_).manhattanLength() >= QApplication::startDragDistance();
    if (!(event->buttons() & Qt::LeftButton) || (!far && dragging_.isEmpty() && !divider_moves_)) return;
    drag_at_ = event->pos();
    if (!pressed_divider_.isEmpty() && event->pos().y() < -tab_height && drag_out(QString(pressed_divider_))) return;
    const bool begins = dragging_.isEmpty() && !divider_moves_;
    if (!pressed_page_.isEmpty()) {
        dragging_ = pressed_page_;
    } else if (!pressed_divider_.isEmpty() && !boxes_.isEmpty() && pressed_divider_ != boxes_.front().id) {
        divider_moves_ = true;
    } else {
        return;
    }
    if (begins) emit dragging(true);
    constexpr int far_above = 60; // more than a hand strays that moves pages inside
    if (!dragging_.isEmpty() && event->pos().y() < -far_above && !makes_files_) make_dragged_pages();
    emit show_rect(QRect(drag_at_.x() - 20, thumb_top, 40, 10)); // scrolls on at the strip's ends
    update();
}

void TrayStrip::mouseReleaseEvent(QMouseEvent*) {
    const bool page_moves = !dragging_.isEmpty(), divider = std::exchange(divider_moves_, false);
    const Drop drop = page_moves ? drop_at(drag_at_) : divider ? divider_drop() : Drop{};
    const QString pressed = std::exchange(pressed_page_, {}), document = std::exchange(pressed_divider_, {});
    dragging_.clear();
    if (std::exchange(makes_files_, false) && drag_at_.y() < 0) {
        update();
        return emit dragging(false); // released before there was a file, and not over the strip
    }
    if (page_moves && new_slip_.contains(drag_at_))
        models_.edits.part();
    else if (page_moves && !drop.document.isEmpty())
        models_.edits.move_to(drop.document, drop.index);
    else if (divider && !drop.document.isEmpty())
        models_.edits.move_divider(document, drop.index);
    else if (choose_on_release_)
        models_.choice.set_current(pressed);
    choose_on_release_ = false;
    update();
    if (page_moves || divider) emit dragging(false);
    // Looking at the page may change the tray's height: not under a pressed button.
    if (std::exchange(look_on_release_, false) && !page_moves && !divider) emit page_chosen();
}

// Between which two pages of the documents on both sides the divider would come to stand.
TrayStrip::Drop TrayStrip::divider_drop() const {
    const auto at = std::ranges::find_if(boxes_, [&](const auto& box) { return box.id == pressed_divider_; });
    if (at == boxes_.end() || at == boxes_.begin()) return {};
    Drop best;
    int nearest = 1 << 30;
    size_t index = 0;
    for (const auto* box : {&*(at - 1), &*at}) {
        for (const auto& page : box->pages) {
            const int x = page.rect.left() - between / 2;
            if (index > 0 && std::abs(x - drag_at_.x()) < nearest) {
                nearest = std::abs(x - drag_at_.x());
                best = {pressed_divider_, index, x};
            }
            ++index;
        }
    }
    return best;
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
        if (box.tab.contains(event->pos())) return rename(QString(box.id)); // the boxes may be laid out anew
        for (const auto& page : box.pages) {
            if (page.dropped != Dropped::No && page.rect.contains(event->pos()))
                return models_.edits.bring_back(page.id);
        }
    }
}

void TrayStrip::walk(int step, bool extend) {
    const auto all = page_ids(models_.tray.tray());
    const auto at = std::ranges::find(all, models_.choice.current_id().toStdString());
    if (at == all.end()) return;
    const auto place = at - all.begin();
    models_.choice.step(
        static_cast<int>(std::clamp<ptrdiff_t>(place + step, 0, static_cast<ptrdiff_t>(all.size()) - 1) - place),
        extend);
    emit page_chosen();
}

void TrayStrip::keyPressEvent(QKeyEvent* event) {
    const bool extend = event->modifiers() & Qt::ShiftModifier, moves = event->modifiers() & Qt::ControlModifier;
    switch (event->key()) {
    case Qt::Key_Left:
        return moves ? models_.edits.shift(-1) : walk(-1, extend);
    case Qt::Key_Right:
        return moves ? models_.edits.shift(1) : walk(1, extend);
    case Qt::Key_Home:
        return walk(-1000000, extend);
    case Qt::Key_End:
        return walk(1000000, extend);
    case Qt::Key_Space:
        return models_.choice.toggle(models_.choice.current_id());
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
                if (page.dropped == Dropped::No && page.rect.contains(help->pos()))
                    QToolTip::showText(
                        help->globalPos(),
                        tr("Ctrl and Shift choose several. A right press says what can be done with them."), this);
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
