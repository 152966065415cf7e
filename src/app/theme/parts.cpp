#include "app/theme/parts.h"

#include "app/theme/theme.h"

#include <QApplication>
#include <QFontMetrics>
#include <QFrame>
#include <QLabel>
#include <QLayout>
#include <QPushButton>
#include <QScrollArea>

namespace yelvin::theme {

namespace {
const char* word_of(Kind kind) {
    switch (kind) {
    case Kind::Main:
        return "main";
    case Kind::Link:
        return "link";
    case Kind::Item:
        return "item";
    case Kind::Tab:
        return "tab";
    case Kind::Plain:
        break;
    }
    return "";
}
}

QPushButton* button(const QString& words, Kind kind, const QString& name, QWidget* parent) {
    auto* made = new QPushButton(words, parent);
    if (kind != Kind::Plain) made->setProperty("kind", word_of(kind));
    made->setObjectName(name);
    made->setCursor(Qt::PointingHandCursor);
    return made;
}

QPushButton* link(const QString& words, const QString& name, QWidget* parent) {
    return button(words, Kind::Link, name, parent);
}

QLabel* quiet(const QString& words, QWidget* parent) {
    auto* label = new QLabel(words, parent);
    label->setProperty("quiet", true);
    label->setWordWrap(true);
    return label;
}

QLabel* label_for(QWidget* edit, const QString& words, QWidget* parent) {
    auto* label = new QLabel(words, parent);
    label->setBuddy(edit);
    if (!words.isEmpty()) edit->setAccessibleName(words);
    return label;
}

QFrame* hairline(QWidget* parent) {
    auto* line = new QFrame(parent);
    line->setFixedHeight(1);
    line->setStyleSheet(QString("background: %1").arg(colours().hairline.name()));
    return line;
}

QString facts_in_lines(const QStringList& facts, const QFont& font, int width_px) {
    const QFontMetrics metrics(font);
    QString out, line;
    for (const QString& fact : facts) {
        const QString longer = line.isEmpty() ? fact : line + " · " + fact;
        if (!line.isEmpty() && metrics.horizontalAdvance(longer) > width_px) {
            out += line + '\n';
            line = fact;
        } else {
            line = longer;
        }
    }
    return out + line;
}

QScrollArea* scrolled(QWidget* inside, QWidget* parent) {
    auto* scroll = new QScrollArea(parent);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setFocusPolicy(Qt::NoFocus);
    scroll->setWidget(inside);
    scroll->viewport()->setAutoFillBackground(false);
    inside->setAutoFillBackground(false);
    return scroll;
}

void clear(QLayout* layout) {
    while (QLayoutItem* item = layout->takeAt(0)) {
        if (QWidget* widget = item->widget()) {
            widget->hide();
            widget->deleteLater();
        }
        if (QLayout* inner = item->layout()) clear(inner);
        delete item;
    }
}

namespace {

// Whether it was hidden explicitly, or together with its parent; not if its layout has merely not shown it yet.
bool is_put_away(const QWidget* widget, const QWidget* list) {
    for (const QWidget* at = widget; at && at != list; at = at->parentWidget())
        if (at->isHidden() && at->testAttribute(Qt::WA_WState_ExplicitShowHide)) return true;
    return false;
}

// Returns them in the order of their creation.
QList<QWidget*> focusable_in(QWidget* list) {
    QList<QWidget*> out;
    for (auto* each : list->findChildren<QWidget*>())
        if ((each->focusPolicy() & Qt::TabFocus) && each->isEnabled() && !is_put_away(each, list)) out.append(each);
    return out;
}

}

FocusKept::FocusKept(QWidget* list) : list_(list) {
    QWidget* focus = QApplication::focusWidget();
    if (!focus || !list->isAncestorOf(focus)) return;
    focus_ = focus;
    name_ = focus->objectName();
    const QList<QWidget*> all = focusable_in(list);
    place_ = all.indexOf(focus);
    for (qsizetype i = 0; i < place_; ++i) among_named_ += all[i]->objectName() == name_;
}

FocusKept::~FocusKept() {
    if (place_ < 0 || (focus_ && !is_put_away(focus_, list_))) return;
    const QList<QWidget*> now = focusable_in(list_);
    QList<QWidget*> named;
    for (QWidget* each : now)
        if (each->objectName() == name_) named.append(each);
    if (now.isEmpty()) return;
    QWidget* next = among_named_ < named.size() ? named[among_named_]
                    : !named.isEmpty()          ? named.back()
                                                : now[std::min(place_, now.size() - 1)];
    for (QWidget* each = next; each && each != list_; each = each->parentWidget())
        each->show(); // The layout would show it later, and a hidden widget cannot get the focus.
    next->setFocus(Qt::OtherFocusReason);
}

}
