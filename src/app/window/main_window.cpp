#include "app/window/main_window.h"

#include "app/bench/bench_sheet.h"
#include "app/bench/papers.h"
#include "app/cabinet/cabinet_view.h"
#include "app/errands/print_look.h"
#include "app/glass/glass_view.h"
#include "app/keys.h"
#include "app/models/errands/closing.h"
#include "app/models/errands/errands.h"
#include "app/models/saving/saving.h"
#include "app/models/scanning/next_page.h"
#include "app/models/scanning/next_scan.h"
#include "app/models/scanning/scanners.h"
#include "app/models/scanning/scanning.h"
#include "app/models/scanning/stitching.h"
#include "app/models/threads/apart.h"
#include "app/models/tickets/tickets.h"
#include "app/models/tray/choice.h"
#include "app/models/tray/incoming.h"
#include "app/models/tray/out_tray.h"
#include "app/models/tray/page_edits.h"
#include "app/models/window/room.h"
#include "app/one_window.h"
#include "app/page/page_view.h"
#include "app/run/blank_sheet.h"
#include "app/run/question_card.h"
#include "app/stitch/stitch_view.h"
#include "app/text/text_look.h"
#include "app/theme/theme.h"
#include "app/ticketbar/document_sheets.h"
#include "app/ticketbar/ticket_bar.h"
#include "app/ticketbar/ticket_buttons.h"
#include "app/tray/tray_strip.h"
#include "app/window/news_bar.h"
#include "app/window/page_keys.h"
#include "app/window/separators.h"
#include "app/window/tray_foot.h"
#include "app/window/tray_panel.h"
#include "app/window/view.h"

#include <QCloseEvent>
#include <QDir>
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QMimeData>
#include <QPushButton>
#include <QShortcut>
#include <QTimer>
#include <QVBoxLayout>

namespace yelvin {

MainWindow::MainWindow(const WindowModels& models) : models_(models) {
    setWindowTitle("Yelvin");
    setAcceptDrops(true);
    auto* central = new QWidget(this);
    central->setObjectName("desk");
    setCentralWidget(central);
    auto* column = new QVBoxLayout(central);
    column->setContentsMargins(theme::margin, theme::gap, theme::margin, 0);
    column->setSpacing(0);
    bar_ = new TicketBar(models_.for_ticket(), models_.scan.run, this);
    view_ = new View(models_, this);
    tray_ = new TrayPanel(models_.for_tray(), models_.room, this);
    column->addWidget(bar_);
    buttons_ = new TicketButtons(models_.scan.tickets, this);
    column->addWidget(buttons_);
    column->addSpacing(theme::gap);
    column->addWidget(view_, 1);
    column->addWidget(tray_);
    setMinimumSize(1024, 640);
    resize(1280, 800);
    join();
    join_room();
    make_keys();
    new PageKeys(*view_, models_.pages.choice, models_.pages.edits); // A child of the view, which deletes it.
    look_at(models_.pages.choice.current_id().isEmpty() ? Look::Glass : Look::Page);
    connect(&models_.pages.tray, &OutTray::loaded, this, [this] {
        if (!models_.pages.choice.current_id().isEmpty()) look_at(Look::Page);
    });
    central->setFocusPolicy(Qt::ClickFocus); // No widget shows a focus frame until the user presses a key.
    central->setFocus();
}

void MainWindow::join() {
    connect(&models_.files.closing, &Closing::ready, this, &QWidget::close);
    connect(bar_, &TicketBar::scan_pressed, this, &MainWindow::press_scan);
    connect(&models_.files.errands, &Errands::look_wanted, this, [this](const QString& document) {
        open_print_look({models_.files.errands, models_.pages.tray, models_.pages.pictures}, document, this);
    });
    connect(buttons_, &TicketButtons::scan_wanted, this, &MainWindow::scan_with);
    connect(bar_, &TicketBar::bench_wanted, this, &MainWindow::open_bench);
    connect(bar_, &TicketBar::blank_sheet_wanted, this, &MainWindow::open_blank_sheet);
    connect(bar_, &TicketBar::strip_wanted, this, [this] { look_at(Look::Strip); });
    connect(bar_, &TicketBar::separators_wanted, this, [this] {
        ask_for_separators(this,
                           [this](const QString& file, const QStringList& texts) { write_separators(file, texts); });
    });
    connect(view_, &View::add_files_wanted, this, &MainWindow::add_files);
    connect(view_, &View::pieces_wanted, this, &MainWindow::scan_in_pieces);
    connect(&tray_->strip(), &TrayStrip::stitch_wanted, this, &MainWindow::stitch_chosen);
    connect(&tray_->strip(), &TrayStrip::page_chosen, this, [this] {
        if (view_->look() != Look::Text) look_at(Look::Page);
    });
    connect(&tray_->strip(), &TrayStrip::dropped, this, &MainWindow::take_dropped);
    connect(&tray_->strip(), &TrayStrip::question_wanted, view_, &View::go_to_question);
    connect(&tray_->strip(), &TrayStrip::ticket_wanted, new DocumentSheets(models_.for_ticket(), this),
            &DocumentSheets::open);
    connect(&tray_->strip(), &TrayStrip::said, this,
            [this](const QString& words) { view_->news().say(words, NewsBar::News::Good); });
    // As the user would do with a real map between two scans.
    connect(&models_.scan.run, &Scanning::piece_scanned, this, [this] { lay_next_part(models_.scan.scanners); });
}

// Everything around the view can be hidden.
void MainWindow::join_room() {
    const auto stand = [this] {
        tray_->stand_beside(view_->look() == Look::Page || view_->look() == Look::Text ? Room::Beside::Page
                                                                                       : Room::Beside::TheRest);
    };
    const auto follow = [this] {
        const bool alone = models_.room.is_view_alone();
        bar_->setVisible(!alone);
        buttons_->setVisible(!alone && !models_.scan.tickets.buttons().isEmpty());
        tray_->setVisible(!alone);
        auto* column = static_cast<QVBoxLayout*>(centralWidget()->layout());
        column->setContentsMargins(alone ? 0 : theme::margin, alone ? 0 : theme::gap, alone ? 0 : theme::margin, 0);
    };
    connect(view_, &View::look_changed, this, stand);
    connect(&models_.room, &Room::changed, this, follow);
    stand();
    follow();
}

void MainWindow::look_at(Look look) { view_->look_at(look); }
PageView& MainWindow::page_view() { return view_->page(); }
TextLook& MainWindow::text_look() { return view_->text(); }
NoticedPanel& MainWindow::noticed() { return view_->noticed(); }
TrayStrip& MainWindow::tray_strip() { return tray_->strip(); }
StitchView& MainWindow::stitch_view() { return view_->pieces(); }
void MainWindow::open_cabinet() { view_->open_cabinet(); }
CabinetView& MainWindow::cabinet() { return view_->cabinet(); }
void MainWindow::close_news() { view_->news().hide(); }

// ---- scanning

void MainWindow::press_scan() {
    if (models_.scan.run.passing() || models_.scan.scanners.in_use()) return models_.scan.run.stop();
    close_news();
    if (const auto whole = models_.scan.next_scan.larger_than_glass(); whole && view_->look() != Look::Pieces) {
        if (!models_.pages.stitching.is_open()) models_.pages.stitching.begin_guided(whole);
        look_at(Look::Pieces);
    }
    if (view_->look() != Look::Pieces) return models_.scan.run.start();
    const auto& pieces = models_.pages.stitching.pieces();
    models_.scan.run.scan_piece(pieces.empty() ? QString() : QString::fromStdString(pieces.back().page->id));
}

void MainWindow::stitch_chosen() {
    if (!models_.pages.choice.several())
        return view_->news().say(tr("Select the pages that belong together (Ctrl+click adds one), then stitch them."),
                                 NewsBar::News::Good);
    close_news();
    models_.pages.stitching.begin(models_.pages.choice.chosen());
    look_at(Look::Pieces);
}

void MainWindow::scan_in_pieces() {
    if (!models_.pages.stitching.is_open()) models_.pages.stitching.begin_guided();
    look_at(Look::Pieces);
}

void MainWindow::open_bench() {
    (new BenchSheet(models_.scan.scanners, models_.scan.next_scan.source(), models_.scan.originals, this))->open();
}

void MainWindow::open_blank_sheet() {
    (new BlankSheet(models_.scan.run, models_.pages.pictures, models_.scan.tickets, this))->open();
}

// Not during a run, because its ticket would change.
void MainWindow::scan_with(const QString& ticket_file) {
    if (models_.scan.run.passing() || models_.scan.scanners.in_use() ||
        models_.scan.run.waiting().what != Waiting::For::Nothing)
        return models_.messages.complain(tr("A scan is running; click the ticket's button when it is done."));
    if (models_.scan.tickets.choose(ticket_file)) press_scan();
}

void MainWindow::fulfil(const Wish& wish) {
    if (!wish.files.isEmpty()) models_.scan.incoming.add(wish.files);
    if (!wish.ticket.isEmpty() && !models_.scan.tickets.choose_named(wish.ticket)) return;
    if (wish.scan) models_.pages.tray.when_loaded([this] { scan_when_ready(); });
}

// Right after the start, the search for scanners is still running.
void MainWindow::scan_when_ready() {
    const Scanners& scanners = models_.scan.scanners;
    if (scanners.chosen() || (!scanners.looking() && scanners.connecting_to().isEmpty())) return press_scan();
    auto* once = new QObject(this);
    const auto again = [this, once, said = std::make_shared<bool>(false)] {
        if (std::exchange(*said, true)) return; // Both signals may arrive.
        once->deleteLater();
        QTimer::singleShot(0, this, [this] { scan_when_ready(); });
    };
    connect(&scanners, &Scanners::list_changed, once, again);
    connect(&scanners, &Scanners::changed, once, again);
}

void MainWindow::come_forward() {
    setWindowState(windowState() & ~Qt::WindowMinimized);
    show();
    raise();
    activateWindow();
}

// ---- files

void MainWindow::add_files() {
    const QStringList files = QFileDialog::getOpenFileNames(
        this, tr("Add pictures and PDFs"), QDir::homePath(),
        tr("Pictures and PDFs (*.png *.jpg *.jpeg *.tif *.tiff *.bmp *.webp *.pdf);;All files (*)"));
    if (!files.isEmpty()) models_.scan.incoming.add(files);
}

void MainWindow::write_separators(const QString& file, const QStringList& texts) {
    std::vector<std::string> lines;
    for (const QString& text : texts) lines.push_back(text.trimmed().toStdString());
    const auto written = [this](const Result<std::filesystem::path>& path) {
        if (!path) return view_->news().say(QString::fromStdString(path.error().sentence), NewsBar::News::Bad);
        view_->news().say(
            tr("The separator sheets were saved in %1.").arg(QString::fromStdString(path->filename().string())),
            NewsBar::News::Good, {QString::fromStdString(path->string())});
    };
    const auto write = [lines, path = std::filesystem::path(file.toStdString())] {
        return save_separators(path, lines);
    };
    apart(this, "writing separator sheets", write, written);
}

void MainWindow::closeEvent(QCloseEvent* event) { event->setAccepted(models_.files.closing.ask()); }

void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
    const bool own = event->source() != nullptr; // on its way to another program's window
    if (!own && event->mimeData()->hasUrls()) event->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* event) { take_dropped(event->mimeData()->urls()); }

void MainWindow::take_dropped(const QList<QUrl>& urls) {
    QStringList files;
    for (const QUrl& url : urls) {
        if (url.isLocalFile() && !models_.scan.tickets.import(url.toLocalFile())) files.append(url.toLocalFile());
    }
    if (!files.isEmpty()) models_.scan.incoming.add(files);
}

}
