#include "app/models/window/experience.h"

#include "app/models/window/last_choices.h"
#include "core/developing/recipe.h"
#include "core/ticket/ticket_json.h"

#include <algorithm>

namespace yelvin {

namespace {

Ink ink_of(const Page& page) { return page.recipe.ink.value_or(page.original.ink); }

SizePx size_of(const Page& page) {
    const Original& o = page.original;
    return developed_size(page.recipe, {o.width_px, o.height_px}, o.dpi);
}

}

Experience::Experience(LastChoices& last, QObject* parent)
    : QObject(parent), last_(last), estimates_(Estimates::from_json(last.get("learnt", nlohmann::json::object()))) {}

void Experience::remember() { last_.set("learnt", estimates_.to_json()); }

bool Experience::wants_sample_of(const Ticket& ticket) {
    constexpr int enough = 3;
    return ++samples_[QString::fromStdString(ticket.name + ticket_to_json(ticket)["make"].dump())] <= enough;
}

void Experience::learn(const EncodedSample& sample, const Ticket& ticket) {
    estimates_.learn_page(sample.make, ticket.name, sample.ink, sample.dpi, sample.bytes, sample.pixels);
    emit changed();
}

void Experience::learn_pass(const std::string& scanner, const ScanRequest& request, double mm, double seconds) {
    estimates_.learn_pass(scanner, request.dpi, request.ink, mm, seconds);
}

void Experience::learn_saved(const Ticket& ticket, const std::vector<PagePtr>& pages,
                             const std::vector<MadeFile>& files) {
    if (pages.empty()) return;
    const Page& first = *pages.front();
    double bytes = 0, pixels = 0;
    for (const MadeFile& file : files) bytes += static_cast<double>(file.bytes);
    for (const PagePtr& page : pages) {
        if (ink_of(*page) != ink_of(first) || page->original.dpi != first.original.dpi) return;
        const SizePx size = size_of(*page);
        pixels += static_cast<double>(size.width) * size.height;
    }
    estimates_.learn_page(ticket.make, ticket.name, ink_of(first), first.original.dpi, bytes, pixels);
    remember();
    emit changed();
}

double Experience::bytes_of(const Document& document, const Ticket& ticket) const {
    const auto pages = document.kept_pages();
    const Ticket::Make make = make_for(ticket.make, all_photographs(pages));
    double bytes = 0;
    for (const PagePtr& page : pages) {
        const double dpi = page->original.dpi;
        const SizePx px = size_of(*page);
        bytes += estimates_.page_bytes(make, ticket.name, {px_to_mm(px.width, dpi), px_to_mm(px.height, dpi)}, dpi,
                                       ink_of(*page));
    }
    return bytes;
}

}
