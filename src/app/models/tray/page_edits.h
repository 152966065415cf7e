// The user's edits of pages. Each is one undo step. Functions without a page id apply to the selected pages.
// OutTray::changed() is emitted before they return, if they change anything; those that work in the background emit it
// later, or report an error. Lives on the window's thread.
#pragma once

#include "app/models/tray/out_tray.h"
#include "core/developing/join.h"
#include "core/ticket/ticket.h"
#include "core/tray/tray_edits.h"

#include <QObject>

namespace yelvin {

class Choice;
class Looking;
class Messages;
class Pictures;
class Pools;
class Tickets;

class PageEdits : public QObject {
    Q_OBJECT
  public:
    PageEdits(Messages& messages, Tickets& tickets, OutTray& tray, Choice& choice, Pictures& pictures, Looking& looking,
              Pools& pools, QObject* parent = nullptr);

    // Corrections.
    enum class Gesture {
        Single,
        Continuing
    }; // Continuing: joins the previous step if that was the same within two seconds
    void set_recipe(const QString& page_id, const Recipe& recipe, const QString& name,
                    Gesture gesture = Gesture::Single);
    // Applies `change` to the present recipe of the page. Use it for actions on the screen, which must not restore the
    // recipe of the time when they were shown. Does nothing if the page is gone.
    void change_recipe(const QString& page_id, const std::function<void(Recipe&)>& change, const QString& name);
    void turn(int quarters);
    void tilt(double by_degrees);
    void pick_colour(PointMm on_original); // drops the colour at this place from the current page; in the background
    // Copies tones, edges, cleaning and colour mode of page `from` to others, but not the places of red eyes.
    void do_the_same(const QString& from, const PageIds& pages);
    void do_the_same_from_now_on(const QString& from); // sets them in the ticket

    // Places.
    void remove(); // the next page becomes the current one, or the previous
    void shift(int by);
    void move_to(const QString& document_id, size_t index);
    void part();
    void duplicate();
    void divide(); // in front of the current page; if it is the first, joins its document to the one before
    void move_divider(const QString& document_id, size_t index);
    void rename_document(const QString& document_id, const QString& name);
    void drop(); // leaves the current page out, or brings it back
    void bring_back(const QString& page_id);

    // Pages made of others.
    void join(Joined how); // in the background
    // Replaces pages by the picture stitched from them, which keeps them as its pieces. Returns false and changes
    // nothing if none of them is in the tray.
    bool put_together(const std::vector<PagePtr>& pieces, const Original& picture);
    void take_pieces_out(const QString& page_id);

  private:
    Messages& messages_;
    Tickets& tickets_;
    OutTray& tray_;
    Choice& choice_;
    Pictures& pictures_;
    Looking& looking_;
    Executor background_, here_;

    void change_chosen(const std::function<void(Page&)>& change, const QString& name);
    void put_joined(const std::vector<PagePtr>& pages, const Original& made, const Ticket& ticket);
    PagePtr in_place_of(const std::vector<PagePtr>& pages, Page made, const QString& name);
};

}
