#include "app/theme/theme.h"

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
    QString css = R"(
        QMainWindow, QWidget#desk { background: DESK; }
        QToolTip { background: PAPER; color: INK; border: 1px solid HAIRLINE; padding: 4px 6px; }
        QLabel { color: INK; background: transparent; }
        QLabel[quiet="true"] { color: QUIET; font-size: 11px; }
        QLabel[bad="true"] { color: BRICK; }
        QFrame[panel="true"] { background: PAPER; border: 1px solid HAIRLINE; border-radius: 4px; }
        QFrame#sheet { background: PAPER; border: 1px solid HAIRLINE; border-top: 2px solid PLUM; border-bottom-left-radius: 4px; border-bottom-right-radius: 4px; }
        QPushButton { background: transparent; color: INK; border: 1px solid INK; border-radius: 4px; padding: 6px 12px; font-weight: 600; }
        QPushButton:hover { background: PLUMWASH; }
        QPushButton:focus { border: 2px solid PLUM; padding: 5px 11px; }
        QPushButton:disabled { color: QUIET; border-color: HAIRLINE; }
        QPushButton[kind="link"] { border: none; color: PLUM; padding: 0 2px; font-size: 12px; font-weight: 500; text-align: right; background: transparent; }
        QPushButton[kind="link"]:hover { text-decoration: underline; }
        QPushButton[kind="link"]:focus { text-decoration: underline; border: none; }
        QPushButton[kind="item"] { border: none; color: PLUM; padding: 3px 2px; font-weight: 500; text-align: left; }
        QPushButton[kind="item"]:hover, QPushButton[kind="item"]:focus { border: none; padding: 3px 2px; text-decoration: underline; }
        QPushButton[kind="link"]:disabled { color: QUIET; }
        QPushButton[kind="fold"] { border: none; padding: 2px 0; font-weight: 500; text-align: left; }
        QPushButton[kind="fold"]:hover, QPushButton[kind="fold"]:focus { border: none; padding: 2px 0; color: PLUM; background: transparent; }
        QPushButton[kind="number"] { border: none; padding: 0 1px; font-size: 11px; font-weight: 500; color: PLUM; text-align: right; }
        QPushButton[kind="number"]:disabled { color: QUIET; font-weight: 400; }
        QPushButton[kind="number"]:hover, QPushButton[kind="number"]:focus { border: none; padding: 0 1px; text-decoration: underline; background: transparent; }
        QPushButton[kind="choice"] { border: 1px solid HAIRLINE; padding: 4px 6px; font-weight: 500; }
        QPushButton[kind="choice"]:checked { background: PLUMWASH; border: 1px solid PLUM; color: PLUM; }
        QPushButton[kind="choice"]:focus { border: 1px solid PLUM; padding: 4px 6px; text-decoration: underline; }
        QPushButton[kind="main"] { background: PLUM; color: ONPLUM; border: 1px solid PLUM; font-size: 17px; }
        QPushButton[kind="main"]:hover { border: 2px solid INK; }
        QPushButton[kind="main"]:focus { border: 2px solid INK; }
        QPushButton[kind="main"]:disabled { background: HAIRLINE; border-color: HAIRLINE; color: QUIET; }
        QPushButton[kind="tab"] { border: none; border-bottom: 2px solid transparent; border-radius: 0; padding: 6px 12px 5px 12px; font-weight: 500; color: QUIET; }
        QPushButton[kind="tab"]:hover { color: INK; background: transparent; }
        QPushButton[kind="tab"]:focus { color: PLUM; padding: 6px 12px 5px 12px; border: none; border-bottom: 2px solid PLUM; }
        QPushButton[kind="tab"]:checked { background: PAPER; color: INK; font-weight: 600; border-bottom: 2px solid PLUM; border-top-left-radius: 4px; border-top-right-radius: 4px; }
        QPushButton[kind="tool"] { border: 1px solid HAIRLINE; padding: 4px 8px; font-weight: 500; }
        QPushButton[kind="tool"]:focus { border: 1px solid PLUM; padding: 4px 8px; }
        QLineEdit, QSpinBox, QDoubleSpinBox { background: DESKLIGHT; color: INK; border: 1px solid HAIRLINE; border-radius: 4px; padding: 4px 6px; selection-background-color: PLUM; selection-color: ONPLUM; }
        QLineEdit:focus, QSpinBox:focus, QDoubleSpinBox:focus { border: 1px solid PLUM; }
        QSpinBox::up-button, QDoubleSpinBox::up-button, QSpinBox::down-button, QDoubleSpinBox::down-button { width: 0; border: none; }
        QCheckBox { color: INK; spacing: 8px; }
        QCheckBox::indicator { width: 14px; height: 14px; border: 1px solid QUIET; border-radius: 3px; background: PAPER; }
        QCheckBox::indicator:checked { background: PLUM; border: 1px solid PLUM; }
        QCheckBox:focus { color: PLUM; }
        QRadioButton { color: INK; spacing: 8px; }
        QRadioButton::indicator { width: 12px; height: 12px; border: 1px solid QUIET; border-radius: 7px; background: PAPER; }
        QRadioButton::indicator:checked { background: PLUM; border: 1px solid PLUM; }
        QRadioButton:focus { color: PLUM; }
        QComboBox { background: DESKLIGHT; color: INK; border: 1px solid HAIRLINE; border-radius: 4px; padding: 4px 8px; }
        QComboBox:focus, QComboBox:on { border: 1px solid PLUM; }
        QComboBox::drop-down { width: 20px; border: none; }
        QComboBox::down-arrow { image: url(:/fonts/down.svg); width: 12px; height: 12px; }
        QComboBox QAbstractItemView { background: PAPER; color: INK; border: 1px solid HAIRLINE; selection-background-color: PLUMWASH; selection-color: PLUM; outline: none; }
        QSlider::groove:horizontal { height: 4px; background: HAIRLINE; border-radius: 2px; }
        QSlider::sub-page:horizontal { background: HAIRLINE; }
        QSlider::handle:horizontal:focus { background: PLUM; }
        QSlider::handle:horizontal { width: 10px; margin: -5px 0; background: PAPER; border: 2px solid PLUM; border-radius: 7px; }
        QSlider::handle:horizontal:disabled { border-color: HAIRLINE; }
        QScrollArea { background: transparent; border: none; }
        QScrollBar:horizontal { height: 8px; background: transparent; margin: 0; }
        QScrollBar:vertical { width: 8px; background: transparent; margin: 0; }
        QScrollBar::handle { background: HAIRLINE; border-radius: 3px; min-width: 24px; min-height: 24px; }
        QScrollBar::handle:hover { background: QUIET; }
        QScrollBar::add-line, QScrollBar::sub-line, QScrollBar::add-page, QScrollBar::sub-page { background: transparent; width: 0; height: 0; }
    )";
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
    // Drawn once: the tray paints several for each page.
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
