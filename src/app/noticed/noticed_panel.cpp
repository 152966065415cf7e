#include "app/noticed/noticed_panel.h"

#include "app/models/tray/choice.h"
#include "app/models/tray/document_tickets.h"
#include "app/models/tray/looking.h"
#include "app/models/tray/out_tray.h"
#include "app/noticed/adjust_panel.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

namespace yelvin {

NoticedPanel::NoticedPanel(const PageModels& models, QWidget* parent) : QWidget(parent), models_(models) {
    setFixedWidth(theme::side_width);
    setObjectName("noticed");
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    auto* inside = new QWidget;
    auto* all = new QVBoxLayout(inside);
    all->setContentsMargins(14, 13, 14, 14);
    all->setSpacing(0);
    column_ = new QVBoxLayout;
    column_->setSpacing(0);
    all->addLayout(column_);
    adjust_ = new AdjustPanel(models_, inside);
    all->addWidget(adjust_);
    all->addStretch();
    outer->addWidget(theme::scrolled(inside, this));
    connect(&models_.choice, &Choice::changed, this, &NoticedPanel::refresh);
    connect(&models_.tray, &OutTray::changed, this, &NoticedPanel::refresh);
    connect(&models_.looking, &Looking::changed, this, &NoticedPanel::refresh);
    connect(&models_.tray, &OutTray::text_kept, this, [this](const PagePtr& page) {
        if (page->id == models_.choice.current_id().toStdString()) refresh();
    });
    connect(&models_.document_tickets, &DocumentTickets::changed, this, &NoticedPanel::refresh);
    refresh();
}

void NoticedPanel::refresh() {
    const PagePtr page = models_.choice.current();
    QString now = "page";
    if (page) {
        now += QString::fromStdString(page->id);
        for (const auto& line : notice_lines(models_, *page)) now += line.seen + line.done + line.action;
        now += QString("|%1|%2|%3")
                   .arg(page->recipe.tilt_degrees)
                   .arg(page->recipe.turn_degrees)
                   .arg(static_cast<int>(page->dropped));
        if (const auto place = find_page(models_.tray.tray(), page->id)) now += QString("|%1").arg(place->page);
    }
    if (now == shown_) return;
    shown_ = now;
    const theme::FocusKept focus(this);
    theme::clear(column_);
    if (!page) {
        add_title(tr("Noticed"), {});
        add_line({NoticeLine::Mark::Nothing,
                  tr("Nothing yet"),
                  tr("Here you see what Yelvin noticed on a page, and what it did about it."),
                  {},
                  {}});
    } else {
        const auto place = find_page(models_.tray.tray(), page->id);
        add_title(tr("Noticed"), tr("page %1").arg(place ? place->page + 1 : 1));
        for (const auto& line : notice_lines(models_, *page)) add_line(line);
    }
    adjust_->setVisible(page != nullptr);
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
        auto* action = theme::link(line.action, "notice-action", this);
        action->setAccessibleName(line.seen + ": " + line.action);
        connect(action, &QPushButton::clicked, this, line.act);
        row->addWidget(action, 0, Qt::AlignTop);
    }
    column_->addLayout(row);
}

}
