// The sheet that a phrase opens under itself: rows to choose from, other widgets, and a line of advice. Works with
// mouse, arrow keys, Enter and Esc.
#pragma once

#include "app/theme/popup.h"

#include <QAbstractButton>
#include <QLineEdit>
#include <QPointer>

#include <functional>

class QLabel;
class QVBoxLayout;

namespace yelvin {

// A row: a mark if it is the chosen value, the value in bold, and a quiet explanation.
class SheetRow : public QAbstractButton {
    Q_OBJECT
  public:
    SheetRow(const QString& value, const QString& advice, bool chosen, QWidget* parent);
    QSize sizeHint() const override;
    void set_columns(int value_width) { value_width_ = value_width; }
    void set_colour(const QColor& colour); // a coloured mark in front, for tickets
    int value_width() const;               // full width of the value

  signals:
    void pointed(bool is); // by the mouse or the keys

  protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent* event) override; // puts what does not fit into the tooltip
    void enterEvent(QEnterEvent*) override;
    void leaveEvent(QEvent*) override;
    void focusInEvent(QFocusEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;

  private:
    QString advice_;
    bool chosen_;
    QColor colour_;
    int value_width_ = 0;
    int value_column() const; // width of the value column, px
    int full_width(int value_width) const;
};

class PhraseSheet : public theme::Popup {
    Q_OBJECT
  public:
    explicit PhraseSheet(QWidget* parent);
    // Adds a row; choosing it runs the action and closes the sheet.
    SheetRow* add_row(const QString& value, const QString& advice, bool chosen, std::function<void()> action);
    void add_widget(QWidget* widget);
    void add_heading(const QString& words);
    // Guards an entry whose text is used by a button only. While it has been edited, a click outside does not close the
    // sheet, and Esc closes it the second time. If the sheet is closed otherwise (another program comes to the front),
    // the text is restored when it is opened again, except a password. `about` identifies the thing that the entry is
    // about, if a sheet is opened for different ones. Call this function once the entry has its text.
    void guard(QLineEdit* entry, const QString& about = {});
    void finish(); // closes the sheet after what was typed was used
    // Runs a dialog, which a sheet must not cover; the sheet is shown again afterwards, with what was typed.
    QString asked_by(const std::function<QString()>& dialog);
    QLabel* add_advice(const QString& words);
    // Ends a list of rows: arrow keys stay within it, Tab leaves it.
    void end_list() { lists_.append(rows_.size()); }
    // Opens the sheet under `anchor` (global coordinates of the phrase), within the screen.
    void open_under(const QRect& anchor);

  protected:
    void keyPressEvent(QKeyEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void closeEvent(QCloseEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    QVBoxLayout* layout_;
    struct Guarded {
        QPointer<QLineEdit> entry;
        QString key; // key of the guarded text
    };
    QList<Guarded> guarded_;
    bool forgets_ = false; // whether what was typed was used or discarded
    bool escaped_once_ = false;
    bool holds_something_typed() const;
    QList<SheetRow*> rows_;
    QList<qsizetype> lists_; // index after the last row of each list
    void walk(int step);
};

}
