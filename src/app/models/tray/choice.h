// The current page, the selected pages, and a recipe that is only tried on the current page. Lives on the window's
// thread.
#pragma once

#include "core/tray/tray_edits.h"

#include <QObject>

#include <optional>

namespace yelvin {

class OutTray;

class Choice : public QObject {
    Q_OBJECT
  public:
    explicit Choice(OutTray& tray, QObject* parent = nullptr);

    QString current_id() const { return current_; } // empty if there is none
    PagePtr current() const;                        // null if there is none
    void set_current(const QString& id);            // and selects it alone
    // Makes the page with this id the current one as soon as it is in the tray.
    void look_next_at(const std::string& id) { next_ = id; }
    void step(int by, bool extend); // to the next or the previous page

    // The selected pages, including the current one; empty only if there is no page.
    PageIds chosen() const;
    bool several() const { return chosen().size() > 1; }
    PageIds pages_of_document() const; // of the current page's document
    void toggle(const QString& id);    // and makes it the current one
    void choose_up_to(const QString& id);
    void choose(const PageIds& ids); // the first becomes the current one, unless the current one is among them
    void choose_all();
    void choose_every_other(bool odd);        // of the current document, by page numbers
    void choose_others();                     // inverts the selection
    bool choose_numbers(const QString& text); // "1-3, 7" of the current document; false if it is not such a list

    // A recipe of the current page that is only shown, while something is dragged, until it is set or discarded.
    void try_recipe(const Recipe& recipe);
    void stop_trying();
    bool is_trying() const { return trial_.has_value(); } // whether such a recipe is shown
    Recipe shown_recipe() const;                          // of the current page

  signals:
    void changed(); // the current page, anything about it, or the selection changed
    void trial_changed();

  private:
    OutTray& tray_;
    QString current_;
    PagePtr seen_; // the current page at the last changed()
    PageIds chosen_;
    std::string next_;
    std::optional<Recipe> trial_;

    void follow_tray();
    void go_to(const QString& id);
};

}
