#include "app/ticketbar/ticket_bar.h"

#include "app/models/choice.h"
#include "app/models/glass.h"
#include "app/models/next_scan.h"
#include "app/models/scanners.h"
#include "app/models/scanning.h"
#include "app/models/tickets.h"
#include "app/theme/theme.h"
#include "app/ticketbar/phrase_sheet.h"
#include "app/ticketbar/sheets.h"
#include "app/ticketbar/wording.h"

#include <QApplication>
#include <QDrag>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMimeData>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <QScrollArea>
#include <QScrollBar>
#include <QTimer>
#include <QUrl>
#include <QVBoxLayout>

namespace yelvin {

// The ticket's name with its colour along the edge.
class TicketStub : public QAbstractButton {
  public:
    TicketStub(const TicketModels& models, QWidget* parent) : QAbstractButton(parent), models_(models) {
        setFixedWidth(176);
        setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Expanding);
        setFocusPolicy(Qt::StrongFocus);
        setCursor(Qt::PointingHandCursor);
        setObjectName("stub");
        setToolTip(QObject::tr("The tickets: choose, save, copy, rename (Ctrl+T)"));
        setShortcut(QKeySequence("Ctrl+T"));
    }

  protected:
    void paintEvent(QPaintEvent*) override {
        const auto& c = theme::colours();
        QPainter painter(this);
        painter.setFont(theme::measure());
        painter.setPen(c.quiet);
        painter.drawText(QRect(18, 12, width() - 24, 16), Qt::AlignVCenter, QObject::tr("Ticket"));
        const QString name = QString::fromStdString(models_.tickets.ticket().name);
        const QFontMetrics metrics(theme::title());
        const QString shown = metrics.elidedText(name, Qt::ElideRight, width() - 48);
        painter.setFont(theme::title());
        painter.setPen(hasFocus() || underMouse() ? c.plum : c.ink);
        painter.drawText(QRect(18, 30, width() - 24, 22), Qt::AlignVCenter, shown);
        theme::icon("down", hasFocus() || underMouse() ? c.plum : c.ink)
            .paint(&painter, 18 + metrics.horizontalAdvance(shown) + 5, 35, 13, 13);
        const bool kept = models_.tickets.is_kept(), changed = !models_.tickets.changed_since_kept().empty();
        const QString state = !kept     ? QObject::tr("not saved as a ticket")
                              : changed ? QObject::tr("changed since saved")
                                        : QObject::tr("saved");
        painter.setFont(theme::measure());
        painter.setPen(c.quiet);
        painter.drawText(QRect(18, 56, width() - 24, 16), Qt::AlignVCenter, state);
        setAccessibleName(QObject::tr("Ticket: %1, %2").arg(name, state));
    }
    void mousePressEvent(QMouseEvent* event) override {
        pressed_at_ = event->pos();
        QAbstractButton::mousePressEvent(event);
    }
    // Dragged out, it gives its file away.
    void mouseMoveEvent(QMouseEvent* event) override {
        const bool far = (event->pos() - pressed_at_).manhattanLength() > 3 * QApplication::startDragDistance();
        if (!(event->buttons() & Qt::LeftButton) || !far || !models_.tickets.as_kept()) return;
        setDown(false);
        auto* drag = new QDrag(this);
        auto* file = new QMimeData;
        file->setUrls({QUrl::fromLocalFile(models_.tickets.chosen_file())});
        drag->setMimeData(file);
        drag->exec(Qt::CopyAction);
    }

  private:
    TicketModels models_;
    QPoint pressed_at_;
};

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
    scroll->verticalScrollBar()->setSingleStep(25);
    sentence_ = new Sentence(scroll);
    scroll->setWidget(sentence_);
    sentence_->setAutoFillBackground(false);
    auto* holder = new QVBoxLayout;
    holder->setContentsMargins(18, 10, 14, 8);
    holder->addWidget(scroll);
    row->addLayout(holder, 1);
    row->addSpacing(theme::margin);
    auto* right = new QVBoxLayout;
    right->setSpacing(4);
    scan_ = new QPushButton(tr("Scan"), this);
    scan_->setProperty("kind", "main");
    scan_->setObjectName("scan");
    scan_->setFixedWidth(132);
    scan_->setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Expanding);
    right->addWidget(scan_);
    state_ = new QLabel(this);
    state_->setProperty("quiet", true);
    state_->setAlignment(Qt::AlignCenter);
    state_->setFixedWidth(132);
    state_->setWordWrap(true);
    right->addWidget(state_);
    row->addLayout(right);
    setFixedHeight(theme::bar_height);

    connect(stub_, &QAbstractButton::clicked, this, [this] { open_stub_sheet({}); });
    connect(scan_, &QPushButton::clicked, this, &TicketBar::scan_pressed);
    connect(sentence_, &Sentence::pressed, this, &TicketBar::open_sheet);
    connect(&models_.tickets, &Tickets::changed, this, &TicketBar::refresh);
    connect(&models_.glass, &Glass::changed, this, &TicketBar::refresh);
    connect(&models_.scanners, &Scanners::changed, this, &TicketBar::refresh);
    connect(&models_.choice, &Choice::changed, this, &TicketBar::refresh);
    connect(&models_.scanners, &Scanners::lease_changed, this, &TicketBar::refresh_state);
    connect(&run_, &Scanning::changed, this, &TicketBar::refresh_state);
    connect(&models_.scanners, &Scanners::list_changed, this, [this] {
        if (!open_ || open_key_ != "scanner" || models_.scanners.looking()) return;
        refilling_ = true;
        open_->close();
        open_sheet(open_key_, anchor_);
        refilling_ = false;
    });
    refresh();
}

void TicketBar::refresh() {
    sentence_->set(wording::pattern(), wording::phrases(models_));
    stub_->update();
    refresh_state();
}

void TicketBar::refresh_state() {
    const bool running = run_.passing() || models_.scanners.in_use();
    const bool waits = run_.waiting().what != Waiting::For::Nothing;
    scan_->setText(running ? tr("Stop") : waits ? tr("Go on") : tr("Scan"));
    scan_->setEnabled(models_.scanners.chosen());
    scan_->setToolTip(running ? tr("Stop; pages that are in are kept (Esc)")
                      : waits ? tr("Go on with this run (Ctrl+Enter)")
                              : tr("Scan (Ctrl+Enter)"));
    const auto& c = theme::colours();
    const QString state = run_.passing()              ? tr("scanning")
                          : models_.scanners.in_use() ? tr("previewing")
                                                      : models_.scanners.state_words(models_.next_scan.source());
    const bool ready = state.startsWith(QString::fromUtf8(state_words(ScannerState::Ready).data()));
    const QColor mark = !models_.scanners.chosen() ? c.brick : running || !ready ? c.amber : c.moss;
    state_->setText(QString("<span style='color:%1'>●</span> %2").arg(mark.name(), state.toHtmlEscaped()));
}

void TicketBar::paintEvent(QPaintEvent*) {
    const auto& c = theme::colours();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QRectF card(0.5, 0.5, width() - 132 - theme::margin - 1, height() - 1);
    const double fold = stub_->width(), notch = 6;
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
    painter.fillRect(QRectF(0, 0, 6, height()),
                     theme::ticket_colour(QString::fromStdString(models_.tickets.ticket().colour)));
    painter.restore();
}

void TicketBar::open_phrase(const QString& key) {
    if (key == "tickets" || key == "keep-as") return open_stub_sheet(key == "keep-as" ? "ticket-copy" : QString());
    QRect rect = sentence_->phrase_rect(key);
    // A rare choice that is not set has no place in the sentence.
    if (rect.isEmpty()) rect = sentence_->phrase_rect("and");
    open_sheet(key, {sentence_->mapToGlobal(rect.topLeft()), rect.size()});
}

void TicketBar::open_sheet(const QString& key, const QRect& anchor) {
    // Looked for anew whenever somebody opens the list; what is found then comes into it.
    if (key == "scanner" && !refilling_) models_.scanners.look_for();
    auto* sheet = new PhraseSheet(this);
    const auto later = [this](const char* phrase) {
        return [this, phrase] { QTimer::singleShot(0, this, [this, phrase] { open_phrase(phrase); }); };
    };
    sheets::fill(*sheet, key, models_,
                 {[this] { emit bench_wanted(); }, later("more"), [this] { emit blank_sheet_wanted(); },
                  [this] { emit separators_wanted(); }, [this] { emit strip_wanted(); }, later("quality")});
    sentence_->set_open(key);
    connect(sheet, &QObject::destroyed, sentence_, [this] { sentence_->set_open({}); });
    open_ = sheet;
    open_key_ = key;
    anchor_ = anchor;
    sheet->open_under(anchor);
}

void TicketBar::open_stub_sheet(const QString& focus) {
    auto* sheet = new PhraseSheet(this);
    sheets::fill_tickets(*sheet, models_);
    open_ = sheet;
    open_key_ = "tickets";
    sheet->open_under({stub_->mapToGlobal(QPoint(14, 46)), QSize(10, 10)});
    if (auto* edit = sheet->findChild<QLineEdit*>(focus); edit && !focus.isEmpty()) {
        edit->setFocus();
        edit->selectAll();
    }
}

}
