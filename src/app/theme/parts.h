// Small things that several panels are made of.
#pragma once

#include "app/theme/theme.h"

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
QFrame* hairline(QWidget* parent);

// Facts with dots between them in lines of `width_px`; no line begins or ends with a dot.
QString facts_in_lines(const QStringList& facts, const QFont& font, int width_px);

// Scrolls what is in it up and down, without a frame and without taking part in Tab's walk. `inside` fills its width.
QScrollArea* scrolled(QWidget* inside, QWidget* parent);

// Everything in the layout goes, inner layouts too.
void clear(QLayout* layout);

}
