// Which page is looked at, which ones are chosen with it, and a recipe that is only tried on the page looked at.
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

    QString current_id() const { return current_; } // empty when there is none
    PagePtr current() const;                        // null when there is none
    void set_current(const QString& id);            // and it alone is chosen
    // The next page that is put into the tray under this id is looked at as soon as it is there.
    void look_next_at(const std::string& id) { next_ = id; }
    void step(int by, bool extend); // to the next page or the one before

    // The chosen pages, the current one among them; none only where there is no page.
    PageIds chosen() const;
    bool several() const { return chosen().size() > 1; }
    PageIds pages_of_document() const; // the current one
    void toggle(const QString& id);    // and make it the current one
    void choose_up_to(const QString& id);
    void choose(const PageIds& ids); // the first of them becomes the current one, unless it is among them
    void choose_all();
    void choose_every_other(bool odd);        // of the current document, by the numbers on the pages
    void choose_others();                     // those that are not chosen now
    bool choose_numbers(const QString& text); // "1-3, 7" of the current document; false: it is not that

    // A recipe that is only looked at, while something is dragged; the current page's until it is set or given up.
    void try_recipe(const Recipe& recipe);
    void stop_trying();
    bool is_trying() const { return trial_.has_value(); } // a recipe that is not kept yet
    Recipe shown_recipe() const;                          // of the current page

  signals:
    void changed(); // the page looked at, anything about it, or which pages are chosen
    void trial_changed();

  private:
    OutTray& tray_;
    QString current_;
    PagePtr seen_; // the current page as it was told of last
    PageIds chosen_;
    std::string next_;
    std::optional<Recipe> trial_;

    void follow_tray();
    void go_to(const QString& id);
};

}
