#include "app/models/text/reading.h"

#include "app/models/threads/pools.h"
#include "app/models/tray/choice.h"
#include "app/models/tray/document_tickets.h"
#include "app/models/tray/looking.h"
#include "app/models/tray/out_tray.h"
#include "core/ocr/engine.h"
#include "core/text/languages.h"

namespace yelvin {

namespace {

constexpr int settled_ms = 250; // after the last change

SizePx size_of(const Original& original) { return {original.width_px, original.height_px}; }

}

Reading::Reading(OutTray& tray, Choice& choice, Looking& looking, DocumentTickets& tickets, Pools& pools,
                 QObject* parent)
    : QObject(parent), background_(pools.errands()), tray_(tray), choice_(choice), looking_(looking),
      tickets_(tickets) {
    constexpr int once_begun_ms = 1500; // Creating an engine would delay the window's first seconds.
    QTimer::singleShot(once_begun_ms, this, &Reading::look_for_languages);
    PageLooker* looker = looking.looker();
    if (!looker) return;
    ReadingQueue::Tell tell;
    tell.changed = [this] { emit changed(); };
    tell.done = [this](const PagePtr& page, const std::vector<std::string>& languages, const Result<TextLayer>& text) {
        end(page, languages, text);
    };
    const auto read = [looker](const PagePtr& page, const std::vector<std::string>& languages,
                               const std::stop_token& stop, const ReadingQueue::Progress& progress) {
        return looker->read(page, languages, stop, progress);
    };
    queue_ = std::make_unique<ReadingQueue>(read, ReadingQueue::Executors{pools.reading(), on_thread_of(this)}, 2,
                                            std::move(tell), pools.stop_token());
    settle_.setSingleShot(true);
    settle_.setInterval(settled_ms);
    connect(&settle_, &QTimer::timeout, this, &Reading::see);
    connect(&tray_, &OutTray::text_kept, this, &Reading::note);
    tray_.when_loaded([this] {
        tray_.tell_read_pages([this, here = on_thread_of(this)](std::vector<TrayStore::ReadPage> pages) {
            here([this, pages = std::move(pages)] {
                for (const auto& page : pages) read_.try_emplace({page.page_id, page.languages}, page.read);
                knows_earlier_ = true;
                settle_.start();
            });
        });
    });
    const auto again = [this] { settle_.start(); };
    connect(&tray_, &OutTray::changed, this, again);
    connect(&tickets_, &DocumentTickets::changed, this, again);
    connect(&choice_, &Choice::changed, this, [this] { queue_->look_at(choice_.current_id().toStdString()); });
}

void Reading::look_for_languages() {
    background_([this, here = on_thread_of(this)] {
        auto found = yelvin::installed_languages();
        std::ranges::sort(found, {}, language_words);
        here([this, found = std::move(found)] {
            if (std::exchange(installed_, found) != found) emit languages_found();
        });
    });
}

void Reading::stop() {
    if (queue_) queue_->stop();
}

void Reading::go_on() {
    if (queue_) queue_->go_on();
}

std::optional<int> Reading::percent_of(const QString& page_id) const {
    return queue_ ? queue_->percent_of(page_id.toStdString()) : std::nullopt;
}

std::optional<double> Reading::share_of(const Document& document) const {
    double done = 0;
    bool any = false;
    const auto pages = document.kept_pages();
    for (const PagePtr& page : pages) {
        const auto percent = percent_of(QString::fromStdString(page->id));
        any = any || percent;
        done += percent ? *percent / 100.0 : 1;
    }
    return any ? std::optional(done / static_cast<double>(pages.size())) : std::nullopt;
}

int Reading::doubtful_words(const QString& page_id) const {
    const PagePtr page = tray_.page(page_id.toStdString());
    const auto at = page ? read_.find({page->id, languages_of(*page)}) : read_.end();
    if (at == read_.end()) return 0;
    const auto said = std::ranges::count_if(page->text.words, &WordEdit::was_doubtful);
    return std::max(0, at->second.doubtful - static_cast<int>(said));
}

QString Reading::why_not(const Page& page) const {
    const auto at = failed_.find({page.id, languages_of(page)});
    return at == failed_.end() ? QString() : at->second;
}

std::string Reading::languages_of(const Page& page) const {
    return joined(reading_languages(page, tickets_.of_page(page.id)));
}

std::optional<ReadingQueue::Coming> Reading::hand_over(const std::string& page_id) {
    if (!queue_) return std::nullopt;
    auto coming = queue_->hand_over(page_id);
    if (!coming) handed_over_.insert(page_id);
    return coming;
}

void Reading::see_what_is_left() {
    handed_over_.clear();
    settle_.start();
}

void Reading::note(const PagePtr& page, const std::string& languages, const TextLayer& text) {
    read_.insert_or_assign({page->id, languages}, read_as(page->recipe, text));
    emit changed();
}

void Reading::end(const PagePtr& page, const std::vector<std::string>& languages, const Result<TextLayer>& text) {
    if (text) {
        tray_.keep_text(page, joined(languages), *text);
        settle_.start(); // The page may have been changed while it was read.
    } else {
        failed_.insert_or_assign({page->id, joined(languages)}, QString::fromStdString(text.error().sentence));
        emit changed();
        // A missing language is reported when the document is saved.
        if (text.error().kind != ErrorKind::Missing) looking_.failed(page->id, text.error());
    }
}

bool Reading::is_to_be_read(const Page& page, const Ticket& ticket) const {
    if (!page.noticed || page.left_alone || !is_read_at_once(page, ticket) || handed_over_.contains(page.id))
        return false;
    const PageAndLanguages which{page.id, languages_of(page)};
    if (failed_.contains(which)) return false;
    const auto read = read_.find(which);
    return read == read_.end() || !words_stay(read->second, page.recipe, size_of(page.original), page.original.dpi);
}

bool Reading::is_about_to_read(const Page& page, const Ticket& ticket) const {
    return queue_ && !is_stopped() && is_read_at_once(page, ticket) && is_to_be_read(page, tickets_.of_page(page.id)) &&
           joined(reading_languages(page, ticket)) == languages_of(page);
}

// Takes over the text of another page with the same original, such as a copy of the page, if it has been recognised.
bool Reading::takes_from_another(const PagePtr& page, const ByOriginal& read_ones) {
    const std::string languages = languages_of(*page);
    const auto [from, to] = read_ones.equal_range(page->original.file);
    for (auto at = from; at != to; ++at) {
        const PagePtr& other = at->second;
        const auto read = read_.find({other->id, languages});
        if (other == page || read == read_.end() ||
            !words_stay(read->second, page->recipe, size_of(page->original), page->original.dpi))
            continue;
        Page as_this = *other;
        as_this.recipe = page->recipe;
        if (const auto text = tray_.text_of(as_this, languages)) {
            tray_.keep_text(page, languages, *text);
            return true;
        }
    }
    return false;
}

// Updates the pages whose text is to be recognised, from the tray and the tickets of its documents.
void Reading::see() {
    if (!knows_earlier_) return;
    const Tray tray = tray_.tray();
    ByOriginal read_ones;
    for (const auto& document : tray.documents)
        for (const PagePtr& page : document->pages)
            if (read_.contains({page->id, languages_of(*page)})) read_ones.emplace(page->original.file, page);
    std::vector<ReadingQueue::Wanted> wanted;
    for (const auto& document : tray.documents) {
        if (!document->saved_as.empty()) continue;
        const Ticket& ticket = tickets_.of(*document);
        for (const PagePtr& page : document->kept_pages()) {
            if (is_to_be_read(*page, ticket) && !takes_from_another(page, read_ones))
                wanted.push_back({page, reading_languages(*page, ticket)});
        }
    }
    queue_->want(std::move(wanted));
}

}
