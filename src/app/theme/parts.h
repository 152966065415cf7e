// Small things that several panels are made of.
#pragma once

#include "app/theme/theme.h"

#include <QPointer>
#include <QString>
#include <QStringList>

class QFrame;
class QLabel;
class QLayout;
class QPushButton;
class QScrollArea;
class QWidget;

namespace yelvin::theme {

enum class Kind { Plain, Main, Link, Item, Tab };
// `name` is the object's, by which tests and the style sheet find it.
QPushButton* button(const QString& words, Kind kind, const QString& name, QWidget* parent);
QPushButton* link(const QString& words, const QString& name, QWidget* parent);

QLabel* quiet(const QString& words, QWidget* parent); // wrapped
// Names `edit` for whoever sees it and for whoever hears it; empty words: nothing.
QLabel* label_for(QWidget* edit, const QString& words, QWidget* parent);
QFrame* hairline(QWidget* parent);

// Facts with dots between them in lines of `width_px`; no line begins or ends with a dot.
QString facts_in_lines(const QStringList& facts, const QFont& font, int width_px);

// Scrolls what is in it up and down, without a frame and without taking part in Tab's walk. `inside` fills its width.
QScrollArea* scrolled(QWidget* inside, QWidget* parent);

// Everything in the layout goes, inner layouts too.
void clear(QLayout* layout);

// While a list of widgets is built anew, which begins after this is made and ends before it goes: the keyboard's place
// in it stays. If a widget that had the focus is hidden by then, as by clear(), the new one of the same name has it;
// where there is none, the one that stands in its place.
class FocusKept {
  public:
    explicit FocusKept(QWidget* list);
    ~FocusKept();
    FocusKept(const FocusKept&) = delete;
    FocusKept& operator=(const FocusKept&) = delete;

  private:
    QWidget* list_;
    QPointer<QWidget> focus_;   // that had it
    QString name_;              // its
    qsizetype place_ = -1;      // among all that can have it; -1: none of them had it
    qsizetype among_named_ = 0; // among those of its name
};

}
