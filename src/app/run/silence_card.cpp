#include "app/run/silence_card.h"

#include "app/models/scanning/scanners.h"

#include <QLabel>
#include <QPushButton>

namespace yelvin {

SilenceCard::SilenceCard(Scanners& scanners, QWidget* parent)
    : QuestionCard("silence-card", parent), scanners_(scanners) {
    auto* wait = add_link(tr("keep waiting"), "silence-card-wait");
    wait->setToolTip(tr("Asks again if it takes twice as long"));
    auto* stop = add_button(tr("Stop"), "silence-card-stop");
    stop->setToolTip(tr("Stop; scanned pages are kept (Esc)"));
    connect(wait, &QPushButton::clicked, this, &SilenceCard::wait_on);
    connect(stop, &QPushButton::clicked, this, &SilenceCard::give_up);
    connect(&scanners_, &Scanners::silence_changed, this, &SilenceCard::refresh);
    refresh();
}

void SilenceCard::wait_on() {
    ask_from_ = 2 * scanners_.silent_for();
    refresh();
}

void SilenceCard::give_up() { scanners_.stop(); }

void SilenceCard::refresh() {
    const std::chrono::seconds silent = scanners_.silent_for();
    if (silent.count() == 0) ask_from_ = {};
    appear(silent.count() > 0 && silent >= ask_from_);
    if (isHidden()) return;
    const auto minutes = silent.count() / 60, seconds = silent.count() % 60;
    const QString time = minutes == 0 ? tr("%1 s").arg(seconds) : tr("%1 min %2 s").arg(minutes).arg(seconds);
    words()->setText(tr("%1 has sent nothing for %2. Its lamp may be warming up, or the page is large; the scanner may "
                        "also be stuck.")
                         .arg(scanners_.title(), time));
}

}
