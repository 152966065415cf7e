#include "app/theme/style.h"

namespace yelvin::theme {

const char* const style = R"(
        QMainWindow, QWidget#desk { background: DESK; }
        QToolTip { background: PAPER; color: INK; border: 1px solid HAIRLINE; padding: 4px 6px; }
        QLabel { color: INK; background: transparent; }
        QLabel[quiet="true"] { color: QUIET; font-size: 11px; }
        QLabel[bad="true"] { color: BRICK; }
        QFrame[panel="true"] { background: PAPER; border: 1px solid HAIRLINE; border-radius: 4px; }
        QFrame[sheet="true"] { background: PAPER; border: 1px solid HAIRLINE; border-top: 2px solid PLUM; border-bottom-left-radius: 4px; border-bottom-right-radius: 4px; }
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
        QCheckBox::indicator:checked { background: PLUM; border: 1px solid PLUM; image: url(TICKIMAGE); }
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

}
