// The desk's tray: its edits and their history, and which of its pages are chosen.
#include "app/desk.h"

namespace yelvin {

bool Desk::next_page_starts_document() const {
    return new_document_ || tray_.documents.empty() || !tray_.documents.back()->saved_as.empty();
}

void Desk::set_next_page_starts_document(bool starts) {
    new_document_ = starts;
    emit tray_changed();
}

void Desk::change_tray(const Tray& tray) {
    tray_ = tray;
    keep_tray();
    if (!page_at(tray_, current_.toStdString())) {
        trial_.reset();
        current_ =
            tray_.documents.empty() ? QString() : QString::fromStdString(tray_.documents.back()->pages.back()->id);
        emit current_changed();
    }
    emit tray_changed();
}

// Written by the keeper, the latest tray only: while one is being written, those in between are passed over.
void Desk::keep_tray() {
    if (!keeper_) return;
    {
        const std::scoped_lock lock(to_keep_lock_);
        const bool on_the_way = to_keep_.has_value();
        if (!on_the_way) to_keep_.emplace();
        to_keep_->tray = tray_;
        if (std::exchange(history_changed_, false)) to_keep_->history = history_;
        if (on_the_way) return; // somebody will write it
    }
    keeping_pool_.start([this] {
        std::optional<ToKeep> latest;
        {
            const std::scoped_lock lock(to_keep_lock_);
            latest = std::exchange(to_keep_, std::nullopt);
        }
        if (!latest) return;
        if (auto kept = keeper_->keep(latest->tray, latest->history ? &*latest->history : nullptr); !kept)
            on_desk([this, e = kept.error()] { emit trouble(QString::fromStdString(e.sentence)); });
    });
}

void Desk::edit(const Tray& tray, const QString& name) {
    if (tray == tray_) return;
    gesture_.clear();
    history_.undo.push_back({tray_, name.toStdString()});
    if (history_.undo.size() > most_steps) history_.undo.erase(history_.undo.begin());
    history_.redo.clear();
    history_changed_ = true;
    change_tray(tray);
}

namespace {
// What was noticed about a page since then stays with it when an older tray comes back.
Tray with_notices_of(const Tray& older, const Tray& newer) {
    std::map<std::string, PagePtr> seen;
    for (const auto& document : newer.documents) {
        for (const auto& page : document->pages) {
            if (page->noticed) seen.emplace(page->id, page);
        }
    }
    Tray out = older;
    for (const auto& document : older.documents) {
        for (const auto& page : document->pages) {
            const auto now = page->noticed ? seen.end() : seen.find(page->id);
            if (now != seen.end()) out = with_page(out, now->second);
        }
    }
    return out;
}
}

void Desk::step_in_history(std::vector<TrayStep>& from, std::vector<TrayStep>& to) {
    if (from.empty()) return;
    const TrayStep step = std::move(from.back());
    from.pop_back();
    to.push_back({tray_, step.name});
    history_changed_ = true;
    gesture_.clear();
    trial_.reset();
    change_tray(with_notices_of(step.tray, tray_));
    std::erase_if(chosen_, [this](const std::string& id) { return !page_at(tray_, id); });
    emit current_changed();
}

QStringList Desk::undo_names(int most) const {
    QStringList names;
    for (auto at = history_.undo.rbegin(); at != history_.undo.rend() && names.size() < most; ++at)
        names.append(QString::fromStdString(at->name));
    return names;
}

void Desk::undo() { step_in_history(history_.undo, history_.redo); }
void Desk::redo() { step_in_history(history_.redo, history_.undo); }

// ---- choosing

void Desk::set_current_page(const QString& id) {
    if (current_ == id && chosen_.empty()) return;
    if (current_ != id) trial_.reset();
    current_ = id;
    chosen_.clear();
    emit current_changed();
}

PageIds Desk::chosen() const {
    PageIds ids = chosen_;
    if (!current_.isEmpty()) ids.insert(current_.toStdString());
    return ids;
}

void Desk::toggle_chosen(const QString& id) {
    PageIds ids = chosen();
    const std::string page = id.toStdString();
    if (!page_at(tray_, page)) return;
    if (ids.contains(page) && ids.size() > 1) {
        ids.erase(page);
        chosen_ = ids;
        if (current_ == id) {
            trial_.reset();
            current_ = QString::fromStdString(in_tray_order(tray_, ids).front());
        }
    } else {
        ids.insert(page);
        chosen_ = ids;
        if (current_ != id) trial_.reset();
        current_ = id;
    }
    emit current_changed();
}

void Desk::choose_up_to(const QString& id) {
    const auto all = page_ids(tray_);
    const auto from = std::ranges::find(all, current_.toStdString()), to = std::ranges::find(all, id.toStdString());
    if (from == all.end() || to == all.end()) return;
    chosen_ = PageIds(std::min(from, to), std::max(from, to) + 1);
    emit current_changed();
}

void Desk::choose_pages(const PageIds& ids) {
    const auto there = in_tray_order(tray_, ids);
    if (there.empty()) return;
    chosen_ = PageIds(there.begin(), there.end());
    if (!chosen_.contains(current_.toStdString())) {
        trial_.reset();
        current_ = QString::fromStdString(there.front());
    }
    emit current_changed();
}

void Desk::choose_all() {
    const auto all = page_ids(tray_);
    choose_pages(PageIds(all.begin(), all.end()));
}

PageIds Desk::pages_of_document() const {
    PageIds ids;
    if (const auto place = find_page(tray_, current_.toStdString())) {
        for (const PagePtr& page : tray_.documents[place->document]->pages) ids.insert(page->id);
    }
    return ids;
}

void Desk::choose_every_other(bool odd) {
    const auto place = find_page(tray_, current_.toStdString());
    if (!place) return;
    PageIds ids;
    int number = 0;
    for (const PagePtr& page : tray_.documents[place->document]->kept_pages()) {
        if ((++number % 2 == 1) == odd) ids.insert(page->id);
    }
    choose_pages(ids);
}

void Desk::choose_others() {
    const PageIds now = chosen();
    PageIds others;
    for (const std::string& id : page_ids(tray_)) {
        if (!now.contains(id)) others.insert(id);
    }
    choose_pages(others);
}

bool Desk::choose_numbers(const QString& text) {
    const auto place = find_page(tray_, current_.toStdString());
    if (!place) return false;
    const auto pages = tray_.documents[place->document]->kept_pages();
    const auto numbers = numbers_in(text.toStdString(), static_cast<int>(pages.size()));
    if (!numbers) return false;
    PageIds ids;
    for (const int number : *numbers) ids.insert(pages[static_cast<size_t>(number - 1)]->id);
    choose_pages(ids);
    return true;
}

void Desk::step_page(int by, bool extend) {
    const auto all = page_ids(tray_);
    const auto at = std::ranges::find(all, current_.toStdString());
    if (at == all.end()) return;
    const ptrdiff_t next = at - all.begin() + by;
    if (next < 0 || next >= static_cast<ptrdiff_t>(all.size())) return;
    const QString id = QString::fromStdString(all[static_cast<size_t>(next)]);
    if (!extend) return set_current_page(id);
    chosen_ = chosen();
    chosen_.insert(id.toStdString());
    trial_.reset();
    current_ = id;
    emit current_changed();
}

// ---- edits of the chosen pages

void Desk::remove_current() {
    const PageIds ids = chosen();
    if (ids.empty()) return;
    // The next page is looked at afterwards, or the one before.
    const auto all = page_ids(tray_);
    const auto gone = [&](const std::string& id) { return ids.contains(id); };
    const auto last = std::ranges::find(all.rbegin(), all.rend(), *std::find_if(all.rbegin(), all.rend(), gone)).base();
    auto next = std::find_if_not(last, all.end(), gone);
    if (next == all.end()) {
        const auto before = std::find_if_not(all.rbegin(), all.rend(), gone);
        next = before == all.rend() ? all.end() : before.base() - 1;
    }
    current_ = next == all.end() ? QString() : QString::fromStdString(*next);
    chosen_.clear();
    trial_.reset();
    edit(without_pages(tray_, ids), ids.size() == 1 ? tr("remove page") : tr("remove %1 pages").arg(ids.size()));
    emit current_changed();
}

void Desk::shift_chosen(int by) {
    edit(with_pages_shifted(tray_, chosen(), by), tr("move page"));
    emit current_changed();
}

void Desk::move_chosen(const QString& document_id, size_t index) {
    const PageIds ids = chosen();
    edit(with_pages_moved(tray_, ids, document_id.toStdString(), index),
         ids.size() == 1 ? tr("move page") : tr("move %1 pages").arg(ids.size()));
    emit current_changed();
}

void Desk::part_chosen() {
    edit(with_pages_apart(tray_, chosen()), tr("new document"));
    emit current_changed();
}

void Desk::double_chosen() {
    edit(with_pages_doubled(tray_, chosen()), tr("duplicate"));
    emit current_changed();
}

void Desk::divide_at_current() {
    const auto place = find_page(tray_, current_.toStdString());
    if (!place) return;
    if (place->page > 0)
        edit(with_divider_at(tray_, current_.toStdString()), tr("new document"));
    else
        edit(without_divider_at(tray_, tray_.documents[place->document]->id), tr("join documents"));
}

void Desk::move_divider(const QString& document_id, size_t index) {
    edit(with_divider_moved(tray_, document_id.toStdString(), index), tr("move divider"));
}

void Desk::put_away_saved() {
    Tray left = tray_;
    for (const auto& document : tray_.documents) {
        if (!document->saved_as.empty()) left = without_document(left, document->id);
    }
    edit(left, tr("put away"));
}

void Desk::scan_at_current(Landing::How how) {
    if (scanning_ || previewing_ || current_.isEmpty()) return;
    landing_ = Landing{current_.toStdString(), how};
    emit tray_changed();
    start_scan();
}

}
