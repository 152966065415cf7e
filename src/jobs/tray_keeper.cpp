#include "jobs/tray_keeper.h"

#include <utility>

namespace yelvin {

Result<std::unique_ptr<TrayKeeper>> TrayKeeper::open(const std::filesystem::path& folder, Executor writing,
                                                     std::function<void(const Error&)> failed) {
    auto lock = StoreLock::take(folder);
    if (!lock) return std::unexpected(lock.error());
    auto store = TrayStore::open(folder);
    if (!store && store.error().kind == ErrorKind::BadInput) store = TrayStore::open_afresh(folder);
    if (!store) return std::unexpected(store.error());
    return std::unique_ptr<TrayKeeper>(
        new TrayKeeper(std::move(*lock), std::move(*store), std::move(writing), std::move(failed)));
}

TrayKeeper::TrayKeeper(StoreLock lock, TrayStore store, Executor executor, std::function<void(const Error&)> failed)
    : lock_(std::move(lock)), store_(std::move(store)), writing_(std::move(executor)), failed_(std::move(failed)) {}

Result<LoadedTray> TrayKeeper::load() {
    auto loaded = store_.load();
    if (!loaded) return loaded;
    if (auto reading = TrayStore::open(store_.folder())) reading_store_ = std::move(*reading);
    return loaded;
}

void TrayKeeper::keep(const Tray& tray, const TrayHistory* history) {
    {
        const std::scoped_lock lock(guard_);
        if (!tray_) tray_.emplace();
        tray_->tray = tray;
        if (history) tray_->history = *history;
        if (std::exchange(is_on_the_way_, true)) return; // somebody will write it
    }
    writing_([this] { write_tray(); });
}

void TrayKeeper::write_tray() {
    std::optional<ToKeep> latest;
    {
        const std::scoped_lock lock(guard_);
        is_on_the_way_ = false;
        latest = std::exchange(tray_, std::nullopt);
        is_writing_ = latest.has_value();
    }
    if (!latest) return;
    const auto kept = store_.keep(latest->tray, latest->history ? &*latest->history : nullptr);
    if (!kept) wait_again(std::move(*latest));
    {
        const std::scoped_lock lock(guard_);
        is_writing_ = false;
    }
    if (!kept) failed_(kept.error());
}

// Unless a later tray came meanwhile; its history is still to be written then.
void TrayKeeper::wait_again(ToKeep unkept) {
    const std::scoped_lock lock(guard_);
    if (!tray_)
        tray_ = std::move(unkept);
    else if (!tray_->history)
        tray_->history = std::move(unkept.history);
}

void TrayKeeper::retry() {
    {
        const std::scoped_lock lock(guard_);
        if (!tray_ || std::exchange(is_on_the_way_, true)) return;
    }
    writing_([this] { write_tray(); });
}

bool TrayKeeper::is_all_kept() const {
    const std::scoped_lock lock(guard_);
    return !tray_ && !is_writing_;
}

void TrayKeeper::discard(const Original& original) {
    writing_([this, original] { store_.discard(original); });
}

void TrayKeeper::keep_text(const PagePtr& page, const std::string& languages, const TextLayer& text) {
    {
        const std::scoped_lock lock(guard_);
        texts_.insert_or_assign(page->id, Text{page, languages, text});
    }
    writing_([this, id = page->id] { write_text(id); });
}

void TrayKeeper::write_text(const std::string& page_id) {
    std::optional<Text> text;
    {
        const std::scoped_lock lock(guard_);
        if (const auto at = texts_.find(page_id); at != texts_.end()) text = at->second;
    }
    if (!text) return;
    if (auto kept = store_.keep_text(page_id, text->page->recipe, text->languages, text->layer); !kept)
        failed_(kept.error());
    const std::scoped_lock lock(guard_);
    if (const auto at = texts_.find(page_id); at != texts_.end() && at->second.page == text->page) texts_.erase(at);
}

std::optional<TextLayer> TrayKeeper::text(const Page& page, const std::string& languages) {
    {
        const std::scoped_lock lock(guard_);
        const auto at = texts_.find(page.id);
        if (at != texts_.end() && at->second.page->recipe == page.recipe && at->second.languages == languages)
            return at->second.layer;
    }
    return !reading_store_ ? std::nullopt : reading_store_->text(page.id, page.recipe, languages);
}

}
