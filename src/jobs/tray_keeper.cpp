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
    for (int tries = 0; tries < 2 && !reading_store_; ++tries) // Two attempts, because a disk may fail once.
        if (auto reading = TrayStore::open(store_.folder())) reading_store_ = std::move(*reading);
    return loaded;
}

void TrayKeeper::keep(const Tray& tray, const TrayHistory* history) {
    {
        const std::scoped_lock lock(guard_);
        if (!tray_) tray_.emplace();
        tray_->tray = tray;
        if (history) tray_->history = *history;
        if (std::exchange(is_on_the_way_, true)) return; // The task that is already queued writes it.
    }
    writing_([this] { write_tray(); });
}

void TrayKeeper::keep_ticket(const std::string& id, TicketInUsePtr ticket) {
    {
        const std::scoped_lock lock(guard_);
        tickets_.insert_or_assign(id, std::move(ticket));
        if (std::exchange(is_on_the_way_, true)) return;
    }
    writing_([this] { write_tray(); });
}

// The tickets are written before the tray that refers to them.
Result<void> TrayKeeper::write_tickets() {
    TicketsInUse latest;
    {
        const std::scoped_lock lock(guard_);
        latest = tickets_;
    }
    for (const auto& [id, ticket] : latest) {
        if (auto kept = store_.keep_ticket(id, *ticket); !kept) return kept;
        const std::scoped_lock lock(guard_);
        if (const auto at = tickets_.find(id); at != tickets_.end() && at->second == ticket) tickets_.erase(at);
    }
    return {};
}

void TrayKeeper::write_tray() {
    std::optional<ToKeep> latest;
    {
        const std::scoped_lock lock(guard_);
        is_on_the_way_ = false;
        latest = std::exchange(tray_, std::nullopt);
        is_writing_ = true;
    }
    Result<void> kept = write_tickets();
    if (kept && latest) kept = store_.keep(latest->tray, latest->history ? &*latest->history : nullptr);
    if (!kept && latest) wait_again(std::move(*latest));
    {
        const std::scoped_lock lock(guard_);
        is_writing_ = false;
    }
    if (!kept) failed_(kept.error());
}

// Stores `unkept` for the next attempt. If a newer tray has arrived meanwhile, only its history is taken over.
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
        if (!is_anything_left() || std::exchange(is_on_the_way_, true)) return;
    }
    writing_([this] { write_tray(); });
}

bool TrayKeeper::is_all_kept() const {
    const std::scoped_lock lock(guard_);
    return !is_anything_left() && !is_writing_;
}

void TrayKeeper::discard(const Original& original) {
    writing_([this, original] { store_.discard(original); });
}

void TrayKeeper::keep_text(const PagePtr& page, const std::string& languages, const TextLayer& text) {
    const PageAndLanguages which{page->id, languages};
    {
        const std::scoped_lock lock(guard_);
        texts_.insert_or_assign(which, Text{page, languages, text, ++last_text_});
    }
    writing_([this, which] { write_text(which); });
}

void TrayKeeper::write_text(const PageAndLanguages& which) {
    std::optional<Text> text;
    {
        const std::scoped_lock lock(guard_);
        if (const auto at = texts_.find(which); at != texts_.end()) text = at->second;
    }
    if (!text) return;
    if (auto kept = store_.keep_text(which.first, text->page->recipe, text->languages, text->layer); !kept)
        return failed_(kept.error()); // text() returns it as long as the program runs.
    const std::scoped_lock lock(guard_);
    if (const auto at = texts_.find(which); at != texts_.end() && at->second.number == text->number) texts_.erase(at);
}

std::optional<TextLayer> TrayKeeper::text(const Page& page, const std::string& languages) {
    std::optional<TrayStore::KeptText> reading;
    {
        const std::scoped_lock lock(guard_);
        if (const auto at = texts_.find({page.id, languages}); at != texts_.end())
            reading = TrayStore::KeptText{at->second.page->recipe, at->second.layer};
    }
    if (!reading && reading_store_) reading = reading_store_->text(page.id, languages);
    if (!reading) return std::nullopt;
    if (reading->read_as == page.recipe) return std::move(reading->layer);
    const SizePx size{page.original.width_px, page.original.height_px};
    if (!words_stay(read_as(reading->read_as, reading->layer), page.recipe, size, page.original.dpi))
        return std::nullopt;
    return carried_words(reading->layer, reading->read_as, page.recipe, size, page.original.dpi);
}

void TrayKeeper::tell_read_pages(std::function<void(std::vector<TrayStore::ReadPage>)> then) {
    writing_([this, then = std::move(then)] { then(store_.read_pages()); });
}

void TrayKeeper::tell_kept(const KeepingRule& rule, std::chrono::sys_seconds now,
                           std::function<void(std::vector<KeptDocument>)> then) {
    writing_([this, rule, now, then = std::move(then)] {
        if (auto gone = store_.delete_expired(rule, now); !gone) failed_(gone.error());
        then(store_.kept_documents());
    });
}

}
