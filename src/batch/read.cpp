#include "batch/batch.h"

#include "batch/pages.h"
#include "core/raster/image_file.h"
#include "core/text/reading_order.h"
#include "jobs/reader_pool.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <cmath>

namespace yelvin {

using nlohmann::json;

namespace {

struct ReadPage {
    InputPage input;
    double dpi = 300;
    TextLayer text;
    std::string asked; // the ticket's languages
};

json in_points(const cv::Rect& box, double dpi) {
    json out = json::array();
    for (const int px : {box.x, box.y, box.width, box.height}) out.push_back(std::round(px * 7200.0 / dpi) / 100);
    return out;
}

json to_json(const ReadPage& page) {
    json paragraphs = json::array(), words = json::array();
    for (const Paragraph& paragraph : paragraphs_of(page.text)) {
        for (size_t i = paragraph.first; i < paragraph.first + paragraph.count; ++i)
            for (const Word& word : page.text.lines[i].words)
                words.push_back({{"text", word.text},
                                 {"box", in_points(word.box, page.dpi)},
                                 {"certainty", std::round(word.confidence) / 100},
                                 {"paragraph", paragraphs.size()},
                                 {"line", i},
                                 {"language", page.text.lines[i].language}});
        paragraphs.push_back({{"order", paragraphs.size()},
                              {"kind", paragraph_word(paragraph.kind)},
                              {"language", page.text.lines[paragraph.first].language},
                              {"box", in_points(paragraph.box, page.dpi)}});
    }
    return {{"file", page.input.file},
            {"page", page.input.index + 1},
            {"width", page.text.width_px * 72 / page.dpi},
            {"height", page.text.height_px * 72 / page.dpi},
            {"language", page.text.language},
            {"languages", page.asked},
            {"paragraphs", std::move(paragraphs)},
            {"words", std::move(words)}};
}

Result<ReadPage> read_one(const InputPage& input, const Ticket& ticket, ReaderPool& readers,
                          std::atomic<bool>& left_out) {
    auto original = loaded(input, left_out);
    if (!original) return std::unexpected(original.error());
    const auto page = finished(std::move(original->raster), ticket, readers);
    if (!page) return ReadPage{input, 300, {}, ""};
    auto text = readers.borrow()->read(page->raster, ticket.read.languages);
    if (!text) return std::unexpected(text.error());
    return ReadPage{input, page->raster.dpi, std::move(*text),
                    fmt::format("{}", fmt::join(ticket.read.languages, "+"))};
}

}

int run_read(const TicketArguments& arguments, bool as_json, const std::vector<std::string>& inputs) {
    auto ticket = ticket_from(arguments);
    if (ticket && ticket->read.languages.empty())
        ticket = fail(ErrorKind::Usage, "No language is set; choose one, as in --set read.languages=eng.");
    if (!ticket) {
        complain(ticket.error());
        return exit_status(ticket.error());
    }
    std::atomic<bool> left_out = false;
    const std::vector<InputPage> pages = pages_of(inputs, left_out);
    ReaderPool readers;
    json all = json::array();
    for (size_t i = 0; i < pages.size(); ++i) {
        const auto page = read_one(pages[i], *ticket, readers, left_out);
        if (!page) {
            complain(page.error());
            left_out = true;
            if (page.error().kind == ErrorKind::Missing) break; // A missing language is missing for every page.
            continue;
        }
        if (as_json)
            all.push_back(to_json(*page));
        else
            fmt::print("{}{}", i > 0 ? "\f" : "", running_text(page->text));
    }
    if (as_json) print(all, 1);
    return left_out ? 1 : 0;
}

}
