#include "app/noticed/noticed_panel.h"

#include "app/theme/parts.h"
#include "app/ticketbar/ticket_bar.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

namespace yelvin {

namespace {

QString degrees_words(double degrees) { return QString("%1°").arg(std::abs(degrees), 0, 'f', 1); }

NoticeLine tilt_line(Desk& desk, const Page& page, const QString& id) {
    const double tilt = page.notices.tilt_degrees.value_or(0);
    const QString by = page.notices.tilt_by_text ? Desk::tr("by its lines of text") : Desk::tr("by its edge");
    if (std::abs(tilt) < least_tilt_degrees)
        return {NoticeLine::Mark::Nothing, Desk::tr("Straight"), Desk::tr("left as scanned, dot for dot"), {}, {}};
    const QString seen =
        Desk::tr("Tilted %1 %2").arg(degrees_words(tilt), tilt > 0 ? Desk::tr("clockwise") : Desk::tr("to the left"));
    Recipe changed = page.recipe;
    if (page.recipe.tilt_degrees != 0) {
        changed.tilt_degrees = 0;
        const bool as_noticed = std::abs(page.recipe.tilt_degrees - tilt) < 0.005;
        return {NoticeLine::Mark::Done, seen,
                as_noticed ? Desk::tr("straightened %1").arg(by)
                           : Desk::tr("straightened by hand, %1").arg(degrees_words(page.recipe.tilt_degrees)),
                Desk::tr("undo"), [&desk, id, changed] { desk.set_recipe(id, changed, Desk::tr("straighten")); }};
    }
    changed.tilt_degrees = tilt;
    return {NoticeLine::Mark::Proposed, seen, Desk::tr("left as scanned"), Desk::tr("straighten"),
            [&desk, id, changed] { desk.set_recipe(id, changed, Desk::tr("straighten")); }};
}

NoticeLine turn_line(Desk& desk, const Page& page, const QString& id) {
    const int turn = *page.notices.turn_degrees;
    const QString seen = turn == 180 ? Desk::tr("Upside down") : Desk::tr("Lying sideways");
    Recipe changed = page.recipe;
    if (page.recipe.turn_degrees == turn) {
        changed.turn_degrees = 0;
        return {NoticeLine::Mark::Done, seen, Desk::tr("turned upright by its text"), Desk::tr("undo"),
                [&desk, id, changed] { desk.set_recipe(id, changed, Desk::tr("turn")); }};
    }
    changed.turn_degrees = turn;
    return {NoticeLine::Mark::Proposed, seen, Desk::tr("its text says so"), Desk::tr("turn"),
            [&desk, id, changed] { desk.set_recipe(id, changed, Desk::tr("turn")); }};
}

NoticeLine ink_line(Desk& desk, const Page& page, const QString& id) {
    const Ink now = page.recipe.ink.value_or(page.original.ink), least = page.notices.ink.least;
    const auto change = [&desk, id, recipe = page.recipe](std::optional<Ink> ink) {
        return [&desk, id, recipe, ink]() mutable {
            recipe.ink = ink;
            desk.set_recipe(id, recipe, Desk::tr("colour mode"));
        };
    };
    if (page.original.ink == Ink::Colour && least == Ink::Colour) {
        if (now == Ink::Colour)
            return {NoticeLine::Mark::Nothing, Desk::tr("Colour on it"), Desk::tr("kept in colour"),
                    Desk::tr("make grey"), change(Ink::Grey)};
        return {NoticeLine::Mark::Done, Desk::tr("Colour on it"),
                Desk::tr("made %1").arg(now == Ink::Grey ? Desk::tr("grey") : Desk::tr("black and white")),
                Desk::tr("keep colour"), change(std::nullopt)};
    }
    if (now == Ink::Black && page.original.ink != Ink::Black) {
        return {NoticeLine::Mark::Done, Desk::tr("Black and white"),
                least == Ink::Black ? Desk::tr("loses nothing here") : Desk::tr("faint marks or tones are lost"),
                Desk::tr("keep grey"),
                change(page.original.ink == Ink::Colour ? std::optional(Ink::Grey) : std::nullopt)};
    }
    if (page.original.ink == Ink::Colour && now == Ink::Grey)
        return {NoticeLine::Mark::Done, Desk::tr("No colour on it"), Desk::tr("kept as grey, smaller"),
                Desk::tr("keep colour"), change(std::nullopt)};
    if (page.original.ink == Ink::Colour)
        return {NoticeLine::Mark::Proposed, Desk::tr("No colour on it"), Desk::tr("kept in colour all the same"),
                Desk::tr("make grey"), change(Ink::Grey)};
    return {
        NoticeLine::Mark::Nothing,
        Desk::tr("Scanned in %1").arg(page.original.ink == Ink::Grey ? Desk::tr("grey") : Desk::tr("black and white")),
        {},
        {},
        {}};
}

QList<NoticeLine> reading_lines(Desk& desk, const QString& id) {
    const auto text = desk.text_of(id);
    if (!text) return {};
    int words = 0, doubtful = 0;
    double sure = 0;
    for (const TextLine& line : text->lines) {
        for (const Word& word : line.words) {
            ++words;
            if (word.confidence < doubtful_confidence)
                ++doubtful;
            else
                sure += word.confidence;
        }
    }
    if (words == 0)
        return {{NoticeLine::Mark::Nothing,
                 Desk::tr("No words read"),
                 Desk::tr("nothing to search for on this page"),
                 {},
                 {}}};
    const QString share =
        Desk::tr("%1 % sure of them").arg(words > doubtful ? std::lround(sure / (words - doubtful)) : 0);
    QList<NoticeLine> lines{{NoticeLine::Mark::Done, Desk::tr("%1 words read").arg(words - doubtful), share, {}, {}}};
    if (doubtful > 0)
        lines.append({NoticeLine::Mark::Proposed,
                      doubtful == 1 ? Desk::tr("1 doubtful word") : Desk::tr("%1 doubtful words").arg(doubtful),
                      Desk::tr("they can be searched, but may be wrong"),
                      {},
                      {}});
    return lines;
}

}

QList<NoticeLine> notice_lines(Desk& desk, const Page& page) {
    const QString id = QString::fromStdString(page.id);
    QList<NoticeLine> lines;
    if (!page.noticed) return {{NoticeLine::Mark::Nothing, Desk::tr("Looking at the page …"), {}, {}, {}}};
    const Notices& n = page.notices;
    const QString ink = Desk::tr("ink found: %1 % of the side").arg(n.ink_percent, 0, 'f', n.ink_percent < 0.1 ? 3 : 2);
    if (page.dropped == Dropped::Separator)
        return {{NoticeLine::Mark::Done, Desk::tr("Separator"),
                 Desk::tr("left out; the next document starts behind it"), Desk::tr("bring back"),
                 [&desk, id] { desk.bring_back(id); }}};
    if (page.dropped == Dropped::Blank)
        return {{NoticeLine::Mark::Done, Desk::tr("Dropped as blank"), ink, Desk::tr("bring back"),
                 [&desk, id] { desk.bring_back(id); }}};
    if (n.blank(desk.ticket().pages.blank_limit_percent)) {
        return {
            {NoticeLine::Mark::Proposed, Desk::tr("Blank"), ink, Desk::tr("drop"), [&desk] { desk.drop_current(); }}};
    }
    if (n.sheet)
        lines.append({NoticeLine::Mark::Done,
                      n.framed          ? Desk::tr("Cut to its frame")
                      : n.paper.empty() ? Desk::tr("Cut to its edges")
                                        : Desk::tr("Cut to %1").arg(QString::fromStdString(n.paper)),
                      Desk::tr("%1 × %2 mm").arg(n.sheet->w_mm, 0, 'f', 0).arg(n.sheet->h_mm, 0, 'f', 0),
                      {},
                      {}});
    if (n.turn_degrees && *n.turn_degrees != 0) lines.append(turn_line(desk, page, id));
    if (n.tilt_degrees) lines.append(tilt_line(desk, page, id));
    lines.append(ink_line(desk, page, id));
    const Ink now = page.recipe.ink.value_or(page.original.ink);
    if (now != Ink::Black && n.ink.least == Ink::Black) {
        Recipe black = page.recipe;
        black.ink = Ink::Black;
        lines.append({NoticeLine::Mark::Proposed, Desk::tr("Black would do"),
                      Desk::tr("no tones, nothing faint: a tenth of the size"), Desk::tr("make black"),
                      [&desk, id, black] { desk.set_recipe(id, black, Desk::tr("colour mode")); }});
    } else if (n.ink.faint_mm2 > 1 && n.ink.tone_percent < 4) {
        lines.append(
            {NoticeLine::Mark::Nothing, Desk::tr("Faint marks"), Desk::tr("black and white would lose them"), {}, {}});
    }
    lines.append(reading_lines(desk, id));
    return lines;
}

NoticedPanel::NoticedPanel(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
    setFixedWidth(theme::side_width);
    setObjectName("noticed");
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    auto* scroll = new QScrollArea(this);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setFocusPolicy(Qt::NoFocus);
    auto* inside = new QWidget(scroll);
    column_ = new QVBoxLayout(inside);
    column_->setContentsMargins(14, 13, 14, 14);
    column_->setSpacing(0);
    scroll->setWidget(inside);
    scroll->viewport()->setAutoFillBackground(false);
    inside->setAutoFillBackground(false);
    outer->addWidget(scroll);
    for (auto signal : {&Desk::current_changed, &Desk::tray_changed, &Desk::busy_changed, &Desk::glass_changed,
                        &Desk::ticket_changed})
        connect(&desk_, signal, this, &NoticedPanel::refresh);
    refresh();
}

void NoticedPanel::refresh() {
    const PagePtr page = desk_.current();
    QString now = "page";
    if (page) {
        now += QString::fromStdString(page->id);
        for (const auto& line : notice_lines(desk_, *page)) now += line.seen + line.done + line.action;
        now += QString("|%1|%2|%3")
                   .arg(page->recipe.tilt_degrees)
                   .arg(page->recipe.turn_degrees)
                   .arg(static_cast<int>(page->dropped));
        if (const auto place = find_page(desk_.tray(), page->id)) now += QString("|%1").arg(place->page);
    }
    if (now == shown_) return;
    shown_ = now;
    theme::clear(column_);
    if (!page) {
        add_title(tr("Noticed"), {});
        add_line({NoticeLine::Mark::Nothing,
                  tr("Nothing yet"),
                  tr("What Yelvin sees on a page stands here, with what it did about it."),
                  {},
                  {}});
    } else {
        const auto place = find_page(desk_.tray(), page->id);
        add_title(tr("Noticed"), tr("page %1").arg(place ? place->page + 1 : 1));
        for (const auto& line : notice_lines(desk_, *page)) add_line(line);
        add_hand_tools(*page);
    }
    column_->addStretch();
}

void NoticedPanel::add_title(const QString& strong, const QString& quiet) {
    auto* title = new QLabel(this);
    const QString rest =
        quiet.isEmpty()
            ? QString()
            : QString(" <span style='font-weight:400;color:%1'>· %2</span>").arg(theme::colours().quiet.name(), quiet);
    title->setText(QString("<b>%1</b>%2").arg(strong, rest));
    title->setContentsMargins(0, 0, 0, 10);
    column_->addWidget(title);
}

void NoticedPanel::add_line(const NoticeLine& line) {
    const auto& c = theme::colours();
    column_->addWidget(theme::hairline(this));
    auto* row = new QHBoxLayout;
    row->setContentsMargins(0, 9, 0, 9);
    row->setSpacing(8);
    auto* mark = new QLabel(this);
    mark->setFixedWidth(14);
    mark->setAlignment(Qt::AlignTop | Qt::AlignHCenter);
    if (line.mark == NoticeLine::Mark::Done) {
        mark->setPixmap(theme::icon("check", c.moss).pixmap(13, 13));
        mark->setContentsMargins(0, 2, 0, 0);
        mark->setAccessibleName(tr("done"));
    } else if (line.mark == NoticeLine::Mark::Proposed) {
        mark->setText(QString("<span style='color:%1'><b>?</b></span>").arg(c.amber.name()));
        mark->setAccessibleName(tr("proposed"));
    } else {
        mark->setText(QString("<span style='color:%1'>·</span>").arg(c.quiet.name()));
    }
    row->addWidget(mark);
    auto* words = new QVBoxLayout;
    words->setSpacing(2);
    auto* seen = new QLabel(line.seen, this);
    seen->setFont(theme::strong());
    seen->setWordWrap(true);
    words->addWidget(seen);
    if (!line.done.isEmpty()) {
        auto* done = new QLabel(line.done, this);
        done->setProperty("quiet", true);
        done->setWordWrap(true);
        words->addWidget(done);
    }
    row->addLayout(words, 1);
    if (!line.action.isEmpty()) {
        auto* action = new QPushButton(line.action, this);
        action->setProperty("kind", "link");
        action->setObjectName("action:" + line.action);
        action->setCursor(Qt::PointingHandCursor);
        action->setAccessibleName(line.seen + ": " + line.action);
        connect(action, &QPushButton::clicked, this, line.act);
        row->addWidget(action, 0, Qt::AlignTop);
    }
    column_->addLayout(row);
}

void NoticedPanel::add_hand_tools(const Page& page) {
    const auto& c = theme::colours();
    column_->addWidget(theme::hairline(this));
    auto* heading = new QLabel(tr("By hand"), this);
    heading->setFont(theme::strong());
    heading->setContentsMargins(0, 10, 0, 6);
    column_->addWidget(heading);
    auto* row = new QHBoxLayout;
    row->setSpacing(6);
    const auto tool = [&](const QString& icon, const QString& words, std::function<void()> action) {
        auto* button = new QPushButton(this);
        button->setProperty("kind", "tool");
        button->setIcon(theme::icon(icon, c.ink));
        button->setToolTip(words);
        button->setAccessibleName(words);
        button->setFixedSize(34, 28);
        connect(button, &QPushButton::clicked, this, std::move(action));
        row->addWidget(button);
    };
    tool("turn-left", tr("Quarter turn left ([)"), [this] { desk_.turn_current(-1); });
    tool("turn-right", tr("Quarter turn right (])"), [this] { desk_.turn_current(1); });
    row->addSpacing(10);
    tool("minus", tr("Tilt to the left by a tenth (Alt+,)"), [this] { desk_.tilt_current(-0.1); });
    auto* tilt = new QLabel(page.recipe.tilt_degrees == 0 ? tr("no tilt")
                                                          : QString("%1%2°")
                                                                .arg(page.recipe.tilt_degrees > 0 ? "−" : "+")
                                                                .arg(std::abs(page.recipe.tilt_degrees), 0, 'f', 1),
                            this);
    tilt->setProperty("quiet", true);
    tilt->setAlignment(Qt::AlignCenter);
    tilt->setFixedWidth(44);
    row->addWidget(tilt);
    tool("plus", tr("Tilt to the right by a tenth (Alt+.)"), [this] { desk_.tilt_current(0.1); });
    row->addStretch();
    column_->addLayout(row);
    if (page.recipe != Recipe{}) {
        auto* back = new QPushButton(tr("as scanned: take everything back"), this);
        back->setProperty("kind", "link");
        back->setObjectName("as-scanned");
        back->setContentsMargins(0, 8, 0, 0);
        connect(back, &QPushButton::clicked, this,
                [this, id = QString::fromStdString(page.id)] { desk_.set_recipe(id, {}, tr("as scanned")); });
        column_->addSpacing(8);
        column_->addWidget(back, 0, Qt::AlignLeft);
    }
}

}
