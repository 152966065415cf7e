#include "app/theme/theme.h"

#include "app/theme/style.h"

#include <QApplication>
#include <QFontDatabase>
#include <QHash>
#include <QPainter>
#include <QPalette>
#include <QStyleFactory>
#include <QStyleHints>
#include <QSvgRenderer>

namespace yelvin::theme {

namespace {

const Colours light{.desk = "#E6E0D5",
                    .table = "#DDD5C8",
                    .paper = "#FBF9F4",
                    .ink = "#26303A",
                    .quiet = "#535D67",
                    .hairline = "#CFC7B8",
                    .plum = "#7A2E5D",
                    .plum_wash = "#F1E4EC",
                    .on_plum = "#FFFFFF",
                    .moss = "#3F6F4A",
                    .amber = "#8A5A0E",
                    .brick = "#A3392B"};
const Colours dark{.desk = "#22262A",
                   .table = "#1B1F22",
                   .paper = "#2E3338",
                   .ink = "#ECE8E0",
                   .quiet = "#B3B0A8",
                   .hairline = "#474D53",
                   .plum = "#E0A2C6",
                   .plum_wash = "#4A3342",
                   .on_plum = "#2A1020",
                   .moss = "#8CC79A",
                   .amber = "#E2B566",
                   .brick = "#F09A8C"};
const Colours* current = &light;

const QHash<QString, QString>& icon_paths() {
    static const QHash<QString, QString> paths{
        {"turn-left", "M4 7.5 A4.6 4.6 0 1 1 5.2 11.6 M4 3.6 V7.6 H8"},
        {"turn-right", "M12 7.5 A4.6 4.6 0 1 0 10.8 11.6 M12 3.6 V7.6 H8"},
        {"close", "M4 4 L12 12 M12 4 L4 12"},
        {"down", "M4.5 6.5 L8 10 L11.5 6.5"},
        {"check", "M3.5 8.5 L6.7 11.6 L12.5 4.8"},
        {"plus", "M8 3.5 V12.5 M3.5 8 H12.5"},
        {"minus", "M3.5 8 H12.5"},
        {"pen", "M3.5 12.5 L4.3 9.6 L11 3 L13 5 L6.4 11.7 Z"},
        {"photo", "M2.5 3.5 H13.5 V12.5 H2.5 Z M4 11 L7 7.5 L9 9.5 L10.5 8 L12.5 11"},
        {"divider", "M8 2.5 V13.5 M3 4.5 H8 M8 4.5 H13 V7 H8"},
    };
    return paths;
}

QFont sized(int pixels, QFont::Weight weight) {
    QFont font("Inter");
    font.setPixelSize(pixels);
    font.setWeight(weight);
    font.setHintingPreference(QFont::PreferNoHinting);
    return font;
}

QString sheet() {
    const Colours& c = *current;
    QString css = QString::fromUtf8(style);
    const auto put = [&css](const char* role, const QColor& colour) { css.replace(role, colour.name()); };
    put("DESKLIGHT", current == &light ? QColor("#FFFFFF") : c.table);
    put("DESK", c.desk);
    put("PAPER", c.paper);
    put("ONPLUM", c.on_plum);
    put("PLUMWASH", c.plum_wash);
    put("PLUM", c.plum);
    put("HAIRLINE", c.hairline);
    put("QUIET", c.quiet);
    put("BRICK", c.brick);
    put("INK", c.ink);
    css.replace("TICKIMAGE", current == &light ? ":/fonts/tick-light.svg" : ":/fonts/tick-dark.svg");
    return css;
}

}

const Colours& colours() { return *current; }
const Colours& look(bool in_the_dark) { return in_the_dark ? dark : light; }

void use_dark(QApplication& application, bool on) {
    current = on ? &dark : &light;
    QPalette palette;
    palette.setColor(QPalette::Window, current->desk);
    palette.setColor(QPalette::Base, current->paper);
    palette.setColor(QPalette::Text, current->ink);
    palette.setColor(QPalette::WindowText, current->ink);
    palette.setColor(QPalette::ButtonText, current->ink);
    palette.setColor(QPalette::Highlight, current->plum);
    palette.setColor(QPalette::HighlightedText, current->on_plum);
    palette.setColor(QPalette::PlaceholderText, current->quiet);
    application.setPalette(palette);
    application.setStyleSheet(sheet());
}

void apply(QApplication& application) {
    for (const char* face : {"Regular", "Medium", "SemiBold"})
        QFontDatabase::addApplicationFont(QString(":/fonts/Inter-%1.otf").arg(face));
    application.setStyle(QStyleFactory::create("Fusion"));
    application.setFont(body());
    use_dark(application, application.palette().color(QPalette::Window).lightness() < 100);
}

QFont body() { return sized(13, QFont::Normal); }
QFont strong() { return sized(13, QFont::DemiBold); }
QFont title() { return sized(15, QFont::DemiBold); }
QFont measure() { return sized(11, QFont::Normal); }

QIcon icon(const QString& name, const QColor& colour) {
    // Drawn once, because the tray paints several icons for each page.
    static QHash<QString, QIcon> drawn;
    QIcon& kept = drawn[name + colour.name()];
    if (!kept.isNull()) return kept;
    const QString drawing =
        QString(
            R"(<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 16 16"><path d="%1" fill="none" stroke="%2" stroke-width="1.5" stroke-linecap="round" stroke-linejoin="round"/></svg>)")
            .arg(icon_paths().value(name), colour.name());
    QSvgRenderer renderer(drawing.toUtf8());
    QIcon out;
    for (const int size : {16, 32, 48}) {
        QPixmap pixmap(size, size);
        pixmap.fill(Qt::transparent);
        QPainter painter(&pixmap);
        renderer.render(&painter);
        out.addPixmap(pixmap);
    }
    return kept = out;
}

QColor ticket_colour(const QString& role) {
    const Colours& c = *current;
    if (role == "moss") return c.moss;
    if (role == "amber") return c.amber;
    if (role == "brick") return c.brick;
    if (role == "ink") return c.ink;
    return c.plum;
}

}
