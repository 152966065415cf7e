// How much of the window the view gets: tray slim or full, side column, view alone, two pages side by side. Stored in
// last.json.
#pragma once

#include <QObject>
#include <QTimer>

namespace yelvin {

class LastChoices;

class Room : public QObject {
    Q_OBJECT
  public:
    explicit Room(LastChoices& last, QObject* parent = nullptr);
    ~Room() override { keep(); }

    // Beside a page the tray has a setting of its own: slim, unless the user left it full there.
    enum class Beside { Page, TheRest };
    bool tray_is_full(Beside beside) const { return beside == Beside::Page ? full_at_page_ : full_; }
    // Each setter emits changed() if it changes anything.
    void set_tray_full(Beside beside, bool full);
    int tray_height() const { return tray_height_; } // height of the pages' strip while it is full, px
    void set_tray_height(int px);
    bool side_is_folded() const { return side_folded_; }
    void fold_side(bool folded);
    bool is_view_alone() const { return alone_; }
    void leave_view_alone(bool alone);
    bool two_pages() const { return two_pages_; } // if that shows more
    void set_two_pages(bool two);

    static constexpr int least_tray = 130, usual_tray = 154, most_tray = 260;

  signals:
    void changed();

  private:
    LastChoices& last_;
    bool full_, full_at_page_, side_folded_, alone_, two_pages_;
    int tray_height_;
    QTimer keep_; // delays storing while an edge is dragged

    template <class T>
    void set(T& value, T to);
    void keep();
};

}
