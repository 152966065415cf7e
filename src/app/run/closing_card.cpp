#include "app/run/closing_card.h"

#include "app/models/errands/closing.h"

#include <QLabel>
#include <QPushButton>

namespace yelvin {

ClosingCard::ClosingCard(Closing& closing, QWidget* parent) : QuestionCard("closing-card", parent), closing_(closing) {
    auto* stay = add_link(tr("keep open"), "closing-stay");
    auto* now = add_button(tr("Close now"), "closing-now");
    now->setToolTip(tr("The rest is saved the next time Yelvin starts"));
    connect(stay, &QPushButton::clicked, this, &ClosingCard::give_up);
    connect(now, &QPushButton::clicked, this, &ClosingCard::close_wanted);
    connect(&closing_, &Closing::changed, this, &ClosingCard::refresh);
    refresh();
}

void ClosingCard::give_up() { closing_.stay(); }

void ClosingCard::refresh() {
    const QString what = closing_.under_way();
    appear(closing_.is_asked_for() && !what.isEmpty());
    if (isHidden()) return;
    words()->setText(tr("%1. The window closes when that is done, or in %2 s; documents not saved by then are saved "
                        "the next time Yelvin starts.")
                         .arg(what)
                         .arg(std::chrono::duration_cast<std::chrono::seconds>(Closing::patience).count()));
}

}
