// A name as a row of chips, one for each part: its value above, its kind below. Chips are dragged, added from a list,
// removed, and have choices. Keys: arrows walk, Ctrl+arrows move the chip, Delete removes it, + adds one behind it.
#pragma once

#include "app/ticketbar/chip.h"

#include <QList>
#include <QWidget>

#include <functional>
#include <optional>
#include <vector>

class QVBoxLayout;

namespace yelvin {

class ChipRow : public QWidget {
    Q_OBJECT
  public:
    using Parts = std::vector<NamePart>;
    enum class For { Name, Folders }; // Folders: with slashes and without counters
    // `becomes` returns the value of a part for the current document; empty: none.
    ChipRow(For what, Parts parts, std::function<QString(const NamePart&)> becomes, QWidget* parent);
    const Parts& parts() const { return parts_; }
    void show_values(); // updates the values
    void focus_first();

  signals:
    void changed();                            // parts()
    void pointed(const NamePart& at, bool is); // by the mouse or the keys

  private:
    For what_;
    Parts parts_;
    std::function<QString(const NamePart&)> becomes_;
    QWidget *row_, *below_; // the chips; the choices of a chip, or the list of parts to add
    QVBoxLayout* choices_;
    QList<Chip*> chips_;
    QAbstractButton* add_;
    std::optional<size_t> chosen_;
    int drop_at_ = -1;

    QString shown(const NamePart& part) const;
    void build();
    void lay_out();
    void choose(std::optional<size_t> chip);
    void show_choices(size_t chip);
    void show_list(size_t behind);
    void clear_below();
    void fit();
    void order_tabs();
    void set_part(size_t chip, const NamePart& part);
    void move(size_t chip, int step);
    void remove(size_t chip);
    int place_at(QPoint at) const;
    void drop(size_t chip, QPoint at);
    bool eventFilter(QObject* watched, QEvent* event) override;
};

}
