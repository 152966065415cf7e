#include "app/models/tray/choice.h"

#include "app/models/tray/out_tray.h"

#include <algorithm>
#include <utility>

namespace yelvin {

Choice::Choice(OutTray& tray, QObject* parent) : QObject(parent), tray_(tray) {
    connect(&tray_, &OutTray::changed, this, &Choice::follow_tray);
    connect(&tray_, &OutTray::loaded, this, [this] {
        const Tray& now = tray_.tray();
        if (!now.documents.empty()) set_current(QString::fromStdString(now.documents.front()->pages.front()->id));
    });
    connect(&tray_, &OutTray::stepped, this, [this] {
        trial_.reset();
        emit changed();
    });
}

PagePtr Choice::current() const { return tray_.page(current_.toStdString()); }

void Choice::go_to(const QString& id) {
    if (current_ != id) trial_.reset();
    current_ = id;
    seen_ = current();
}

// The tray has changed, so the current page may have changed or been removed.
void Choice::follow_tray() {
    const Tray& tray = tray_.tray();
    bool other = false;
    if (!next_.empty() && tray_.page(next_)) {
        go_to(QString::fromStdString(std::exchange(next_, {})));
        chosen_.clear();
        other = true;
    }
    const PagePtr now = current();
    if (!now && !(current_.isEmpty() && tray.documents.empty())) {
        go_to(tray.documents.empty() ? QString() : QString::fromStdString(tray.documents.back()->pages.back()->id));
        other = true;
    } else if (now != seen_) {
        seen_ = now;
        other = true;
    }
    other = std::erase_if(chosen_, [this](const std::string& id) { return !tray_.page(id); }) > 0 || other;
    if (other) emit changed();
}

void Choice::set_current(const QString& id) {
    if (current_ == id && chosen_.empty()) return;
    go_to(id);
    chosen_.clear();
    emit changed();
}

void Choice::step(int by, bool extend) {
    const auto all = page_ids(tray_.tray());
    const auto at = std::ranges::find(all, current_.toStdString());
    if (at == all.end()) return;
    const ptrdiff_t next = at - all.begin() + by;
    if (next < 0 || next >= static_cast<ptrdiff_t>(all.size())) return;
    const QString id = QString::fromStdString(all[static_cast<size_t>(next)]);
    if (!extend) return set_current(id);
    chosen_ = chosen();
    chosen_.insert(id.toStdString());
    go_to(id);
    emit changed();
}

// ---- several pages

PageIds Choice::chosen() const {
    PageIds ids = chosen_;
    if (!current_.isEmpty()) ids.insert(current_.toStdString());
    return ids;
}

void Choice::toggle(const QString& id) {
    PageIds ids = chosen();
    const std::string page = id.toStdString();
    if (!tray_.page(page)) return;
    if (ids.contains(page) && ids.size() > 1) {
        ids.erase(page);
        chosen_ = ids;
        if (current_ == id) go_to(QString::fromStdString(in_tray_order(tray_.tray(), ids).front()));
    } else {
        ids.insert(page);
        chosen_ = ids;
        go_to(id);
    }
    emit changed();
}

void Choice::choose_up_to(const QString& id) {
    const auto all = page_ids(tray_.tray());
    const auto from = std::ranges::find(all, current_.toStdString()), to = std::ranges::find(all, id.toStdString());
    if (from == all.end() || to == all.end()) return;
    chosen_ = PageIds(std::min(from, to), std::max(from, to) + 1);
    emit changed();
}

void Choice::choose(const PageIds& ids) {
    const auto there = in_tray_order(tray_.tray(), ids);
    if (there.empty()) return;
    chosen_ = PageIds(there.begin(), there.end());
    if (!chosen_.contains(current_.toStdString())) go_to(QString::fromStdString(there.front()));
    emit changed();
}

void Choice::choose_all() {
    const auto all = page_ids(tray_.tray());
    choose(PageIds(all.begin(), all.end()));
}

PageIds Choice::pages_of_document() const {
    PageIds ids;
    if (const auto place = find_page(tray_.tray(), current_.toStdString())) {
        for (const PagePtr& page : tray_.tray().documents[place->document]->pages) ids.insert(page->id);
    }
    return ids;
}

void Choice::choose_every_other(bool odd) {
    const auto place = find_page(tray_.tray(), current_.toStdString());
    if (!place) return;
    PageIds ids;
    int number = 0;
    for (const PagePtr& page : tray_.tray().documents[place->document]->kept_pages()) {
        if ((++number % 2 == 1) == odd) ids.insert(page->id);
    }
    choose(ids);
}

void Choice::choose_others() {
    const PageIds now = chosen();
    PageIds others;
    for (const std::string& id : page_ids(tray_.tray())) {
        if (!now.contains(id)) others.insert(id);
    }
    choose(others);
}

bool Choice::choose_numbers(const QString& text) {
    const auto place = find_page(tray_.tray(), current_.toStdString());
    if (!place) return false;
    const auto pages = tray_.tray().documents[place->document]->kept_pages();
    const auto numbers = numbers_in(text.toStdString(), static_cast<int>(pages.size()));
    if (!numbers) return false;
    PageIds ids;
    for (const int number : *numbers) ids.insert(pages[static_cast<size_t>(number - 1)]->id);
    choose(ids);
    return true;
}

// ---- trying

void Choice::try_recipe(const Recipe& recipe) {
    if (current_.isEmpty() || trial_ == recipe) return;
    trial_ = recipe;
    emit trial_changed();
}

void Choice::stop_trying() {
    if (!trial_) return;
    trial_.reset();
    emit trial_changed();
}

Recipe Choice::shown_recipe() const {
    if (trial_) return *trial_;
    const PagePtr page = current();
    return page ? page->recipe : Recipe{};
}

}
