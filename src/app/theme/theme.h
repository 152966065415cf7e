// The theme: every colour, metric, typeface and icon of the window. The light and the dark look have the same roles.
// All functions are called on the window's thread.
#pragma once

#include <QColor>
#include <QFont>
#include <QIcon>
#include <QString>

class QApplication;

namespace yelvin::theme {

struct Colours {
    QColor desk, table, paper, ink, quiet, hairline, plum, plum_wash, on_plum, moss, amber, brick;
};

inline constexpr int margin = 10, gap = 5, corner = 4, side_width = 268; // px

const Colours& colours(); // of the present look; change when the look does
const Colours& look(bool in_the_dark);
void apply(QApplication& application); // fonts, palette, style sheet; dark when the desktop is dark
void use_dark(QApplication& application, bool dark);

QFont body();    // 13 px
QFont strong();  // 13 px, semibold
QFont title();   // 15 px, semibold
QFont measure(); // 11 px, tabular figures

// Icons, drawn with a 1.5 px line in a 16 x 16 field: "turn-left", "turn-right", "close", "down", "check", "plus",
// "minus", "pen", "photo", "divider".
QIcon icon(const QString& name, const QColor& colour);
// Returns the colour of a ticket by its name in the ticket's file: "moss", "amber", "brick" or "ink"; plum for others.
QColor ticket_colour(const QString& role);

}
