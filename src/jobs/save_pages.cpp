#include "jobs/save_pages.h"

#include "core/naming/name_part.h"
#include "jobs/reader_pool.h"
#include "jobs/trouble.h"

#include <algorithm>

namespace yelvin {

namespace {

PageText corrected_text(const FinishedPage& page) {
    return page.put_right ? page.put_right(*page.text) : as_it_was_read(*page.text);
}

// Reads the page if its text is unknown.
Result<void> read(FinishedPage& page, const SaveJob& job, size_t index, const std::vector<std::string>& languages,
                  ReaderPool& readers, const std::stop_token& stop) {
    if (page.text) return {};
    auto text = readers.borrow()->read(page.raster, languages, stop);
    if (!text) return std::unexpected(text.error());
    if (job.on_read) job.on_read(index, *text);
    page.text = std::move(*text);
    return {};
}

}

bool needs_text(const SaveJob& job, const std::vector<Output>& outputs) {
    const Ticket::Save& save = job.ticket.save;
    const bool for_name = job.fixed_name.empty() && needs_reading(save.name);
    const auto holds_text = [](const Output& output) { return takes_words(output.make); };
    return for_name || needs_reading(save.within) || needs_reading(job.ticket.make.stamp.parts) ||
           std::ranges::any_of(outputs, holds_text);
}

PreparedPage prepared_page(const SaveJob& job, size_t index, bool with_text, ReaderPool& readers,
                           const std::stop_token& stop) {
    PreparedPage out;
    out.finished = caught("a page", [&]() -> Result<std::optional<FinishedPage>> {
        if (stop.stop_requested()) return stopped();
        auto finished = job.page(index);
        if (!finished || !*finished) return finished;
        FinishedPage& page = **finished;
        const auto languages = languages_for(job.ticket, page.languages ? *page.languages : job.ticket.read.languages);
        if (!with_text || languages.empty()) {
            if (page.text && job.on_text) out.unused_text = corrected_text(page);
            return finished;
        }
        if (auto done = read(page, job, index, languages, readers, stop); !done) return std::unexpected(done.error());
        out.text = corrected_text(page);
        return finished;
    });
    return out;
}

}
