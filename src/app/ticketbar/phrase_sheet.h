// The small sheet that a phrase opens under itself: rows to choose from, anything else the phrase needs, and one line
// of advice. Works with the mouse and with the arrow keys, Enter and Esc.
#pragma once

#include "app/theme/popup.h"

#include <QAbstractButton>
#include <QLineEdit>
#include <QPointer>

#include <functional>

class QLabel;
class QVBoxLayout;

namespace yelvin {

// One value: a mark when it is the chosen one, the value in bold, what it is good for in quiet words.
class SheetRow : public QAbstractButton {
    Q_OBJECT
  public:
    SheetRow(const QString& value, const QString& advice, bool chosen, QWidget* parent);
    QSize sizeHint() const override;
    void set_columns(int value_width) { value_width_ = value_width; }
    void set_colour(const QColor& colour); // a mark in front, as tickets have
    int value_width() const;               // of all its letters

  signals:
    void pointed(bool is); // by the mouse or the keys

  protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent* event) override; // what has no room stands in the tooltip
    void enterEvent(QEnterEvent*) override;
    void leaveEvent(QEvent*) override;
    void focusInEvent(QFocusEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;

  private:
    QString advice_;
    bool chosen_;
    QColor colour_;
    int value_width_ = 0;
    int value_column() const; // px for the value
    int full_width(int value_width) const;
};

class PhraseSheet : public theme::Popup {
    Q_OBJECT
  public:
    explicit PhraseSheet(QWidget* parent);
    // A row; choosing it runs the action and closes the sheet.
    SheetRow* add_row(const QString& value, const QString& advice, bool chosen, std::function<void()> action);
    void add_widget(QWidget* widget);
    void add_heading(const QString& words);
    // What is typed in this entry counts by a button only. While it holds something that was typed, a press outside
    // does not close the sheet, and Esc does so the second time. Where the sheet goes in another way, as when another
    // program comes to the front, it is there again when the sheet is opened again; a password is not. `about`: what
    // the entry is about, where a sheet is opened for one thing and another. To be called once the entry has its text.
    void guard(QLineEdit* entry, const QString& about = {});
    void finish(); // what was typed has been used: it closes
    // Asks by a dialog, which a sheet may not stand over; the sheet is there again afterwards, with what was typed.
    QString asked_by(const std::function<QString()>& dialog);
    QLabel* add_advice(const QString& words);
    // The rows so far are a list of their own: the arrow keys stay in it, Tab goes on.
    void end_list() { lists_.append(rows_.size()); }
    // Opens under `anchor` (global coordinates of the phrase), kept on the screen.
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
        QString key; // under which what is typed is kept
    };
    QList<Guarded> guarded_;
    bool forgets_ = false; // what was typed was used, or given up
    bool escaped_once_ = false;
    bool holds_something_typed() const;
    QList<SheetRow*> rows_;
    QList<qsizetype> lists_; // where each ends
    void walk(int step);
};

}
