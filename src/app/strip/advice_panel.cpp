#include "app/strip/advice_panel.h"

#include "app/models/scanning/strip_model.h"
#include "app/models/tickets/tickets.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "app/ticketbar/wording.h"

#include <QCoreApplication>
#include <QFrame>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

namespace yelvin {

namespace {
struct AdviceText {
    Q_DECLARE_TR_FUNCTIONS(AdviceText)
};
}

QString advice_title(const StripAdvice& advice) {
    QString ink = wording::ink(advice.ink);
    ink[0] = ink[0].toUpper();
    return AdviceText::tr("%1 at %2 dpi").arg(ink).arg(advice.dpi);
}

namespace {
// "a fifteenth of the size", "10 times the size"
QString ratio_words(double ratio) {
    if (ratio <= 0) return AdviceText::tr("another size");
    if (ratio > 0.85 && ratio < 1.2) return AdviceText::tr("about the same size");
    if (ratio < 1) return AdviceText::tr("1/%1 of the size").arg(std::max(2L, std::lround(1 / ratio)));
    return ratio < 2 ? AdviceText::tr("%1 times the size").arg(ratio, 0, 'f', 1)
                     : AdviceText::tr("%1 times the size").arg(std::lround(ratio));
}
}

QString advice_reason(const StripAdvice& advice) {
    using Reason = StripAdvice::Reason;
    switch (advice.reason) {
    case Reason::SmallestThatReads:
        return advice.ink == Ink::Black
                   ? AdviceText::tr("the smallest at which this page's text stays readable and no mark is lost")
               : advice.ink == Ink::Grey
                   ? AdviceText::tr("the smallest at which the text stays readable and faint marks stay")
                   : AdviceText::tr("the smallest at which the text stays readable and the colours stay");
    case Reason::Photograph:
        return advice.dpi >= 600 ? AdviceText::tr("a small photograph: it can be printed twice as large")
                                 : AdviceText::tr("a photograph: enough to print it at its own size");
    case Reason::NoWords:
        return AdviceText::tr("no text on it: the usual choice");
    case Reason::BlackLosesFaint:
        return AdviceText::tr("%1; pencil, stamps or tones are lost").arg(ratio_words(advice.size_ratio));
    case Reason::BlackLosesNothing:
        return AdviceText::tr("%1; letters get hard edges").arg(ratio_words(advice.size_ratio));
    case Reason::GreyLosesColour:
        return AdviceText::tr("%1; colours become grey").arg(ratio_words(advice.size_ratio));
    case Reason::NothingMore:
        break;
    }
    return AdviceText::tr("no easier to read; %1").arg(ratio_words(advice.size_ratio));
}

AdvicePanel::AdvicePanel(StripModel& strip, Tickets& tickets, QWidget* parent)
    : QWidget(parent), strip_(strip), tickets_(tickets) {
    setFixedWidth(theme::side_width);
    setObjectName("advice-panel");
    column_ = new QVBoxLayout(this);
    column_->setContentsMargins(14, 13, 14, 14);
    column_->setSpacing(0);
    connect(&strip_, &StripModel::changed, this, &AdvicePanel::refresh);
    connect(&tickets_, &Tickets::changed, this, &AdvicePanel::refresh);
    refresh();
}

void AdvicePanel::refresh() {
    if (!isVisible()) return;
    const theme::FocusKept focus(this);
    theme::clear(column_);
    const Strip& strip = strip_.strip();
    auto* title = new QLabel(QString("<b>%1</b>").arg(tr("Recommendation")), this);
    title->setContentsMargins(0, 0, 0, 10);
    column_->addWidget(title);
    const auto quiet = [&](const QString& words) {
        auto* label = new QLabel(words, this);
        label->setProperty("quiet", true);
        label->setWordWrap(true);
        label->setObjectName("advice-words");
        column_->addWidget(label);
    };
    if (strip.best.empty())
        quiet(tr("After a test strip, you see a recommendation here, with its reason."));
    else if (strip.advice.empty())
        quiet(tr("Comparing sizes and reading… %1 left").arg(strip.left));
    for (size_t i = 0; i < strip.advice.size(); ++i) add_entry(strip.advice[i], i);
    if (!strip.best.empty()) {
        column_->addSpacing(10);
        quiet(tr("Sizes are of the saved file with this page alone. Drag a picture to move the detail, turn the wheel "
                 "to zoom, double-click one to use it."));
    }
    column_->addStretch();
}

// Adds one entry. The entry with index 0 is marked as recommended.
void AdvicePanel::add_entry(const StripAdvice& advice, size_t i) {
    const Ticket& ticket = tickets_.ticket();
    const auto& c = theme::colours();
    auto* entry = new QWidget(this);
    auto* row = new QHBoxLayout(entry);
    row->setContentsMargins(0, 9, 0, 9);
    row->setSpacing(8);
    auto* mark = new QLabel(entry);
    mark->setFixedWidth(14);
    mark->setAlignment(Qt::AlignTop);
    if (i == 0) mark->setPixmap(theme::icon("check", c.moss).pixmap(13, 13));
    row->addWidget(mark);
    auto* words = new QVBoxLayout;
    words->setSpacing(2);
    auto* what = new QLabel(advice_title(advice), entry);
    what->setFont(theme::strong());
    words->addWidget(what);
    auto* why = new QLabel(advice_reason(advice), entry);
    why->setProperty("quiet", true);
    why->setWordWrap(true);
    words->addWidget(why);
    row->addLayout(words, 1);
    const bool in_use = !ticket.how.dpi_auto && ticket.how.dpi == advice.dpi && ticket.how.ink == advice.ink;
    if (in_use) {
        auto* used = new QLabel(tr("in use"), entry);
        used->setProperty("quiet", true);
        row->addWidget(used, 0, Qt::AlignTop);
    } else {
        auto* use = theme::link(tr("use"), QString("use-advice:%1").arg(i), entry);
        use->setAccessibleName(tr("use %1").arg(advice_title(advice)));
        connect(use, &QPushButton::clicked, this, [this, advice] { strip_.use(advice.dpi, advice.ink); });
        row->addWidget(use, 0, Qt::AlignTop);
    }
    column_->addWidget(theme::hairline(this));
    column_->addWidget(entry);
}

}
