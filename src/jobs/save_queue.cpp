#include "jobs/save_queue.h"

#include "core/developing/develop.h"
#include "core/naming/file_name.h"
#include "core/tray/drawing_file.h"
#include "core/tray/originals.h"
#include "jobs/page_looker.h"
#include "jobs/trouble.h"

namespace yelvin {

SaveQueue::SaveQueue(std::filesystem::path store_folder, ReaderPool& readers, Executors executors, Tell tell,
                     std::stop_token stop)
    : store_folder_(std::move(store_folder)), readers_(readers), executors_(std::move(executors)),
      tell_(std::move(tell)), stop_(std::move(stop)) {}

void SaveQueue::add(std::vector<SaveOrder> together) {
    std::vector<std::shared_ptr<const SaveOrder>> orders;
    for (SaveOrder& order : together) orders.push_back(std::make_shared<const SaveOrder>(std::move(order)));
    waiting_.push_back(std::move(orders));
    if (!at_work_) begin_next();
}

void SaveQueue::begin_next() {
    at_work_ = !waiting_.empty();
    if (!at_work_) return;
    auto orders = std::move(waiting_.front());
    waiting_.pop_front();
    executors_.saving([this, orders = std::move(orders)] {
        std::vector<SaveOutcome> outcomes;
        for (const auto& order : orders) {
            if (stop_.stop_requested()) return;
            SaveOutcome made = saved(order);
            if (order->aside) {
                executors_.here([made = std::move(made)] { made.order->aside(made.files); });
                continue;
            }
            outcomes.push_back(std::move(made));
            executors_.here([this, outcome = outcomes.back()] {
                if (tell_.outcome) tell_.outcome(outcome);
            });
        }
        executors_.here([this, outcomes = std::move(outcomes)] {
            begin_next();
            if (tell_.together) tell_.together(outcomes);
        });
    });
}

namespace {

// Waits for the text of a page that the reading queue is recognising. Returns nothing if `stop` is requested, or if the
// recognition was stopped or failed there; the page is then recognised as part of the saving.
std::optional<TextLayer> awaited(const ReadingQueue::Coming& coming, const std::stop_token& stop) {
    constexpr std::chrono::milliseconds a_while{50};
    while (coming.wait_for(a_while) != std::future_status::ready)
        if (stop.stop_requested()) return std::nullopt;
    const Result<TextLayer>& text = coming.get();
    return text ? std::optional(*text) : std::nullopt;
}

// Returns the file that the ticket's pages are added to, if it exists. If its folder cannot be read, the file is
// returned as well: adding to it then reports the error.
std::optional<AddTo> growing_file(const SaveOrder& order) {
    if (!order.grows || order.grows->empty()) return std::nullopt;
    std::error_code error;
    if (!std::filesystem::exists(*order.grows, error) && !error) return std::nullopt;
    const Passwords& passwords = order.passwords;
    return AddTo{.file = *order.grows, .password = passwords.owner.empty() ? passwords.open : passwords.owner};
}

}

SaveOutcome SaveQueue::saved(const std::shared_ptr<const SaveOrder>& about) {
    const SaveOrder& order = *about;
    SaveJob job;
    job.page_count = order.pages.size();
    job.ticket = order.ticket;
    job.folder = order.folder;
    job.fixed_name = order.name.empty() ? order.document->name : order.name;
    job.most_dpi = order.most_dpi;
    job.passwords = order.passwords;
    job.add_to = order.add_to;
    if (auto growing = growing_file(order)) job.add_to = std::move(growing);
    job.first_stamp = order.first_stamp;
    job.barcode = order.document->barcode;
    job.date = today();
    job.words = order.words;
    job.page = [&](size_t index) -> Result<std::optional<FinishedPage>> {
        const auto original = read_original(store_folder_, order.pages[index]->original);
        if (!original) return std::unexpected(original.error());
        const PagePtr& page = order.pages[index];
        FinishedPage finished{develop(*original, page->recipe), order.texts[index]};
        if (!finished.text && index < order.coming.size() && order.coming[index])
            finished.text = awaited(*order.coming[index], stop_);
        finished.languages = reading_languages(*page, order.ticket);
        finished.put_right = [page](const TextLayer& read) { return text_of_page(*page, read); };
        finished.drawing = drawing_of(store_folder_, *page, !order.ticket.how.ink);
        finished.pictures = pictures_of(store_folder_, *page);
        return std::optional(std::move(finished));
    };
    job.on_read = [&](size_t index, const TextLayer& text) {
        executors_.here(
            [this, page = order.pages[index], languages = reading_languages(*order.pages[index], order.ticket), text] {
                if (tell_.read) tell_.read(page, languages, text);
            });
    };
    if (order.aside) return {about, caught("creating a file", [&] { return save_document(job, readers_, stop_); })};
    job.progress = [&](double done) {
        executors_.here([this, document = order.document, done] {
            if (tell_.progress) tell_.progress(document, done);
        });
    };
    const auto words = std::make_shared<GatheredWords>();
    job.on_text = [&](const PageText& text, double dpi) { words->add(text, dpi); };
    auto files = caught("saving a document", [&] { return save_document(job, readers_, stop_); });
    if (order.grows && files) *order.grows = files->front().path;
    return {about, std::move(files), words, job.add_to.has_value()};
}

}
