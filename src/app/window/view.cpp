#include "app/window/view.h"

#include "app/cabinet/cabinet_view.h"
#include "app/glass/frame_panel.h"
#include "app/glass/glass_view.h"
#include "app/keys.h"
#include "app/models/cabinet/cabinet_keeper.h"
#include "app/models/cabinet/cabinet_search.h"
#include "app/models/naming/papers.h"
#include "app/models/saving/saving.h"
#include "app/models/scanning/glass.h"
#include "app/models/scanning/next_scan.h"
#include "app/models/scanning/scanners.h"
#include "app/models/scanning/scanning.h"
#include "app/models/scanning/stitching.h"
#include "app/models/scanning/strip_model.h"
#include "app/models/text/text_choice.h"
#include "app/models/tickets/tickets.h"
#include "app/models/tray/choice.h"
#include "app/models/tray/document_tickets.h"
#include "app/models/tray/incoming.h"
#include "app/models/tray/out_tray.h"
#include "app/models/window/messages.h"
#include "app/models/window/room.h"
#include "app/noticed/adjust_panel.h"
#include "app/noticed/noticed_panel.h"
#include "app/page/page_view.h"
#include "app/run/closing_card.h"
#include "app/run/folder_card.h"
#include "app/run/password_card.h"
#include "app/run/resolution_card.h"
#include "app/run/run_card.h"
#include "app/run/silence_card.h"
#include "app/run/ticket_card.h"
#include "app/stitch/stitch_panel.h"
#include "app/stitch/stitch_view.h"
#include "app/strip/advice_panel.h"
#include "app/strip/strip_view.h"
#include "app/text/text_look.h"
#include "app/theme/phrase_sheet.h"
#include "app/theme/theme.h"
#include "app/window/fold_edge.h"
#include "app/window/news_bar.h"
#include "app/window/view_head.h"
#include "core/naming/file_name.h"

#include <QHBoxLayout>
#include <QLineEdit>
#include <QStackedWidget>
#include <QVBoxLayout>

namespace yelvin {

View::View(const WindowModels& models, QWidget* parent) : QFrame(parent), models_(models) {
    setProperty("panel", true);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    auto* left = left_ = new QWidget(this);
    left->setObjectName("view");
    const auto& c = theme::colours();
    left->setStyleSheet(QString("QWidget#view { background: %1; border-right: 1px solid %3; border-top-left-radius: "
                                "3px; border-bottom-left-radius: 3px; } QWidget#head { background: %2; border-bottom: "
                                "1px solid %3; border-top-left-radius: 3px; }")
                            .arg(c.table.name(), c.desk.name(), c.hairline.name()));
    auto* column = new QVBoxLayout(left);
    column->setContentsMargins(0, 0, 1, 0);
    column->setSpacing(0);
    make_looks(column);
    row->addWidget(left, 1);
    make_side();
    fold_ = new FoldEdge(models_.room, this);
    row->addWidget(fold_);
    row->addWidget(side_);
    make_cabinet();
    row->addWidget(cabinet_, 1);
    join();
    join_room();
}

namespace {

// The stamp that the document's ticket would put on the page.
std::optional<PageView::ShownStamp> stamp_of(const WindowModels& models, const Page& page) {
    const Ticket& ticket = models.files.tickets.of_page(page.id);
    const auto place = find_page(models.pages.tray.tray(), page.id);
    if (ticket.make.stamp.parts.empty() || !place || page.dropped != Dropped::No ||
        is_made_of_words(ticket.make.format))
        return std::nullopt;
    const Document& document = *models.pages.tray.tray().documents[place->document];
    const auto kept = document.kept_pages();
    const auto at = std::ranges::find(kept, page.id, [](const PagePtr& each) { return each->id; });
    const int number = models.files.saving.next_stamp(ticket) + static_cast<int>(at - kept.begin());
    const auto parts = with_values(ticket.make.stamp.parts, models.files.papers.values_of(document, ticket));
    return PageView::ShownStamp{joined_parts(parts, today(), number), ticket.make.stamp};
}

}

void View::make_looks(QVBoxLayout* column) {
    head_ = new ViewHead({models_.room, models_.scan, models_.pages, models_.text}, this);
    news_ = new NewsBar(models_.messages, models_.files.saving, models_.files.errands, this);
    column->addWidget(head_);
    auto* closing = new ClosingCard(models_.files.closing, this);
    connect(closing, &ClosingCard::close_wanted, this, [this] { window()->close(); });
    column->addWidget(closing);
    column->addWidget(new RunCard(models_.scan.run, this));
    column->addWidget(new SilenceCard(models_.scan.scanners, this));
    column->addWidget(folder_card_ = new FolderCard(models_.files.places, this));
    column->addWidget(password_card_ = new PasswordCard(models_.files.passwords, this));
    column->addWidget(new ResolutionCard(models_.scan.incoming, this));
    column->addWidget(new TicketCard(models_.scan.tickets, this));
    column->addWidget(news_);
    looks_ = new QStackedWidget(this);
    glass_ =
        new GlassView(models_.scan.glass, models_.scan.scanners, models_.scan.tickets, models_.scan.next_scan, looks_);
    const PageView::Around around{models_.room,        models_.pages.tray,     models_.pages.choice,
                                  models_.pages.edits, models_.pages.pictures, models_.scan.run};
    page_ = new PageView(around, looks_);
    text_ = new TextLook(models_.for_text(), around, looks_);
    strip_ =
        new StripView(models_.scan.strip, models_.scan.scanners, models_.scan.tickets, models_.scan.next_scan, looks_);
    pieces_ = new StitchView(models_.scan.run, models_.pages.stitching, looks_);
    for (QWidget* look : std::initializer_list<QWidget*>{glass_, page_, text_, strip_, pieces_})
        looks_->addWidget(look);
    column->addWidget(looks_, 1);
}

void View::make_side() {
    side_ = new QStackedWidget(this);
    side_->setFixedWidth(theme::side_width);
    frames_ =
        new FramePanel(models_.scan.glass, models_.scan.scanners, models_.scan.tickets, models_.scan.next_scan, side_);
    noticed_ = new NoticedPanel(models_.for_page(), side_);
    advice_ = new AdvicePanel(models_.scan.strip, models_.scan.tickets, side_);
    beside_pieces_ = new StitchPanel(models_.pages.stitching, side_);
    for (QWidget* panel : std::initializer_list<QWidget*>{noticed_, frames_, advice_, beside_pieces_})
        side_->addWidget(panel);
}

void View::make_cabinet() {
    cabinet_news_ = new NewsBar(models_.messages, models_.files.saving, models_.files.errands, this);
    cabinet_ = new CabinetView({models_.files.keeper, models_.files.search_cabinet, models_.messages,
                                models_.files.errands, models_.scan.incoming, models_.pages.kept},
                               cabinet_news_, this);
    cabinet_->hide();
    connect(cabinet_, &CabinetView::left, this, &View::close_cabinet);
    connect(cabinet_, &CabinetView::taken_back, this, [this] { look_at(Look::Page); });
}

NewsBar& View::news() { return cabinet_is_open() ? *cabinet_news_ : *news_; }

bool View::cabinet_is_open() const { return !cabinet_->isHidden(); }

void View::open_cabinet() {
    for (QWidget* bar : {news_, cabinet_news_}) bar->hide(); // The user has read what they said.
    cabinet_->open();
    stand();
}

void View::close_cabinet() {
    if (!cabinet_is_open()) return;
    cabinet_->close();
    cabinet_news_->hide();
    stand();
    shown()->setFocus(Qt::OtherFocusReason);
}

void View::join() {
    page_->show_stamps([this](const Page& page) { return stamp_of(models_, page); });
    page_->show_pointed([this](const Page& page) {
        for (const Papers::Pointed& each : models_.files.papers.pointed())
            if (each.page == page.id) return each.boxes;
        return std::vector<cv::Rect>{};
    });
    connect(&models_.files.papers, &Papers::pointing_changed, page_, qOverload<>(&QWidget::update));
    // The stamp on the page may change.
    connect(&models_.files.papers, &Papers::changed, page_, qOverload<>(&QWidget::update));
    connect(&models_.files.tickets, &DocumentTickets::changed, page_, qOverload<>(&QWidget::update));
    connect(head_, &ViewHead::look_wanted, this, &View::look_at);
    connect(head_, &ViewHead::zoom_wanted, this, &View::choose_zoom);
    connect(glass_, &GlassView::preview_wanted, &models_.scan.run, &Scanning::preview);
    connect(glass_, &GlassView::add_files_wanted, this, &View::add_files_wanted);
    connect(frames_, &FramePanel::pieces_wanted, this, &View::pieces_wanted);
    connect(&models_.scan.incoming, &Incoming::came_in, this, [this] {
        if (look_ == Look::Glass || look_ == Look::Strip) look_at(Look::Page);
    });
    for (PageView* page : {page_, &text_->page()}) {
        connect(page, &PageView::zoom_changed, this, &View::refresh);
        connect(page, &PageView::unreadable, &models_.messages,
                [this](const QString& sentence) { models_.messages.complain(sentence); });
    }
    connect(&models_.text.words, &TextChoice::changed, this, &View::refresh);
    connect(&models_.text.words, &TextChoice::look_wanted, this, [this] { look_at(Look::Text); });
    connect(&models_.text.texts, &PageTexts::changed, this, &View::refresh);
    connect(&noticed_->adjust(), &AdjustPanel::tool_wanted, page_, &PageView::use_tool);
    connect(page_, &PageView::tool_changed, this, [this] { noticed_->adjust().set_tool(page_->tool()); });
    connect(&models_.pages.stitching, &Stitching::changed, this, [this] {
        // After stitching was cancelled or completed, the page is shown again.
        if (!models_.pages.stitching.is_open() && look_ == Look::Pieces) return look_at(Look::Page);
        refresh();
    });
    connect(&models_.pages.stitching, &Stitching::accepted, this,
            [this] { news_->say(tr("The pieces are now one page; they are kept with it."), NewsBar::News::Good); });
    connect(&models_.scan.scanners, &Scanners::lease_changed, this, &View::follow_work);
    connect(&models_.pages.tray, &OutTray::changed, this, &View::refresh);
    connect(&models_.pages.choice, &Choice::changed, this, &View::refresh);
    connect(&models_.scan.glass, &Glass::changed, this, &View::refresh);
    connect(&models_.scan.tickets, &Tickets::changed, this, &View::refresh);
    connect(&models_.scan.scanners, &Scanners::changed, this, &View::refresh);
    connect(&models_.scan.strip, &StripModel::changed, this, &View::refresh);
    connect(&models_.scan.run, &Scanning::changed, this, &View::refresh);
}

void View::join_room() {
    connect(&models_.room, &Room::changed, this, [this] {
        stand();
        refresh();
    });
    stand();
}

// The text is shown beside its page already.
void View::stand() {
    const Room& room = models_.room;
    const bool cabinet = cabinet_is_open();
    const bool beside = look_ != Look::Text && !room.is_view_alone() && !cabinet;
    left_->setVisible(!cabinet);
    side_->setVisible(beside && !room.side_is_folded());
    fold_->setVisible(beside);
}

// Shows what has just begun.
void View::follow_work() {
    const ScannerLease& lease = models_.scan.scanners.lease();
    using For = ScannerLease::For;
    if (lease.held_for(For::Scan) || (lease.held_for(For::Piece) && look_ != Look::Pieces)) look_at(Look::Page);
    if (lease.held_for(For::Preview)) look_at(Look::Glass);
    if (lease.held_for(For::Strip)) look_at(Look::Strip);
    refresh();
}

void View::look_at(Look look) {
    close_cabinet();
    const bool other = std::exchange(look_, look) != look;
    const auto show = [&](QWidget* view, QWidget* beside) {
        looks_->setCurrentWidget(view);
        side_->setCurrentWidget(beside);
    };
    if (look == Look::Glass) show(glass_, frames_);
    if (look == Look::Page) show(page_, noticed_);
    if (look == Look::Text) {
        show(text_, noticed_);
        text_->setFocus(Qt::OtherFocusReason);
    }
    if (look == Look::Strip) show(strip_, advice_);
    if (look == Look::Pieces) {
        show(pieces_, beside_pieces_);
        pieces_->setFocus(Qt::OtherFocusReason);
    }
    stand();
    refresh();
    if (other) emit look_changed();
}

void View::go_to_question() {
    close_cabinet();
    for (const QWidget* card : {folder_card_, password_card_}) {
        if (card->isHidden()) continue;
        for (auto* entry : card->findChildren<QLineEdit*>())
            if (entry->isVisible()) return entry->setFocus(Qt::OtherFocusReason);
    }
}

QWidget* View::shown() const { return cabinet_is_open() ? cabinet_ : looks_->currentWidget(); }
QWidget* View::side() const { return side_->currentWidget(); }

PageView& View::zoomed() { return look_ == Look::Text ? text_->page() : *page_; }

void View::refresh() { head_->show_for(look_, zoomed().zoom_words()); }

void View::choose_zoom() {
    PageView* page = &zoomed();
    auto* sheet = new PhraseSheet(this);
    sheet->add_row(tr("fit"), with_key(tr("the whole page"), Do::FitPage), page->fits_page(),
                   [page] { page->set_fit(); });
    sheet->add_row(tr("width"), with_key(tr("as wide as the view"), Do::FitWidth), page->fits_width(),
                   [page] { page->set_fit_width(); });
    for (const int percent : {25, 50, 100, 200, 400}) {
        sheet->add_row(tr("%1%").arg(percent),
                       percent == 100 ? with_key(tr("actual pixels"), Do::ActualPixels) : QString(),
                       !page->fits_page() && !page->fits_width() && page->zoom_percent() == percent,
                       [page, percent] { page->set_zoom(percent / 100.0); });
    }
    sheet->add_row(tr("two pages"), with_key(tr("side by side, if there is room"), Do::TwoPages),
                   models_.room.two_pages(), [this] { models_.room.set_two_pages(!models_.room.two_pages()); });
    sheet->add_row(tr("only the view"), with_key(tr("hides everything else"), Do::OnlyView),
                   models_.room.is_view_alone(),
                   [this] { models_.room.leave_view_alone(!models_.room.is_view_alone()); });
    sheet->add_row(tr("rulers"), with_key(tr("in mm or inches"), Do::Rulers), page->shows_rulers(),
                   [page] { page->show_rulers(!page->shows_rulers()); });
    sheet->add_advice(tr("Hold B to see the page as scanned, L for a loupe. G shows a grid."));
    sheet->open_under(head_->zoom_rect());
}

}
