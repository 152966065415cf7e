// A chip: one part of a name, with its value above and its kind below. Keys: arrows walk, Ctrl+arrows move it, Delete
// removes it, + adds one behind it.
#pragma once

#include "core/naming/name_part.h"

#include <QAbstractButton>

#include <span>

namespace yelvin {

// What a kind of part is called.
struct PartCaption {
    NamePart::Kind kind;
    const char* key;   // part of the object names of its widgets; the same in every language
    const char* words; // in English; translate it with Chip::tr()
};
std::span<const PartCaption> part_captions(); // one for each kind, in the order in which they are offered
QString part_caption(NamePart::Kind kind);    // "document date"
// Returns the object name of a widget for parts of this kind.
QString part_widget_name(const char* what, NamePart::Kind kind);

class Chip : public QAbstractButton {
    Q_OBJECT
  public:
    static constexpr int height_px = 40;
    Chip(const QString& value, NamePart::Kind kind, QWidget* parent);
    QSize sizeHint() const override;
    void set_chosen(bool chosen);
    void set_value(const QString& value);

  signals:
    void pointed(bool is); // by the mouse or the keys
    void walk_wanted(int step);
    void move_wanted(int step);
    void remove_wanted();
    void add_wanted();
    void dragged(QPoint in_row);
    void dropped(QPoint in_row);

  protected:
    void paintEvent(QPaintEvent*) override;
    void enterEvent(QEnterEvent*) override { emit pointed(true); }
    void leaveEvent(QEvent*) override { emit pointed(hasFocus()); }
    void focusInEvent(QFocusEvent* event) override;
    void keyPressEvent(QKeyEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;

  private:
    QString caption_;
    bool chosen_ = false, moves_ = false;
    QPoint pressed_at_;
};

}
