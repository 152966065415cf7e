#include "app/run/run_card.h"

#include "app/models/scanning/scanning.h"
#include "app/run/run_words.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QSpinBox>
#include <QVBoxLayout>

namespace yelvin {

using For = Waiting::For;

RunCard::RunCard(Scanning& run, QWidget* parent) : QFrame(parent), run_(run) {
    setObjectName("run");
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(18, 10, 12, 10);
    row->setSpacing(10);
    auto* text = new QVBoxLayout;
    text->setSpacing(2);
    title_ = new QLabel(this);
    title_->setObjectName("run-title");
    title_->setFont(theme::strong());
    words_ = new QLabel(this);
    words_->setObjectName("run-words");
    words_->setWordWrap(true);
    words_->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::MinimumExpanding);
    text->addWidget(title_);
    text->addWidget(words_);
    row->addLayout(text, 1);
    gap_ = new QSpinBox(this);
    gap_->setObjectName("run-gap");
    gap_->setPrefix(tr("sheet "));
    gap_->setAccessibleName(tr("sheet where a side is missing"));
    row->addWidget(gap_, 0, Qt::AlignVCenter);
    const auto button = [&](const char* name, theme::Kind kind) {
        auto* made = theme::button({}, kind, name, this);
        made->setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Fixed);
        row->addWidget(made, 0, Qt::AlignVCenter);
        return made;
    };
    third_ = button("run-third", theme::Kind::Link);
    second_ = button("run-second", theme::Kind::Link);
    main_ = button("run-main", theme::Kind::Plain);
    connect(main_, &QPushButton::clicked, this, [this] { run_.passing() ? run_.stop() : run_.go_on(); });
    connect(second_, &QPushButton::clicked, this, [this] {
        const Waiting waiting = run_.waiting();
        if (waiting.what == For::NextSheet && waiting.seconds_left >= 0)
            run_.pause_countdown(!waiting.paused);
        else if (waiting.can_keep)
            run_.keep_long_sheet();
        else
            run_.scan_again();
    });
    connect(third_, &QPushButton::clicked, &run_, &Scanning::stop);
    connect(gap_, &QSpinBox::valueChanged, &run_, &Scanning::set_gap);
    connect(&run_, &Scanning::changed, this, &RunCard::refresh);
    refresh();
}

void RunCard::set_button(QPushButton* button, const QString& words, const QString& tip) {
    button->setVisible(!words.isEmpty());
    button->setText(words);
    button->setToolTip(tip);
    button->setAccessibleName(words);
    button->setMinimumWidth(words.isEmpty() ? 0 : button->sizeHint().width());
}

void RunCard::refresh() {
    const bool waits = run_.waiting().what != For::Nothing, runs = run_.passing();
    setVisible(waits || runs);
    if (waits)
        show_waiting();
    else if (runs)
        show_progress();
    update();
}

void RunCard::show_progress() {
    const Progress& progress = run_.progress();
    gap_->hide();
    QStringList facts;
    if (progress.pages > 0)
        facts.append(progress.pages == 1 ? tr("1 page scanned") : tr("%1 pages scanned").arg(progress.pages));
    if (progress.sheets_waiting)
        facts.append(*progress.sheets_waiting == 1 ? tr("1 sheet to come")
                                                   : tr("%1 sheets to come").arg(*progress.sheets_waiting));
    if (progress.pages_a_minute > 0) facts.append(tr("%1 pages per minute").arg(std::lround(progress.pages_a_minute)));
    const bool stack = progress.from_stack;
    title_->setText(!stack                ? tr("Scanning the glass")
                    : progress.sheet == 0 ? tr("Feeding the first sheet")
                    : progress.back       ? tr("Sheet %1, back").arg(progress.sheet)
                                          : tr("Sheet %1, front").arg(progress.sheet));
    words_->setText(facts.isEmpty() ? tr("Scanned pages are kept when you stop.") : facts.join("  ·  "));
    set_button(main_, tr("Stop"), tr("Stop; scanned pages are kept (Esc)"));
    set_button(second_, {}, {});
    set_button(third_, {}, {});
}

void RunCard::show_waiting() {
    const Waiting& waiting = run_.waiting();
    words_->setText(words_of(waiting));
    gap_->setVisible(waiting.what == For::Counts);
    const QString finish = tr("finish here"), finish_tip = tr("Ends this scan; scanned pages are kept (Esc)");
    set_button(second_, {}, {});
    set_button(third_, finish, finish_tip);
    switch (waiting.what) {
    case For::Fault:
        title_->setText(waiting.can_keep ? tr("One sheet or two?") : tr("The scanner stopped"));
        set_button(main_, tr("Go on"), tr("Goes on with the sheet you put back (Ctrl+Enter)"));
        if (waiting.can_keep) set_button(second_, tr("it is one sheet"), tr("Keeps the long page and goes on"));
        break;
    case For::NextSheet:
        title_->setText(waiting.seconds_left < 0 ? tr("Next sheet?")
                        : waiting.paused         ? tr("Paused at %1 s").arg(waiting.seconds_left)
                                                 : tr("Next sheet in %1 s").arg(waiting.seconds_left));
        set_button(main_, tr("Scan now"), tr("Scans without waiting (Ctrl+Enter)"));
        if (waiting.seconds_left >= 0)
            set_button(second_, waiting.paused ? tr("go on") : tr("pause"), tr("Pauses or resumes the countdown"));
        break;
    case For::FirstSheet:
        title_->setText(tr("First sheet"));
        set_button(main_, tr("Scan the rest"), tr("Goes on with the current choices (Ctrl+Enter)"));
        set_button(second_, tr("try it again"), tr("Put the sheet back: it is scanned again with the current choices"));
        break;
    case For::Backs:
        title_->setText(tr("Now the backs"));
        set_button(main_, tr("Scan the backs"), tr("When the turned stack is in the feeder (Ctrl+Enter)"));
        set_button(third_, tr("keep fronts only"), finish_tip);
        break;
    case For::Counts: {
        title_->setText(tr("%1 fronts, %2 backs").arg(waiting.fronts).arg(waiting.backs));
        const QSignalBlocker quiet(gap_);
        gap_->setRange(1, std::max(waiting.fronts, waiting.backs) - std::abs(waiting.fronts - waiting.backs) + 1);
        gap_->setValue(waiting.gap);
        set_button(main_, tr("Keep this order"), tr("Keeps the order shown in the tray (Ctrl+Enter)"));
        set_button(second_, tr("scan the backs again"), tr("Put the turned stack in first"));
        set_button(third_, {}, {});
        break;
    }
    case For::Nothing:
        break;
    }
}

// The colour of the strip says how serious it is; the mark in it says the same without colour.
void RunCard::paintEvent(QPaintEvent*) {
    const auto& c = theme::colours();
    QPainter painter(this);
    const Waiting& waiting = run_.waiting();
    const QColor colour = waiting.what == For::Fault ? c.brick : waiting.what == For::Counts ? c.amber : c.plum;
    painter.fillRect(rect(), c.paper);
    painter.fillRect(QRect(0, 0, 5, height()), colour);
    painter.setPen(QPen(c.hairline, 1));
    painter.drawLine(0, height() - 1, width(), height() - 1);
    if (waiting.what == For::NextSheet && waiting.seconds_left >= 0) {
        const int whole = std::max(1, waiting.seconds_in_all);
        painter.fillRect(QRectF(0, height() - 3, width() * static_cast<double>(waiting.seconds_left) / whole, 3),
                         c.plum);
    }
}

}
