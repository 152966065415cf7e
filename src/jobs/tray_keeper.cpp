#include "jobs/tray_keeper.h"

#include <utility>

namespace yelvin {

Result<std::unique_ptr<TrayKeeper>> TrayKeeper::open(const std::filesystem::path& folder, Executor writing,
                                                     std::function<void(const Error&)> failed) {
    auto lock = StoreLock::take(folder); // first: opening removes what another program is still writing
    if (!lock) return std::unexpected(lock.error());
    auto reading = TrayStore::open(folder);
    if (!reading) return std::unexpected(reading.error());
    auto writer = TrayStore::open(folder);
    if (!writer) return std::unexpected(writer.error());
    return std::unique_ptr<TrayKeeper>(new TrayKeeper(std::move(*lock), std::move(*reading), std::move(*writer),
                                                      std::move(writing), std::move(failed)));
}

TrayKeeper::TrayKeeper(StoreLock lock, TrayStore reading, TrayStore writer, Executor executor,
                       std::function<void(const Error&)> failed)
    : lock_(std::move(lock)), reading_store_(std::move(reading)), writing_store_(std::move(writer)),
      writing_(std::move(executor)), failed_(std::move(failed)) {}

TrayKeeper::Loaded TrayKeeper::load() {
    Loaded loaded;
    auto tray = reading_store_.load();
    if (!tray) return loaded; // what was not read is not removed either
    loaded.tray = std::move(*tray);
    loaded.history = reading_store_.load_history();
    reading_store_.remove_unused(loaded.tray, loaded.history);
    return loaded;
}

void TrayKeeper::keep(const Tray& tray, const TrayHistory* history) {
    {
        const std::scoped_lock lock(guard_);
        const bool on_the_way = tray_.has_value();
        if (!on_the_way) tray_.emplace();
        tray_->tray = tray;
        if (history) tray_->history = *history;
        if (on_the_way) return; // somebody will write it
    }
    writing_([this] { write_tray(); });
}

void TrayKeeper::write_tray() {
    std::optional<ToKeep> latest;
    {
        const std::scoped_lock lock(guard_);
        latest = std::exchange(tray_, std::nullopt);
    }
    if (!latest) return;
    if (auto kept = writing_store_.keep(latest->tray, latest->history ? &*latest->history : nullptr); !kept)
        failed_(kept.error());
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
    if (auto kept = writing_store_.keep_text(page_id, text->page->recipe, text->languages, text->layer); !kept)
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
    return reading_store_.text(page.id, page.recipe, languages);
}

}
