#include "app/main_window.h"

#include "app/bench/bench_sheet.h"
#include "app/bench/parts.h"
#include "app/glass/frame_panel.h"
#include "app/glass/glass_view.h"
#include "app/noticed/adjust_panel.h"
#include "app/noticed/noticed_panel.h"
#include "app/page/page_view.h"
#include "app/run/blank_sheet.h"
#include "app/run/resolution_card.h"
#include "app/run/run_card.h"
#include "app/stitch/stitch_panel.h"
#include "app/stitch/stitch_view.h"
#include "app/strip/advice_panel.h"
#include "app/strip/strip_view.h"
#include "app/theme/theme.h"
#include "app/ticketbar/phrase_sheet.h"
#include "app/ticketbar/ticket_bar.h"
#include "app/tray/tray_strip.h"
#include "core/output/separator_sheet.h"
#include "core/raster/paper.h"
#include "core/saving/file_name.h"
#include "core/saving/safe_file.h"

#include <QAbstractSpinBox>
#include <QApplication>
#include <QDesktopServices>
#include <QDir>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMimeData>
#include <QPushButton>
#include <QScrollArea>
#include <QScrollBar>
#include <QShortcut>
#include <QStackedWidget>
#include <QUrl>
#include <QVBoxLayout>

namespace yelvin {

namespace {
QPushButton* button(const QString& words, const char* kind, const char* name, QWidget* parent) {
    auto* made = new QPushButton(words, parent);
    if (*kind) made->setProperty("kind", kind);
    made->setObjectName(name);
    made->setCursor(Qt::PointingHandCursor);
    return made;
}
}

MainWindow::MainWindow(Desk& desk) : desk_(desk) {
    setWindowTitle("Yelvin");
    setAcceptDrops(true);
    auto* central = new QWidget(this);
    central->setObjectName("desk");
    setCentralWidget(central);
    auto* column = new QVBoxLayout(central);
    column->setContentsMargins(theme::margin, 10, theme::margin, 12);
    column->setSpacing(theme::gap);
    bar_ = new TicketBar(desk, this);
    column->addWidget(bar_);
    column->addWidget(make_table(), 1);
    column->addWidget(make_tray());
    setMinimumSize(1024, 700);
    resize(1280, 800);

    connect(bar_, &TicketBar::scan_pressed, this, &MainWindow::press_scan);
    connect(bar_, &TicketBar::bench_wanted, this, &MainWindow::open_bench);
    connect(bar_, &TicketBar::blank_sheet_wanted, this, &MainWindow::open_blank_sheet);
    connect(bar_, &TicketBar::strip_wanted, this, [this] { look_at(Look::Strip); });
    connect(bar_, &TicketBar::separators_wanted, this, &MainWindow::print_separators);
    connect(glass_, &GlassView::add_files_wanted, this, &MainWindow::add_files);
    connect(tray_, &TrayStrip::stitch_wanted, this, &MainWindow::stitch_chosen);
    connect(tray_, &TrayStrip::page_chosen, this, [this] { look_at(Look::Page); });
    connect(tray_, &TrayStrip::show_rect, this, [this](const QRect& rect) {
        if (!rect.isNull()) tray_scroll_->ensureVisible(rect.center().x(), rect.center().y(), rect.width() / 2 + 30, 0);
    });
    connect(page_, &PageView::zoom_changed, this, &MainWindow::refresh);
    connect(&noticed_->adjust(), &AdjustPanel::tool_wanted, page_, &PageView::use_tool);
    connect(page_, &PageView::tool_changed, this, [this] { noticed_->adjust().set_tool(page_->tool()); });
    connect(&desk_, &Desk::trouble, this, [this](const QString& sentence) { say(sentence, true); });
    connect(&desk_, &Desk::told, this, [this](const QString& sentence) { say(sentence, false); });
    connect(&desk_, &Desk::saved, this, [this](const QStringList& files) {
        const QFileInfo first(files.front());
        say(files.size() == 1 ? tr("Saved %1 in %2").arg(first.fileName(), first.dir().dirName())
                              : tr("Saved %1 files in %2").arg(files.size()).arg(first.dir().dirName()),
            false, files);
    });
    connect(&desk_, &Desk::busy_changed, this, [this] {
        const bool in_pieces = stitching_->is_open() && table_->currentWidget() == stitch_;
        if (desk_.scanning() && !in_pieces) look_at(Look::Page);
        if (desk_.previewing()) look_at(desk_.strip().scanning ? Look::Strip : Look::Glass);
    });
    for (auto signal : {&Desk::busy_changed, &Desk::tray_changed, &Desk::current_changed, &Desk::glass_changed,
                        &Desk::ticket_changed, &Desk::scanner_changed, &Desk::strip_changed})
        connect(&desk_, signal, this, &MainWindow::refresh);
    make_keys();
    qApp->installEventFilter(this);
    look_at(desk_.current_page().isEmpty() ? Look::Glass : Look::Page);
    central->setFocusPolicy(Qt::ClickFocus); // nothing is lit until somebody uses the keys
    central->setFocus();
}

QWidget* MainWindow::make_table() {
    auto* frame = new QFrame(this);
    frame->setProperty("panel", true);
    auto* row = new QHBoxLayout(frame);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    auto* left = new QWidget(frame);
    left->setObjectName("table");
    const auto& c = theme::colours();
    left->setStyleSheet(QString("QWidget#table { background: %1; border-right: 1px solid %3; border-top-left-radius: "
                                "3px; border-bottom-left-radius: 3px; } QWidget#head { background: %2; border-bottom: "
                                "1px solid %3; border-top-left-radius: 3px; }")
                            .arg(c.table.name(), c.desk.name(), c.hairline.name()));
    auto* column = new QVBoxLayout(left);
    column->setContentsMargins(0, 0, 1, 0);
    column->setSpacing(0);
    auto* head = new QWidget(left);
    head->setObjectName("head");
    head->setFixedHeight(37);
    auto* tabs = new QHBoxLayout(head);
    tabs->setContentsMargins(10, 5, 12, 0);
    tabs->setSpacing(4);
    glass_tab_ = button(tr("Glass"), "tab", "tab-glass", head);
    page_tab_ = button(tr("Page"), "tab", "tab-page", head);
    glass_tab_->setToolTip(tr("What lies on the glass (Alt+1)"));
    page_tab_->setToolTip(tr("The chosen page (Alt+2)"));
    strip_tab_ = button(tr("Test strip"), "tab", "tab-strip", head);
    strip_tab_->setToolTip(tr("One detail at every resolution (Alt+4)"));
    pieces_tab_ = button(tr("Pieces"), "tab", "tab-pieces", head);
    pieces_tab_->setToolTip(tr("The pieces that are being stitched"));
    for (QPushButton* tab : {glass_tab_, page_tab_, strip_tab_, pieces_tab_}) {
        tab->setCheckable(true);
        tabs->addWidget(tab, 0, Qt::AlignBottom);
    }
    tabs->addStretch();
    facts_ = new QLabel(head);
    facts_->setProperty("quiet", true);
    tabs->addWidget(facts_);
    tabs->addSpacing(12);
    preview_ = button(tr("Preview"), "link", "preview-again", head);
    preview_->setToolTip(tr("A quick coarse look at the glass (Ctrl+L)"));
    zoom_ = button("fit", "link", "zoom", head);
    zoom_->setToolTip(tr("How large the page is shown (wheel, + and −, 0 for fit, 1 for dot by dot)"));
    tabs->addWidget(preview_);
    tabs->addWidget(zoom_);
    column->addWidget(head);
    news_ = new QFrame(left);
    news_->setObjectName("news");
    auto* news = new QHBoxLayout(news_);
    news->setContentsMargins(14, 7, 10, 7);
    news_words_ = new QLabel(news_);
    news_words_->setWordWrap(true);
    news_words_->setObjectName("news-words");
    news->addWidget(news_words_, 1);
    for (const auto& [words, name] :
         {std::pair{tr("open"), "news-open"}, {tr("show in folder"), "news-folder"}, {tr("close"), "news-close"}}) {
        auto* action = button(words, "link", name, news_);
        news->addWidget(action);
        news_actions_.append(action);
    }
    connect(news_actions_[2], &QPushButton::clicked, news_, &QWidget::hide);
    news_->hide();
    run_ = new RunCard(desk_, left);
    column->addWidget(run_);
    resolution_ = new ResolutionCard(desk_, left);
    column->addWidget(resolution_);
    column->addWidget(news_);
    table_ = new QStackedWidget(left);
    glass_ = new GlassView(desk_, table_);
    page_ = new PageView(desk_, table_);
    strip_ = new StripView(desk_, table_);
    table_->addWidget(glass_);
    table_->addWidget(page_);
    table_->addWidget(strip_);
    stitching_ = new Stitching(desk_, this);
    stitch_ = new StitchView(desk_, *stitching_, table_);
    table_->addWidget(stitch_);
    column->addWidget(table_, 1);
    row->addWidget(left, 1);
    side_ = new QStackedWidget(frame);
    side_->setFixedWidth(theme::side_width);
    noticed_ = new NoticedPanel(desk_, side_);
    frame_panel_ = new FramePanel(desk_, side_);
    advice_ = new AdvicePanel(desk_, side_);
    stitch_panel_ = new StitchPanel(desk_, *stitching_, side_);
    for (QWidget* panel : std::initializer_list<QWidget*>{noticed_, frame_panel_, advice_, stitch_panel_})
        side_->addWidget(panel);
    connect(pieces_tab_, &QPushButton::clicked, this, [this] { look_at(Look::Pieces); });
    connect(frame_panel_, &FramePanel::pieces_wanted, this, &MainWindow::scan_in_pieces);
    connect(stitching_, &Stitching::changed, this, [this] {
        // Left, or made: back to the page.
        if (!stitching_->is_open() && table_->currentWidget() == stitch_) return look_at(Look::Page);
        refresh();
    });
    // What a person does with a real map between two parts.
    connect(&desk_, &Desk::piece_scanned, this, [this] { lay_next_part(desk_); });
    connect(stitching_, &Stitching::accepted, this,
            [this] { say(tr("The pieces are one page now; they are kept with it."), false); });
    row->addWidget(side_);
    connect(strip_tab_, &QPushButton::clicked, this, [this] { look_at(Look::Strip); });
    connect(glass_tab_, &QPushButton::clicked, this, [this] { look_at(Look::Glass); });
    connect(page_tab_, &QPushButton::clicked, this, [this] { look_at(Look::Page); });
    connect(preview_, &QPushButton::clicked, &desk_, &Desk::start_preview);
    connect(zoom_, &QPushButton::clicked, this, &MainWindow::choose_zoom);
    return frame;
}

QWidget* MainWindow::make_tray() {
    auto* holder = new QWidget(this);
    auto* row = new QHBoxLayout(holder);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(theme::margin);
    tray_scroll_ = new QScrollArea(holder);
    tray_scroll_->setFrameShape(QFrame::NoFrame);
    tray_scroll_->setWidgetResizable(true);
    tray_scroll_->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    tray_scroll_->setFixedHeight(theme::tray_height + 8);
    tray_scroll_->setFocusPolicy(Qt::NoFocus);
    tray_scroll_->viewport()->setAutoFillBackground(false);
    tray_ = new TrayStrip(desk_, tray_scroll_);
    tray_->setAutoFillBackground(false);
    tray_scroll_->setWidget(tray_);
    row->addWidget(tray_scroll_, 1);
    auto* column = new QVBoxLayout;
    column->setSpacing(6);
    column->addStretch();
    summary_ = new QLabel(holder);
    summary_->setProperty("quiet", true);
    summary_->setWordWrap(true);
    summary_->setFixedWidth(132);
    column->addWidget(summary_);
    choose_ = button(tr("choose …"), "link", "choose", holder);
    choose_->setToolTip(tr("Pages: all, odd, even, by number"));
    steps_ = button(tr("undo …"), "link", "history", holder);
    auto* links = new QHBoxLayout;
    links->setSpacing(10);
    links->addWidget(choose_);
    links->addWidget(steps_);
    links->addStretch();
    column->addLayout(links);
    connect(steps_, &QPushButton::clicked, this, &MainWindow::open_history);
    connect(choose_, &QPushButton::clicked, this, [this] {
        tray_->open_choose_sheet({choose_->mapToGlobal(QPoint(0, 0)), choose_->size()});
    });
    put_away_ = button(tr("put saved ones away"), "link", "put-away", holder);
    put_away_->setToolTip(tr("Saved documents leave the tray; the files stay"));
    column->addWidget(put_away_, 0, Qt::AlignLeft);
    save_all_ = button(tr("Save all"), "", "save-all", holder);
    save_all_->setToolTip(tr("Save every document (Ctrl+Shift+S)"));
    save_ = button(tr("Save"), "", "save", holder);
    save_->setToolTip(tr("Save this document (Ctrl+S)"));
    for (QPushButton* each : {save_all_, save_}) {
        each->setFixedSize(132, 36);
        column->addWidget(each);
    }
    row->addLayout(column);
    connect(save_, &QPushButton::clicked, this, &MainWindow::save_current);
    connect(save_all_, &QPushButton::clicked, this, &MainWindow::save_all);
    connect(put_away_, &QPushButton::clicked, &desk_, &Desk::put_away_saved);
    return holder;
}

void MainWindow::make_keys() {
    const auto key = [this](const char* keys, auto action) {
        connect(new QShortcut(QKeySequence(keys), this), &QShortcut::activated, this, action);
    };
    key("Ctrl+Return", [this] {
        if (!desk_.scanning()) press_scan();
    });
    key("Ctrl+Enter", [this] {
        if (!desk_.scanning()) press_scan();
    });
    key("Ctrl+L", [this] { desk_.start_preview(); });
    key("Esc", [this] {
        if (page_->tool() != PageTool::None && table_->currentWidget() == page_) return page_->use_tool(PageTool::None);
        if (table_->currentWidget() == stitch_ && !desk_.scanning()) {
            if (stitching_->composing()) return stitching_->stop();
            if (!stitch_->step_out()) stitching_->leave();
            return;
        }
        const bool runs = desk_.scanning() || desk_.previewing() || desk_.waiting().what != Waiting::For::Nothing;
        runs ? desk_.stop() : news_->hide();
    });
    key("Alt+1", [this] { look_at(Look::Glass); });
    key("Alt+2", [this] { look_at(Look::Page); });
    key("Alt+4", [this] { look_at(Look::Strip); });
    const auto on_glass = [this] { return table_->currentWidget() == glass_; };
    const auto in_pieces = [this] { return table_->currentWidget() == stitch_; };
    const auto turn = [this, on_glass, in_pieces](int quarters) {
        if (in_pieces()) return stitch_->turn_chosen(90 * quarters);
        on_glass() ? glass_->turn_chosen_quarter(quarters) : desk_.turn_current(quarters);
    };
    const auto tilt = [this, on_glass, in_pieces](double degrees) {
        if (in_pieces()) return stitch_->turn_chosen(degrees);
        on_glass() ? glass_->turn_chosen(degrees) : desk_.tilt_current(degrees);
    };
    key("[", [turn] { turn(-1); });
    key("]", [turn] { turn(1); });
    key("Alt+,", [tilt] { tilt(-0.1); });
    key("Alt+.", [tilt] { tilt(0.1); });
    key("Ctrl+G", [this] { stitch_chosen(); });
    key("Ctrl+Shift+T", [this] { bar_->open_phrase("keep-as"); });
    key("Ctrl+D", [this] { desk_.divide_at_current(); });
    key("F2", [this] { tray_->rename_current(); });
    key("Ctrl+A", [this] { desk_.choose_all(); });
    key("Ctrl+I", [this] { desk_.choose_others(); });
    key("Alt+Left", [this] { desk_.shift_chosen(-1); });
    key("Alt+Right", [this] { desk_.shift_chosen(1); });
    key("Ctrl+Z", [this] { desk_.undo(); });
    key("Ctrl+Shift+Z", [this] { desk_.redo(); });
    key("Ctrl+S", [this] { save_current(); });
    key("Ctrl+Shift+S", [this] { save_all(); });
    key("Ctrl+O", [this] { add_files(); });
    key("F6", [this] { next_region(1); });
    key("Shift+F6", [this] { next_region(-1); });
}

void MainWindow::next_region(int step) {
    const QList<QWidget*> regions{bar_->findChild<QWidget*>("sentence"), table_->currentWidget(), side_, tray_, save_};
    qsizetype at = -1;
    for (qsizetype i = 0; i < regions.size(); ++i) {
        if (regions[i] == focusWidget() || (focusWidget() && regions[i]->isAncestorOf(focusWidget()))) at = i;
    }
    for (qsizetype tries = 0; tries < regions.size(); ++tries) {
        at = (at + step + regions.size()) % regions.size();
        QWidget* region = regions[at];
        if (region == side_) {
            const auto actions = side_->currentWidget()->findChildren<QPushButton*>();
            const auto shown = std::ranges::find_if(actions, [](QPushButton* b) { return b->isVisible(); });
            if (shown == actions.end()) continue;
            region = *shown;
        }
        if (!region->isEnabled()) continue;
        region->setFocus(Qt::TabFocusReason);
        return;
    }
}

// Keys that must not be taken from somebody who is typing: B shows the original while held, Delete removes the page.
bool MainWindow::eventFilter(QObject* watched, QEvent* event) {
    if ((event->type() == QEvent::KeyPress || event->type() == QEvent::KeyRelease) && isActiveWindow()) {
        auto* key = static_cast<QKeyEvent*>(event);
        const bool typing = qobject_cast<QLineEdit*>(QApplication::focusWidget()) ||
                            qobject_cast<QAbstractSpinBox*>(QApplication::focusWidget()) ||
                            QApplication::activePopupWidget();
        if (key->key() == Qt::Key_B && key->modifiers() == Qt::NoModifier && !typing &&
            table_->currentWidget() == page_) {
            if (!key->isAutoRepeat()) page_->show_original(event->type() == QEvent::KeyPress);
            return true;
        }
        const bool on_page = !typing && key->modifiers() == Qt::NoModifier && table_->currentWidget() == page_;
        if (key->key() == Qt::Key_L && on_page) {
            if (!key->isAutoRepeat()) page_->show_loupe(event->type() == QEvent::KeyPress);
            return true;
        }
        const PageTool tool = key->key() == Qt::Key_C   ? PageTool::Crop
                              : key->key() == Qt::Key_F ? PageTool::Corners
                                                        : PageTool::None;
        if (tool != PageTool::None && on_page && desk_.current()) {
            if (event->type() == QEvent::KeyPress && !key->isAutoRepeat() && qobject_cast<QWidget*>(watched))
                page_->use_tool(page_->tool() == tool ? PageTool::None : tool);
            return true;
        }
        if (key->key() == Qt::Key_Delete && event->type() == QEvent::KeyPress && !typing &&
            table_->currentWidget() == page_ && qobject_cast<QWidget*>(watched)) {
            desk_.remove_current();
            return true;
        }
    }
    return QMainWindow::eventFilter(watched, event);
}

void MainWindow::look_at(Look look) {
    const auto show = [&](QWidget* view, QWidget* beside) {
        table_->setCurrentWidget(view);
        side_->setCurrentWidget(beside);
    };
    if (look == Look::Glass) show(glass_, frame_panel_);
    if (look == Look::Page) show(page_, noticed_);
    if (look == Look::Strip) show(strip_, advice_);
    if (look == Look::Pieces) {
        show(stitch_, stitch_panel_);
        stitch_->setFocus(Qt::OtherFocusReason);
    }
    pieces_tab_->setChecked(look == Look::Pieces);
    glass_tab_->setChecked(look == Look::Glass);
    page_tab_->setChecked(look == Look::Page);
    strip_tab_->setChecked(look == Look::Strip);
    refresh();
}

void MainWindow::refresh() {
    const bool glass = table_->currentWidget() == glass_, strip = table_->currentWidget() == strip_;
    const bool pieces = table_->currentWidget() == stitch_;
    pieces_tab_->setVisible(stitching_->is_open());
    preview_->setVisible(glass && desk_.has_scanner() && !desk_.preview().isNull() && desk_.source() == Source::Glass);
    preview_->setText(desk_.preview_out_of_date() ? tr("preview again") : tr("preview"));
    preview_->setEnabled(!desk_.previewing() && !desk_.scanning());
    zoom_->setVisible(!glass && !strip && !pieces && !desk_.current_page().isEmpty());
    zoom_->setText(page_->zoom_words());
    const SizeMm size = desk_.capabilities().glass;
    if (glass) {
        const bool stack = desk_.source() != Source::Glass;
        facts_->setText(!desk_.has_scanner() ? QString()
                        : stack              ? tr("feeder, up to %1 mm wide").arg(desk_.capabilities().feeder.width)
                                             : tr("glass %1 × %2 mm").arg(size.width).arg(size.height));
        glass_tab_->setText(stack && desk_.has_scanner() ? tr("Feeder") : tr("Glass"));
    } else if (pieces) {
        const Layout& layout = stitching_->layout();
        const SizeMm mm{px_to_mm(layout.size.width, layout.dpi), px_to_mm(layout.size.height, layout.dpi)};
        facts_->setText(layout.placed() < 2 ? QString()
                                            : tr("%1 × %2 mm · %3 dpi · %4 × %5")
                                                  .arg(mm_words(mm.width), mm_words(mm.height))
                                                  .arg(layout.dpi)
                                                  .arg(layout.size.width)
                                                  .arg(layout.size.height));
    } else if (strip) {
        facts_->setText(desk_.strip().best.empty() ? QString() : desk_.strip().words);
    } else if (const PagePtr page = desk_.current(); page && !desk_.scanning()) {
        const auto place = find_page(desk_.tray(), page->id);
        const SizePx px =
            developed_size(page->recipe, {page->original.width_px, page->original.height_px}, page->original.dpi);
        const SizeMm mm{px_to_mm(px.width, page->original.dpi), px_to_mm(px.height, page->original.dpi)};
        const auto paper = nearest_paper(mm);
        const QString called = paper ? QString::fromUtf8(paper->name.data())
                                     : tr("%1 × %2 mm").arg(mm_words(mm.width), mm_words(mm.height));
        facts_->setText(tr("%1 of %2   %3 · %4 dpi · %5 × %6")
                            .arg(place->page + 1)
                            .arg(desk_.tray().documents[place->document]->pages.size())
                            .arg(called)
                            .arg(page->original.dpi)
                            .arg(px.width)
                            .arg(px.height));
    } else {
        facts_->clear();
    }
    size_t unsaved = 0, saved = 0;
    for (const auto& document : desk_.tray().documents) ++(document->saved_as.empty() ? unsaved : saved);
    const auto pages = desk_.tray().page_count();
    QString words = pages == 0
                        ? tr("The out tray is empty.")
                        : tr("%1 in %2, %3")
                              .arg(pages == 1 ? tr("1 page") : tr("%1 pages").arg(pages),
                                   unsaved + saved == 1 ? tr("1 document") : tr("%1 documents").arg(unsaved + saved),
                                   saved == 0     ? tr("none saved yet")
                                   : unsaved == 0 ? tr("all saved")
                                                  : tr("%1 saved").arg(saved));
    if (desk_.pages_in_work() > 0)
        words = tr("Looking at %1 …")
                    .arg(desk_.pages_in_work() == 1 ? tr("1 page") : tr("%1 pages").arg(desk_.pages_in_work()));
    if (desk_.saving()) words = tr("Saving …");
    if (desk_.several_chosen()) words = tr("%1 pages chosen").arg(desk_.chosen().size());
    summary_->setText(words);
    choose_->setVisible(page_ids(desk_.tray()).size() > 1);
    steps_->setVisible(desk_.can_undo() || desk_.can_redo());
    steps_->setToolTip(desk_.can_undo() ? tr("Undo %1 (Ctrl+Z), and the steps before").arg(desk_.undo_name())
                                        : tr("Redo %1 (Ctrl+Shift+Z)").arg(desk_.redo_name()));
    put_away_->setVisible(saved > 0 && !desk_.saving());
    save_all_->setEnabled(unsaved > 0 && !desk_.saving());
    save_all_->setVisible(unsaved > 1);
    const auto place = find_page(desk_.tray(), desk_.current_page().toStdString());
    save_->setEnabled(place && !desk_.saving());
    if (place) {
        const QString title = desk_.title_of(*desk_.tray().documents[place->document]);
        save_->setText(QFontMetrics(theme::strong()).elidedText(tr("Save"), Qt::ElideRight, 110));
        save_->setToolTip(tr("Save %1 (Ctrl+S)").arg(title));
        save_->setAccessibleName(tr("Save %1").arg(title));
    }
}

void MainWindow::say(const QString& words, bool bad, const QStringList& files) {
    const auto& c = theme::colours();
    const QColor mark = bad ? c.brick : c.moss;
    news_->setStyleSheet(
        QString("QFrame#news { background: %1; border-bottom: 1px solid %2; border-left: 3px solid %3; }")
            .arg(c.paper.name(), c.hairline.name(), mark.name()));
    news_words_->setText(QString("<span style='color:%1'><b>%2</b></span>&nbsp; %3")
                             .arg(mark.name(), bad ? "!" : "✓", words.toHtmlEscaped()));
    news_words_->setProperty("plain", words);
    for (int i : {0, 1}) {
        news_actions_[i]->setVisible(!files.isEmpty());
        news_actions_[i]->disconnect();
    }
    if (!files.isEmpty()) {
        connect(news_actions_[0], &QPushButton::clicked, this,
                [files] { QDesktopServices::openUrl(QUrl::fromLocalFile(files.front())); });
        connect(news_actions_[1], &QPushButton::clicked, this,
                [files] { QDesktopServices::openUrl(QUrl::fromLocalFile(QFileInfo(files.front()).absolutePath())); });
    }
    news_->show();
}

void MainWindow::press_scan() {
    if (desk_.scanning() || desk_.previewing()) return desk_.stop();
    news_->hide();
    if (const auto whole = desk_.larger_than_glass(); whole && table_->currentWidget() != stitch_) {
        if (!stitching_->is_open()) stitching_->begin_guided(whole);
        look_at(Look::Pieces);
    }
    table_->currentWidget() == stitch_ ? desk_.scan_piece() : desk_.start_scan();
}

void MainWindow::stitch_chosen() {
    if (!desk_.several_chosen())
        return say(tr("Choose the pages that are pieces of one thing (Ctrl and a press adds one), then stitch them."),
                   false);
    news_->hide();
    stitching_->begin(desk_.chosen());
    look_at(Look::Pieces);
}

void MainWindow::scan_in_pieces() {
    if (!stitching_->is_open()) stitching_->begin_guided();
    look_at(Look::Pieces);
}

void MainWindow::add_files() {
    const QStringList files = QFileDialog::getOpenFileNames(
        this, tr("Pictures and PDFs to add"), QDir::homePath(),
        tr("Pictures and PDFs (*.png *.jpg *.jpeg *.tif *.tiff *.bmp *.webp *.pdf);;All files (*)"));
    if (!files.isEmpty()) desk_.add_files(files);
}

QString MainWindow::current_document() const {
    const auto place = find_page(desk_.tray(), desk_.current_page().toStdString());
    return place ? QString::fromStdString(desk_.tray().documents[place->document]->id) : QString();
}

void MainWindow::save_current() {
    if (const QString id = current_document(); !id.isEmpty()) desk_.save({id});
}

void MainWindow::save_all() {
    QStringList ids;
    for (const auto& document : desk_.tray().documents) {
        if (document->saved_as.empty()) ids.append(QString::fromStdString(document->id));
    }
    if (!ids.isEmpty()) desk_.save(ids);
}

void MainWindow::choose_zoom() {
    auto* sheet = new PhraseSheet(this);
    sheet->add_row(tr("fit"), tr("the whole page (0)"), page_->zoom_words() == tr("fit"), [this] { page_->set_fit(); });
    sheet->add_row(tr("width"), tr("as wide as the view (W)"), page_->zoom_words() == tr("width"),
                   [this] { page_->set_fit_width(); });
    for (const int percent : {25, 50, 100, 200, 400}) {
        sheet->add_row(tr("%1 %").arg(percent), percent == 100 ? tr("dot by dot (1)") : QString(),
                       page_->zoom_words() == tr("%1 %").arg(percent),
                       [this, percent] { page_->set_zoom(percent / 100.0); });
    }
    sheet->add_row(tr("rulers"), tr("in mm or inches (R)"), page_->shows_rulers(),
                   [this] { page_->show_rulers(!page_->shows_rulers()); });
    sheet->add_advice(tr("Hold B for the page as scanned, L for a loupe. G shows a grid."));
    sheet->open_under({zoom_->mapToGlobal(QPoint(0, 0)), zoom_->size()});
}

void MainWindow::open_history() {
    auto* sheet = new PhraseSheet(this);
    sheet->setObjectName("history-sheet");
    if (desk_.can_redo())
        sheet->add_row(tr("redo %1").arg(desk_.redo_name()), "Ctrl+Shift+Z", false, [this] { desk_.redo(); });
    // The latest steps; one further up takes those after it back too.
    constexpr int shown = 8;
    const QStringList names = desk_.undo_names(shown);
    for (int i = 0; i < names.size(); ++i) {
        sheet->add_row(tr("undo %1").arg(names[i]), i == 0 ? QString("Ctrl+Z") : tr("%1 steps").arg(i + 1), false,
                       [this, i] {
                           for (int step = 0; step <= i; ++step) desk_.undo();
                       });
    }
    sheet->add_advice(tr("Steps are kept, across saving and after a restart."));
    sheet->open_under({steps_->mapToGlobal(QPoint(0, 0)), steps_->size()});
}

void MainWindow::close_news() { news_->hide(); }

void MainWindow::open_bench() {
    auto* sheet = new BenchSheet(desk_, this);
    sheet->open();
}

void MainWindow::open_blank_sheet() { (new BlankSheet(desk_, this))->open(); }

void MainWindow::print_separators() {
    bool wanted = false;
    const QString typed = QInputDialog::getMultiLineText(
        this, tr("Separator sheets"),
        tr("A line for each sheet. Its words name the document behind it; an empty line only separates."), {}, &wanted);
    if (!wanted) return;
    const QString file = QFileDialog::getSaveFileName(this, tr("The PDF to print"),
                                                      QDir::homePath() + "/Separators.pdf", tr("PDF (*.pdf)"));
    if (!file.isEmpty()) write_separators(file, typed.split('\n'));
}

bool MainWindow::write_separators(const QString& file, const QStringList& texts) {
    std::vector<std::string> lines;
    for (const QString& text : texts) lines.push_back(text.trimmed().toStdString());
    const std::filesystem::path path(file.toStdString());
    const auto saved = save_file(
        path.parent_path(), [&](int attempt) { return numbered_name(path.stem().string(), attempt) + ".pdf"; },
        [&](const std::filesystem::path& growing) { return write_separator_sheets(growing, lines); });
    if (saved)
        say(tr("Separator sheets are in %1").arg(QString::fromStdString(saved->path.filename().string())), false,
            {QString::fromStdString(saved->path.string())});
    else
        say(QString::fromStdString(saved.error().sentence), true);
    return saved.has_value();
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
    if (event->mimeData()->hasUrls()) event->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* event) {
    QStringList files;
    for (const QUrl& url : event->mimeData()->urls()) {
        if (url.isLocalFile() && !desk_.import_ticket(url.toLocalFile())) files.append(url.toLocalFile());
    }
    if (!files.isEmpty()) desk_.add_files(files);
}

}
