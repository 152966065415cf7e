#include "app/models/looking.h"

#include "app/models/experience.h"
#include "app/models/out_tray.h"
#include "app/models/pictures.h"
#include "app/models/pools.h"
#include "app/models/tickets.h"

#include <fmt/ranges.h>

namespace yelvin {

Looking::Looking(OutTray& tray, Pictures& pictures, Experience& experience, Tickets& tickets, ReaderPool& readers,
                 Pools& pools, QObject* parent)
    : QObject(parent), tray_(tray), pictures_(pictures), experience_(experience) {
    if (!tray_.has_store()) return;
    looker_ = std::make_unique<PageLooker>(tray_.store_folder(), readers,
                                           PageLooker::Executors{pools.pages(), pools.reading(), on_thread_of(this)},
                                           pools.stop_token());
    connect(&tray_, &OutTray::loaded, this, [this, &tickets] { look_at_rest(tickets.ticket()); });
}

void Looking::work_begins() {
    ++in_work_;
    emit changed();
}

void Looking::work_ends() {
    --in_work_;
    emit changed();
}

void Looking::look_at(const PagePtr& page, const Ticket& ticket) {
    if (!looker_) return;
    // The first pages from the glass tell how large files become; a stack is learnt from when it is saved, because
    // encoding would cost the feeder its pace.
    const bool learn = page->sheet == 0 && experience_.wants_sample_of(ticket);
    work_begins();
    looker_->look_at(page, ticket, learn ? PageLooker::Learn::Size : PageLooker::Learn::No,
                     [this, id = page->id, ticket](const std::optional<LookedAt>& found) {
                         if (found) take(id, *found, ticket);
                         work_ends();
                     });
}

// Pages of an earlier day that nobody came to look at.
void Looking::look_at_rest(const Ticket& ticket) {
    for (const auto& document : tray_.tray().documents) {
        for (const auto& page : document->pages) {
            if (!page->noticed) look_at(page, ticket);
        }
    }
}

void Looking::take(const std::string& page_id, const LookedAt& found, const Ticket& ticket) {
    if (found.sample) experience_.learn(*found.sample, ticket);
    const PagePtr now = tray_.page(page_id);
    if (!now) return;
    Page looked = *now;
    looked.noticed = true;
    looked.notices = found.notices;
    if (!looked.recipe_touched) {
        looked.recipe = found.recipe;
        pictures_.keep_thumbnail(looked, to_image(found.small));
    }
    const auto seen = std::make_shared<const Page>(std::move(looked));
    tray_.change(with_page(tray_.tray(), seen)); // not a step of its own: undoing the scan takes it along
    read(seen, ticket);
    emit looked_at(QString::fromStdString(page_id));
}

void Looking::read(const PagePtr& page, const Ticket& ticket) {
    if (!is_read_at_once(*page, ticket)) return;
    const std::string languages = fmt::format("{}", fmt::join(ticket.read.languages, "+"));
    work_begins();
    looker_->read(page, ticket.read.languages, [this, page, languages](const std::optional<TextLayer>& text) {
        // A page turned meanwhile keeps no reading of how it lay before; saving reads it then.
        if (text) {
            tray_.keep_text(page, languages, *text);
            doubtful_[QString::fromStdString(page->id)] = yelvin::doubtful_words(*text);
        }
        work_ends();
    });
}

}
