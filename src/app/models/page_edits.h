// What a person does to pages: each is one step that can be undone. Those without a page named do it to the chosen
// ones. Each ends with OutTray::changed() before it returns, if it changes anything; those in the background end with
// it later, or with trouble said.
#pragma once

#include "app/models/out_tray.h"
#include "core/developing/join.h"
#include "core/ticket/ticket.h"

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
    enum class Gesture { Single, Continuing }; // Continuing: joins the step before, if that was the same a moment ago
    void set_recipe(const QString& page_id, const Recipe& recipe, const QString& name,
                    Gesture gesture = Gesture::Single);
    // As set_recipe(), with what `change` makes of the recipe that the page has now: what is shown as an action must
    // not bring back the recipe that the page had when it was shown. Nothing if the page is gone.
    void change_recipe(const QString& page_id, const std::function<void(Recipe&)>& change, const QString& name);
    void turn(int quarters);
    void tilt(double by_degrees);
    void pick_colour(PointMm on_original); // the colour there is dropped from the current page; in the background
    // Tones, edges, cleaning and colour mode of the page `from` for others: where eyes are red is each page's own.
    void do_the_same(const QString& from, const PageIds& pages);
    void do_the_same_from_now_on(const QString& from); // into the ticket

    // Places.
    void remove(); // the next page is looked at then, or the one before
    void shift(int by);
    void move_to(const QString& document_id, size_t index);
    void part();
    void duplicate();
    void divide(); // at the current page; at the first of a document: joins it to the one before
    void move_divider(const QString& document_id, size_t index);
    void rename_document(const QString& document_id, const QString& name);
    void drop(); // the current page to a slip, or back
    void bring_back(const QString& page_id);

    // Pages made of others.
    void join(Joined how); // in the background
    // The picture stitched from pages takes their place; they stay with it and can be taken out again. False: none of
    // them is in the tray any more, and nothing changes.
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
