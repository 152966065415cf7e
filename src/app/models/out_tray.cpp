#include "app/models/out_tray.h"

#include "app/models/messages.h"
#include "app/models/pools.h"

namespace yelvin {

OutTray::OutTray(Messages& messages, Pools& pools, const QString& store_folder, QObject* parent)
    : QObject(parent), messages_(messages) {
    const Executor here = on_thread_of(this);
    auto opened = TrayKeeper::open(store_folder.toStdString(), pools.keeping(), [this, here](const Error& error) {
        here([this, error] { messages_.complain(error); });
    });
    if (!opened) { // said once somebody can see it
        no_store_ = opened.error();
        here([this] { messages_.complain(*no_store_); });
        return;
    }
    keeper_ = std::move(*opened);
    pools.keeping()([this, here] { here([this, read = keeper_->load()] { take_over(read); }); });
}

void OutTray::take_over(TrayKeeper::Loaded read) {
    tray_ = std::move(read.tray);
    history_ = std::move(read.history);
    new_document_ = tray_.documents.empty() || !tray_.documents.back()->saved_as.empty();
    is_loaded_ = true;
    emit changed();
    emit loaded();
    for (const auto& then : std::exchange(waiting_, {})) then();
}

void OutTray::when_loaded(std::function<void()> then) {
    if (is_loaded_) return then();
    if (no_store_) return messages_.complain(*no_store_);
    waiting_.push_back(std::move(then));
}

// ---- edits and their history

void OutTray::change(const Tray& tray) {
    if (tray == tray_) return;
    tray_ = tray;
    if (keeper_) keeper_->keep(tray_, std::exchange(history_changed_, false) ? &history_ : nullptr);
    emit changed();
}

void OutTray::edit(const Tray& tray, const QString& name, const std::string& gesture) {
    if (tray == tray_) return;
    constexpr std::chrono::seconds together{2};
    const auto now = std::chrono::steady_clock::now();
    const bool joins = !gesture.empty() && gesture == gesture_ && now - gesture_at_ < together;
    gesture_ = gesture;
    gesture_at_ = now;
    if (!joins) {
        history_.undo.push_back({tray_, name.toStdString()});
        if (history_.undo.size() > most_steps) history_.undo.erase(history_.undo.begin());
        history_.redo.clear();
        history_changed_ = true;
    }
    change(tray);
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

void OutTray::step(std::vector<TrayStep>& from, std::vector<TrayStep>& to) {
    if (from.empty()) return;
    const TrayStep step = std::move(from.back());
    from.pop_back();
    to.push_back({tray_, step.name});
    history_changed_ = true;
    gesture_.clear();
    change(with_notices_of(step.tray, tray_));
    emit stepped();
}

void OutTray::undo() { step(history_.undo, history_.redo); }
void OutTray::redo() { step(history_.redo, history_.undo); }

QStringList OutTray::undo_names(int most) const {
    QStringList names;
    for (auto at = history_.undo.rbegin(); at != history_.undo.rend() && names.size() < most; ++at)
        names.append(QString::fromStdString(at->name));
    return names;
}

void OutTray::put_away_saved() {
    Tray left = tray_;
    for (const auto& document : tray_.documents) {
        if (!document->saved_as.empty()) left = without_document(left, document->id);
    }
    edit(left, tr("put away"));
}

// ---- pages that come in

bool OutTray::next_page_starts_document() const {
    return new_document_ || tray_.documents.empty() || !tray_.documents.back()->saved_as.empty();
}

void OutTray::set_next_page_starts_document(bool starts) {
    new_document_ = starts;
    emit changed();
}

void OutTray::set_landing(std::optional<Landing> landing) {
    if (!landing && !landing_) return;
    landing_ = std::move(landing);
    emit changed();
}

void OutTray::add_page(const PagePtr& page, bool starts_document, Step step, const QString& step_name) {
    Tray with;
    if (landing_ && this->page(landing_->page)) {
        with = landing_->how == Landing::How::Instead  ? with_page_replaced(tray_, landing_->page, page)
               : landing_->how == Landing::How::Before ? with_page_inserted(tray_, landing_->page, page)
                                                       : with_page_behind(tray_, landing_->page, page);
        landing_ = Landing{page->id, Landing::How::Behind}; // more pages of this run follow it
    } else {
        with = with_page_added(tray_, page, starts_document);
    }
    new_document_ = false;
    if (step == Step::New)
        edit(with, step_name);
    else
        change(with);
}

// ---- readings

std::optional<TextLayer> OutTray::text_of(const Page& page, const std::string& languages) const {
    return keeper_ ? keeper_->text(page, languages) : std::nullopt;
}

void OutTray::keep_text(const PagePtr& page, const std::string& languages, const TextLayer& text) {
    if (keeper_) keeper_->keep_text(page, languages, text);
}

}
