#include "app/tray/tray_strip.h"

#include "app/models/errands/renaming.h"
#include "app/models/naming/document_names.h"
#include "app/models/naming/papers.h"
#include "app/models/saving/password_keeper.h"
#include "app/models/saving/save_places.h"
#include "app/models/saving/saving.h"
#include "app/models/text/reading.h"
#include "app/models/tickets/growing_files.h"
#include "app/models/tray/choice.h"
#include "app/models/tray/document_tickets.h"
#include "app/models/tray/looking.h"
#include "app/models/tray/out_tray.h"
#include "app/models/tray/page_edits.h"
#include "app/models/tray/pictures.h"
#include "app/models/window/experience.h"
#include "app/theme/theme.h"
#include "app/ticketbar/ticket_bar.h"
#include "app/tray/name_entry.h"
#include "app/tray/tray_metrics.h"

#include <QContextMenuEvent>
#include <QDir>
#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPaintEvent>
#include <QPainter>
#include <QToolTip>

namespace yelvin {

using namespace tray;

TrayStrip::TrayStrip(const TrayModels& models, QWidget* parent)
    : QWidget(parent), models_(models), words_(models), painter_(models, words_), sheets_(models, words_, this) {
    setFocusPolicy(Qt::StrongFocus);
    setObjectName("tray");
    setAccessibleName(tr("Out tray"));
    setFixedHeight(slim_height);
    connect(&sheets_, &TraySheets::rename_wanted, this, &TrayStrip::rename);
    connect(&sheets_, &TraySheets::stitch_wanted, this, &TrayStrip::stitch_wanted);
    connect(&sheets_, &TraySheets::question_wanted, this, &TrayStrip::question_wanted);
    connect(&sheets_, &TraySheets::ticket_wanted, this, &TrayStrip::ticket_wanted);
    setAcceptDrops(true);
    connect(&models_.tray, &OutTray::changed, this, &TrayStrip::lay_out);
    connect(&models_.document_tickets, &DocumentTickets::changed, this, &TrayStrip::lay_out);
    connect(&models_.growing, &GrowingFiles::changed, this, &TrayStrip::lay_out);
    connect(&models_.choice, &Choice::changed, this, [this] {
        at_end_ = false;
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
        if (slim_) lay_out(); // The number of doubtful words may have another width.
        update();
    });
    connect(&models_.experience, &Experience::changed, this, &TrayStrip::lay_out);
    connect(&models_.errands, &Errands::changed, this, &TrayStrip::lay_out);
    connect(&models_.errands, &Errands::used_changed, this, &TrayStrip::lay_out);
    connect(&models_.papers, &Papers::changed, this, &TrayStrip::lay_out);
    connect(&models_.places, &SavePlaces::question_changed, this, &TrayStrip::lay_out);
    connect(&models_.passwords, &PasswordKeeper::question_changed, this, &TrayStrip::lay_out);
    lay_out();
}

// ---- what is shown, and where

int TrayStrip::thumb_width(const Page& page) const {
    const int high = TrayLayout::thumb_height_in(height()), widest = high * 4 / 3;
    const auto size = developed_size(page.recipe, {page.original.width_px, page.original.height_px}, page.original.dpi);
    return std::clamp(high * size.width / std::max(1, size.height), 30, widest);
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
    if (const auto* box = layout_.current()) emit show_rect(box->tab);
}

QString TrayStrip::facts_of(const Document& document) const {
    const auto kept = document.kept_pages();
    const QString count = kept.size() == 1 ? tr("1 page") : tr("%1 pages").arg(kept.size());
    if (!document.saved_as.empty()) return tr("%1 · saved").arg(count);
    const Ticket& ticket = models_.document_tickets.of(document);
    const Ticket::Make make = make_for(ticket.make, all_photographs(kept));
    QString facts = tr("%1 · %2, about %3")
                        .arg(count, QString::fromStdString(std::string(format_words(make.format))),
                             bytes_words(models_.experience.bytes_of(document, ticket)));
    if (!document.folder.empty()) facts += tr(" · in %1").arg(QDir(QString::fromStdString(document.folder)).dirName());
    int doubtful = 0;
    for (const PagePtr& page : kept) doubtful += models_.reading.doubtful_words(QString::fromStdString(page->id));
    if (doubtful > 0 && slim_) facts += tr(" · %1 doubtful").arg(doubtful);
    return facts;
}

QString TrayStrip::ticket_name_of(const QString& document_id) const {
    const DocumentPtr document = document_at(models_.tray.tray(), document_id.toStdString());
    return document ? QString::fromStdString(models_.document_tickets.of(*document).name) : QString();
}

TrayLayout::Document TrayStrip::shown(const Document& document) const {
    const QFontMetrics title(theme::body()), facts(theme::measure());
    TrayLayout::Document out;
    out.id = QString::fromStdString(document.id);
    out.ticket_colour = QString::fromStdString(models_.document_tickets.of(document).colour);
    out.saved = !document.saved_as.empty();
    out.title = out.saved ? QString::fromStdString(std::filesystem::path(document.saved_as).stem().string())
                          : models_.names.title_of(document);
    out.shown_title = title.elidedText(out.title, Qt::ElideMiddle, title_width);
    out.title_width = title.horizontalAdvance(out.shown_title);
    out.facts = facts_of(document);
    out.facts_width = facts.horizontalAdvance(out.facts);
    out.words_width = words_.width(out.id);
    out.progress = progress_.value(out.id, -1);
    const std::string current = models_.choice.current_id().toStdString();
    out.current = std::ranges::any_of(document.pages, [&](const PagePtr& page) { return page->id == current; });
    for (const PagePtr& page : document.pages)
        out.pages.append({QString::fromStdString(page->id), page->dropped, slim_ ? 0 : thumb_width(*page)});
    return out;
}

void TrayStrip::lay_out() {
    QList<TrayLayout::Document> documents;
    for (const DocumentPtr& each : models_.tray.tray().documents) documents.append(shown(*each));
    layout_ = TrayLayout(documents, height(), slim_);
    setMinimumWidth(layout_.width());
    updateGeometry();
    update();
}

// The names of dividers stay at the left edge of the visible part.
void TrayStrip::moveEvent(QMoveEvent*) { update(0, 0, width(), tab_height + 1); }
int TrayStrip::left_seen() const { return std::max(0, -pos().x()); }

void TrayStrip::paintEvent(QPaintEvent* event) {
    QPainter painter(this);
    TrayPainter::Seen seen{event->rect(), left_seen(), hasFocus(), devicePixelRatioF(), is_at_end()};
    if (press_.moves) seen.drag = TrayPainter::Drag{press_.page, press_.divider, press_.now};
    painter_.paint(painter, layout_, seen);
}

QRect TrayStrip::tab_rect(const QString& document_id) const {
    const auto* box = layout_.document(document_id);
    return box ? box->tab : QRect();
}

template <class Fits>
QRect TrayStrip::rect_of_word(const QString& document_id, const Fits& fits) const {
    const auto* box = layout_.document(document_id);
    if (!box) return {};
    for (const TabWord& word : words_.of(document_id))
        if (fits(word)) return {TrayLayout::words_left(*box, left_seen()) + word.x, 0, word.width, tab_height};
    return {};
}

QRect TrayStrip::errand_rect(const QString& document_id, Errand errand) const {
    return rect_of_word(document_id, [errand](const TabWord& word) {
        return word.is == TabWord::Is::Errand && word.state.errand == errand;
    });
}

QRect TrayStrip::ticket_rect(const QString& document_id) const {
    const auto* box = layout_.document(document_id);
    return box ? TrayLayout::ticket_edge(*box, left_seen()) : QRect();
}

QRect TrayStrip::add_rect(const QString& document_id) const {
    return rect_of_word(document_id, [](const TabWord& word) { return word.is == TabWord::Is::Adds; });
}

QRect TrayStrip::word_rect(const QString& document_id, const QString& words) const {
    return rect_of_word(document_id, [&words](const TabWord& word) { return word.words == words; });
}

std::optional<TabWord> TrayStrip::tab_word_at(QPoint at) const {
    const auto* box = layout_.tab_at(at);
    if (!box) return std::nullopt;
    constexpr int around = TabWords::between / 2;
    const int x = at.x() - TrayLayout::words_left(*box, left_seen());
    for (const TabWord& word : words_.of(box->id))
        if (x >= word.x - around && x < word.x + word.width + around) return word;
    return std::nullopt;
}

// ---- the mouse; what is dragged: tray_drag.cpp

void TrayStrip::mousePressEvent(QMouseEvent* event) {
    press_ = {};
    if (event->button() != Qt::LeftButton) return;
    press_.at = event->globalPosition().toPoint();
    press_.now = event->pos();
    if (layout_.next_slip().contains(event->pos())) return models_.tray.set_next_page_starts_document(false);
    if (layout_.new_slip().contains(event->pos())) return models_.tray.set_next_page_starts_document(true);
    if (const auto* page = layout_.page_at(event->pos())) return press_page(QString(page->id), event->modifiers());
    for (const auto& box : layout_.documents()) {
        if (!box.card.contains(event->pos())) continue;
        const QString id = box.id; // A copy, because handling the press creates the boxes again.
        if (const auto word = tab_word_at(event->pos())) return press_word(id, *word);
        if (const QRect edge = TrayLayout::ticket_edge(box, left_seen()); edge.contains(event->pos()))
            return sheets_.open_ticket(id, {mapToGlobal(edge.topLeft()), edge.size()});
        if (box.tab.contains(event->pos())) press_.divider = id;
        return choose_first_of(id);
    }
}

void TrayStrip::press_page(const QString& page_id, Qt::KeyboardModifiers with) {
    press_.page = page_id;
    press_.looks_on_release = true;
    if (with & Qt::ControlModifier)
        models_.choice.toggle(page_id);
    else if (with & Qt::ShiftModifier)
        models_.choice.choose_up_to(page_id);
    else if (models_.choice.several() && models_.choice.chosen().contains(page_id.toStdString()))
        press_.chooses_on_release = true; // all of them may be about to be dragged
    else
        models_.choice.set_current(page_id);
}

void TrayStrip::press_word(const QString& document_id, const TabWord& word) {
    const QRect at = word_rect(document_id, word.words);
    sheets_.press(document_id, word, {mapToGlobal(at.topLeft()), at.size()});
}

void TrayStrip::choose_first_of(const QString& document_id) {
    const DocumentPtr document = document_at(models_.tray.tray(), document_id.toStdString());
    if (!document) return;
    models_.choice.set_current(QString::fromStdString(document->pages.front()->id));
    press_.looks_on_release = true;
}

void TrayStrip::mouseDoubleClickEvent(QMouseEvent* event) {
    if (const auto* box = layout_.tab_at(event->pos())) return rename(QString(box->id)); // it may be laid out anew
    const auto* page = layout_.page_at(event->pos());
    if (page && page->dropped != Dropped::No) models_.edits.bring_back(page->id);
}

void TrayStrip::contextMenuEvent(QContextMenuEvent* event) {
    QRect anchor(event->globalPos(), QSize(1, 1));
    if (event->reason() == QContextMenuEvent::Mouse) {
        // Selecting a page changes the layout of the boxes.
        const auto* tab = layout_.tab_at(event->pos());
        const auto* page = layout_.page_at(event->pos());
        const QString document = tab && !tab->current ? tab->id : QString(), other = page ? page->id : QString();
        if (!document.isEmpty()) choose_first_of(document);
        if (!other.isEmpty() && !models_.choice.chosen().contains(other.toStdString()))
            models_.choice.set_current(other);
    } else {
        const auto* current = layout_.current();
        const QRect at = slim_ && current ? current->tab : page_rect(models_.choice.current_id());
        anchor = {mapToGlobal(at.topLeft()), at.size()};
    }
    const auto* current = layout_.current();
    sheets_.open_for_pages(current ? current->id : QString(), anchor);
}

bool TrayStrip::event(QEvent* event) {
    if (event->type() != QEvent::ToolTip) return QWidget::event(event);
    auto* help = static_cast<QHelpEvent*>(event);
    if (const auto* box = layout_.tab_at(help->pos()))
        QToolTip::showText(help->globalPos(),
                           TrayLayout::ticket_edge(*box, left_seen()).contains(help->pos())
                               ? tr("Uses the ticket %1; click to choose another").arg(ticket_name_of(box->id))
                               : box->title + "\n" + tr("Rename: F2 or double-click"),
                           this);
    if (const auto* page = layout_.page_at(help->pos()))
        QToolTip::showText(help->globalPos(),
                           page->dropped == Dropped::No ? tr("Ctrl or Shift selects several. Right-click for more.")
                                                        : tr("Left out of the file. Double-click to bring it back."),
                           this);
    return true;
}

// ---- the keys, and the names on the tabs

void TrayStrip::walk(int step, bool extend) {
    const auto all = page_ids(models_.tray.tray());
    const auto at = std::ranges::find(all, models_.choice.current_id().toStdString());
    if (at == all.end()) return;
    const auto place = at - all.begin(), last = static_cast<ptrdiff_t>(all.size()) - 1;
    // The place after the last page is where the next page will be added.
    const bool was_at_end = std::exchange(at_end_, place == last && step > 0 && !extend);
    if (at_end_ != was_at_end) {
        update();
        if (at_end_) return emit show_rect(layout_.new_slip());
        if (step == -1) return; // back to the last page, which is the current one
    }
    models_.choice.step(static_cast<int>(std::clamp<ptrdiff_t>(place + step, 0, last) - place), extend);
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

void TrayStrip::rename_current() {
    if (const auto* box = layout_.current()) rename(QString(box->id));
}

void TrayStrip::open_names_of_current() {
    const auto* box = layout_.current();
    if (box) sheets_.open_names(QString(box->id), {mapToGlobal(box->tab.topLeft()), box->tab.size()});
}

void TrayStrip::rename(const QString& document_id) {
    if (editor_) editor_->clearFocus(); // Accepts what was typed on another tab, which may create the boxes again.
    const auto* box = layout_.document(document_id);
    if (!box) return;
    auto* editor = new NameEntry(box->title, this);
    editor_ = editor;
    editor->setAccessibleName(tr("document name"));
    editor->setGeometry(box->tab.adjusted(3, 3, -16, -2));
    editor->show();
    editor->setFocus();
    emit show_rect(box->tab);
    // Ended once: later events of the entry change no name.
    const auto ended = [this, editor] {
        if (editor != editor_) return false;
        editor_ = nullptr;
        editor->deleteLater();
        setFocus();
        return true;
    };
    connect(editor, &NameEntry::given_up, this, ended);
    connect(editor, &QLineEdit::editingFinished, this, [this, document_id, editor, ended, before = box->title] {
        if (!ended()) return;
        const QString name = editor->text().trimmed();
        if (!name.isEmpty() && name != before) models_.renaming.rename(document_id.toStdString(), name);
    });
}

}
