#include "app/ticketbar/ticket_bar.h"

#include "app/keys.h"
#include "app/models/errands/errands.h"
#include "app/models/naming/folders.h"
#include "app/models/naming/papers.h"
#include "app/models/scanning/glass.h"
#include "app/models/scanning/next_page.h"
#include "app/models/scanning/next_scan.h"
#include "app/models/scanning/scanners.h"
#include "app/models/scanning/scanning.h"
#include "app/models/text/reading.h"
#include "app/models/tickets/growing_files.h"
#include "app/models/tickets/tickets.h"
#include "app/models/tray/choice.h"
#include "app/models/tray/document_tickets.h"
#include "app/models/tray/out_tray.h"
#include "app/theme/parts.h"
#include "app/theme/phrase_sheet.h"
#include "app/theme/theme.h"
#include "app/ticketbar/scan_button.h"
#include "app/ticketbar/sheets.h"
#include "app/ticketbar/ticket_stub.h"
#include "app/ticketbar/wording.h"

#include <QHBoxLayout>
#include <QLineEdit>
#include <QPainter>
#include <QPainterPath>
#include <QScrollArea>
#include <QScrollBar>
#include <QTimer>
#include <QVBoxLayout>

namespace yelvin {

namespace {
constexpr int scan_width = 132, most_lines = 3, words_left = 16, words_right = 12, words_above = 8, words_below = 6,
              lands_height = 17, least_height = 56;
}

TicketBar::TicketBar(const TicketModels& models, Scanning& run, QWidget* parent)
    : QWidget(parent), models_(models), run_(run) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    stub_ = new TicketStub(models, this);
    row->addWidget(stub_);
    auto* scroll = new QScrollArea(this);
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setFocusPolicy(Qt::NoFocus);
    scroll->viewport()->setAutoFillBackground(false);
    scroll->verticalScrollBar()->setSingleStep(Sentence::line_height);
    sentence_ = new Sentence(scroll);
    scroll->setWidget(sentence_);
    sentence_->setAutoFillBackground(false);
    auto* holder = new QVBoxLayout;
    holder->setContentsMargins(words_left, words_above, words_right, words_below);
    holder->addWidget(scroll);
    row->addLayout(holder, 1);
    row->addSpacing(theme::margin);
    scan_ = new ScanButton(this);
    scan_->setFixedWidth(scan_width);
    lands_ = theme::link({}, "lands", this);
    lands_->setFixedSize(scan_width, lands_height);
    auto* at_right = new QVBoxLayout;
    at_right->setSpacing(0);
    at_right->addWidget(scan_, 1);
    at_right->addWidget(lands_);
    row->addLayout(at_right);

    connect(stub_, &QAbstractButton::clicked, this, [this] { open_stub_sheet({}); });
    connect(scan_, &QPushButton::clicked, this, &TicketBar::scan_pressed);
    connect(lands_, &QPushButton::clicked, this, [this] { models_.next_page.change(); });
    connect(&models_.tray, &OutTray::changed, this, &TicketBar::refresh_landing);
    connect(&models_.papers, &Papers::changed, this, &TicketBar::refresh_landing);
    connect(&models_.document_tickets, &DocumentTickets::changed, this, &TicketBar::refresh_landing);
    connect(sentence_, &Sentence::pressed, this, &TicketBar::open_sheet);
    connect(&models_.tickets, &Tickets::changed, this, &TicketBar::refresh);
    connect(&models_.glass, &Glass::changed, this, &TicketBar::refresh);
    connect(&models_.scanners, &Scanners::changed, this, &TicketBar::refresh);
    connect(&models_.choice, &Choice::changed, this, &TicketBar::refresh);
    connect(&models_.errands, &Errands::used_changed, this, &TicketBar::refresh);
    connect(&models_.folders, &Folders::changed, this, &TicketBar::refresh);
    connect(&models_.growing, &GrowingFiles::changed, this, &TicketBar::refresh);
    connect(&models_.scanners, &Scanners::lease_changed, this, &TicketBar::refresh_state);
    connect(&run_, &Scanning::changed, this, &TicketBar::refresh_state);
    connect(&models_.scanners, &Scanners::list_changed, this, [this] {
        if (!models_.scanners.looking()) refill("scanner");
    });
    connect(&models_.reading, &Reading::languages_found, this, [this] { refill("read"); });
    refresh();
}

void TicketBar::refill(const char* key) {
    if (!open_ || open_key_ != key) return;
    refilling_ = true;
    open_->close();
    open_sheet(key, anchor_);
    refilling_ = false;
}

// As high as the sentence; if it has more than three lines, it scrolls line by line.
void TicketBar::fit_height() {
    const int wide = width() - stub_->width() - words_left - words_right - theme::margin - scan_width;
    const int lines = std::clamp(sentence_->heightForWidth(wide) / Sentence::line_height, 1, most_lines);
    setFixedHeight(std::max(least_height, lines * Sentence::line_height + words_above + words_below));
}

void TicketBar::resizeEvent(QResizeEvent*) { fit_height(); }

void TicketBar::refresh() {
    sentence_->set(wording::pattern(), wording::phrases(models_));
    fit_height();
    stub_->update();
    refresh_state();
    refresh_landing();
}

void TicketBar::refresh_state() {
    const bool running = run_.passing() || models_.scanners.in_use();
    const bool waits = run_.waiting().what != Waiting::For::Nothing;
    scan_->setEnabled(models_.scanners.chosen());
    scan_->setToolTip(running ? tr("Stop; scanned pages are kept (Esc)")
                      : waits ? tr("Go on with this scan (Ctrl+Enter)")
                              : tr("Scan (Ctrl+Enter)"));
    const QString state = run_.passing()              ? tr("scanning")
                          : models_.scanners.in_use() ? tr("previewing")
                                                      : models_.scanners.state_words(models_.next_scan.source());
    const bool ready = !run_.passing() && models_.scanners.is_ready(models_.next_scan.source());
    scan_->say(running ? tr("Stop")
               : waits ? tr("Go on")
                       : tr("Scan"),
               state,
               running                       ? ScanButton::State::Busy
               : ready && scan_->isEnabled() ? ScanButton::State::Ready
                                             : ScanButton::State::Wrong);
}

void TicketBar::refresh_landing() {
    const QString words = models_.next_page.words();
    lands_->ensurePolished(); // Applies the style's font before it is measured.
    const QFontMetrics letters = lands_->fontMetrics();
    const int room =
        scan_width - 10 - letters.horizontalAdvance(models_.next_page.words([](const QString&) { return QString(); }));
    lands_->setText(models_.next_page.words([&](const QString& name) {
        return letters.elidedText(name, Qt::ElideLeft, room); // its number stands at the end
    }));
    lands_->setAccessibleName(tr("Next page: %1").arg(words));
    lands_->setToolTip(with_key(models_.next_page.advice(), Do::NextStarts) +
                       (words == lands_->text() ? "" : "\n" + words));
    lands_->setEnabled(models_.next_page.can_change());
}

void TicketBar::paintEvent(QPaintEvent*) {
    const auto& c = theme::colours();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QRectF card(0.5, 0.5, width() - scan_width - theme::margin - 1, height() - 1);
    const double fold = stub_->width(), notch = 5;
    QPainterPath shape;
    shape.addRoundedRect(card, theme::corner, theme::corner);
    QPainterPath holes;
    holes.addEllipse(QPointF(fold, card.top()), notch, notch);
    holes.addEllipse(QPointF(fold, card.bottom()), notch, notch);
    shape = shape.subtracted(holes);
    painter.setPen(QPen(c.hairline, 1));
    painter.setBrush(c.paper);
    painter.drawPath(shape);
    painter.setPen(QPen(c.hairline, 1, Qt::DashLine));
    painter.drawLine(QPointF(fold, card.top() + notch + 3), QPointF(fold, card.bottom() - notch - 3));
    painter.save();
    painter.setClipPath(shape);
    painter.fillRect(QRectF(0, 0, 5, height()),
                     theme::ticket_colour(QString::fromStdString(models_.tickets.ticket().colour)));
    painter.restore();
}

void TicketBar::open_phrase(const QString& key) {
    if (key == "tickets" || key == "keep-as") return open_stub_sheet(key == "keep-as" ? "ticket-copy" : QString());
    // A sheet that is opened from another one takes its place.
    static const QHash<QString, QString> led_to_from{
        {"other-formats", "make"}, {"file", "make"}, {"protection", "make"}, {"properties", "make"},
        {"stamp", "make"},         {"also", "make"}, {"uses", "then"},       {"growth", "make"}};
    QRect rect = sentence_->phrase_rect(led_to_from.value(key, key));
    // A rarely needed choice that is not set has no place in the sentence.
    if (rect.isEmpty()) rect = sentence_->phrase_rect("and");
    open_sheet(key, {sentence_->mapToGlobal(rect.topLeft()), rect.size()});
}

void TicketBar::open_sheet(const QString& key, const QRect& anchor) {
    // Scanners are searched for each time the list is opened; those that are found are added to it.
    if (key == "scanner" && !refilling_) models_.scanners.look_for();
    auto* sheet = new PhraseSheet(this);
    const auto later = [this](const char* phrase) {
        return [this, phrase] { QTimer::singleShot(0, this, [this, phrase] { open_phrase(phrase); }); };
    };
    sheets::Doors doors = sheets::doors_to(later);
    doors.bench = [this] { emit bench_wanted(); };
    doors.more = later("more");
    doors.blank = [this] { emit blank_sheet_wanted(); };
    doors.separators = [this] { emit separators_wanted(); };
    doors.strip = [this] { emit strip_wanted(); };
    sheets::fill(*sheet, key, models_, doors);
    sentence_->set_open(key);
    connect(sheet, &QObject::destroyed, sentence_, [this] { sentence_->set_open({}); });
    open_ = sheet;
    open_key_ = key;
    anchor_ = anchor;
    sheet->open_under(anchor);
}

QRect TicketBar::under_stub() const { return {stub_->mapToGlobal(QPoint(12, stub_->height() - 10)), QSize(10, 10)}; }

// The sheets that are opened from the sheet of the tickets.
void TicketBar::open_under_stub(const char* name, const std::function<void(PhraseSheet&)>& fill) {
    auto* sheet = new PhraseSheet(this);
    sheet->setObjectName(name);
    fill(*sheet);
    open_ = sheet;
    open_key_.clear();
    sheet->open_under(under_stub());
}

void TicketBar::open_stub_sheet(const QString& focus) {
    auto* sheet = new PhraseSheet(this);
    sheets::Doors doors;
    const auto later = [this](const char* name, const std::function<void(PhraseSheet&)>& fill) {
        return [this, name, fill] { QTimer::singleShot(0, this, [this, name, fill] { open_under_stub(name, fill); }); };
    };
    doors.scan_as = later("scan-as-sheet", [this](PhraseSheet& to) { sheets::fill_like(to, models_, true); });
    doors.make_as = later("make-as-sheet", [this](PhraseSheet& to) { sheets::fill_like(to, models_, false); });
    doors.ticket_more = later("ticket-more-sheet", [this](PhraseSheet& to) { sheets::fill_ticket_more(to, models_); });
    sheets::fill_tickets(*sheet, models_, doors);
    open_ = sheet;
    open_key_ = "tickets";
    sheet->open_under(under_stub());
    if (auto* edit = sheet->findChild<QLineEdit*>(focus); edit && !focus.isEmpty()) {
        edit->setFocus();
        edit->selectAll();
    }
}

}
