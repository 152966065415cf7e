// Small widgets and functions that several panels use.
#pragma once

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
// `name` is the object name, by which tests and the style sheet find the widget.
QPushButton* button(const QString& words, Kind kind, const QString& name, QWidget* parent);
QPushButton* link(const QString& words, const QString& name, QWidget* parent);

QLabel* quiet(const QString& words, QWidget* parent); // with wrapped lines
// Sets the placeholder and the accessible name of `edit`; empty words do nothing.
QLabel* label_for(QWidget* edit, const QString& words, QWidget* parent);
QFrame* hairline(QWidget* parent);

// Returns facts separated by middle dots, in lines of at most `width_px`; no line begins or ends with a dot.
QString facts_in_lines(const QStringList& facts, const QFont& font, int width_px);

// A vertical scroll area without a frame and without a tab stop. `inside` fills its width.
QScrollArea* scrolled(QWidget* inside, QWidget* parent);

// Deletes everything in the layout, inner layouts included.
void clear(QLayout* layout);

// Keeps the keyboard focus in a list of widgets that is rebuilt during this object's life. If the widget with the focus
// is hidden afterwards (by clear()), the new one of the same name gets the focus or, if there is none, the one in its
// place.
class FocusKept {
  public:
    explicit FocusKept(QWidget* list);
    ~FocusKept();
    FocusKept(const FocusKept&) = delete;
    FocusKept& operator=(const FocusKept&) = delete;

  private:
    QWidget* list_;
    QPointer<QWidget> focus_;   // the widget that had it
    QString name_;              // its object name
    qsizetype place_ = -1;      // its index among all that can have it; -1: none had it
    qsizetype among_named_ = 0; // its index among those of its name
};

}
