#include "batch/batch.h"

#include "batch/pages.h"
#include "core/naming/paper_name.h"
#include "core/raster/image_file.h"
#include "core/text/languages.h"
#include "core/text/pdf_text.h"
#include "jobs/reader_pool.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <cmath>

namespace yelvin {

using nlohmann::json;

namespace {

json to_json(const std::optional<PaperFact>& fact) {
    if (!fact) return nullptr;
    return {{"value", fact->value}, {"sure", std::round(fact->sure * 1000) / 1000}, {"reason", fact->reason}};
}

// Returns the text of the pages that names are made from. Text that is in the file already is not recognised again.
Result<std::vector<PageText>> texts_of(const std::vector<InputPage>& pages, const Ticket& ticket, ReaderPool& readers,
                                       std::atomic<bool>& left_out) {
    std::vector<PageText> texts;
    for (const InputPage& input : pages) {
        const int index = input.index;
        if (static_cast<size_t>(index) >= pages_with_facts && index + 1 < std::ssize(pages)) continue;
        auto page_there = loaded(input, left_out);
        if (!page_there) return std::unexpected(page_there.error());
        Raster& raster = page_there->raster;
        const cv::Size size(raster.width_px(), raster.height_px());
        const auto opened = input.opened();
        if (const auto own = opened ? text_in_pdf(**opened, index, size, raster.dpi) : std::nullopt) {
            texts.push_back(as_it_was_read(*own));
            continue;
        }
        const auto page = finished(std::move(raster), ticket, readers);
        if (!page) continue;
        const auto text = readers.borrow()->read(page->raster, ticket.read.languages);
        if (!text) return std::unexpected(text.error());
        texts.push_back(as_it_was_read(*text));
    }
    return texts;
}

json proposals_json(const std::vector<NameProposal>& proposals, const std::string& folder) {
    json out = json::array();
    for (const NameProposal& each : proposals)
        out.push_back(
            {{"name", each.name}, {"folder", each.folder.empty() ? folder : each.folder}, {"reason", each.reason}});
    return out;
}

}

int run_name(const TicketArguments& arguments, const NamingArguments& naming) {
    auto ticket = ticket_from(arguments);
    // All installed languages are used unless the command line or the ticket's file names some.
    const bool said = !arguments.file.empty() || std::ranges::any_of(arguments.settings, [](const std::string& each) {
        return each.starts_with("read.languages");
    });
    if (ticket && !said) ticket->read.languages = {std::string(automatic_language)};
    if (!ticket) {
        complain(ticket.error());
        return exit_status(ticket.error());
    }
    const auto words = paper_words_with(naming.kinds);
    if (!words) {
        complain(words.error());
        return exit_status(words.error());
    }
    std::vector<SavedDocument> before;
    if (!naming.before.empty()) {
        auto store = NamingHistory::open(naming.before);
        auto all = store ? store->all() : Result<std::vector<SavedDocument>>(std::unexpected(store.error()));
        if (!all) {
            complain(all.error());
            return exit_status(all.error());
        }
        before = std::move(*all);
    }
    ReaderPool readers;
    std::atomic<bool> left_out = false;
    json all = json::array();
    for (const std::string& file : naming.inputs) {
        const auto pages = pages_of({file}, left_out);
        if (pages.empty()) continue; // The error was printed before.
        const auto texts = texts_of(pages, *ticket, readers, left_out);
        if (!texts) {
            complain(texts.error());
            left_out = true;
            continue;
        }
        const PaperFacts says = facts_of_document(*texts, *words, today());
        const auto alike = texts->empty() ? std::vector<SimilarDocument>{}
                                          : similar_documents(traits_of(texts->front(), says), before);
        const auto folder = folder_within(expanded_folder(ticket->save.folder), ticket->save.within,
                                          name_values(says, {}, ticket->name), today());
        all.push_back({{"file", file},
                       {"date", to_json(says.date)},
                       {"sender", to_json(says.sender)},
                       {"number", to_json(says.number)},
                       {"kind", to_json(says.kind)},
                       {"heading", to_json(says.heading)},
                       {"total", to_json(says.total)},
                       {"proposals", proposals_json(name_proposals(says, alike, today()), folder.string())}});
    }
    print(all, 1);
    return left_out ? 1 : 0;
}

}
