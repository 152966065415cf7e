#include "app/models/tray/looking.h"

#include "app/models/threads/pools.h"
#include "app/models/tickets/tickets.h"
#include "app/models/tray/out_tray.h"
#include "app/models/tray/pictures.h"
#include "app/models/window/experience.h"
#include "app/models/window/messages.h"

namespace yelvin {

Looking::Looking(Messages& messages, OutTray& tray, Pictures& pictures, Experience& experience, Tickets& tickets,
                 ReaderPool& readers, Pools& pools, bool crashed_before, QObject* parent)
    : QObject(parent), messages_(messages), tray_(tray), pictures_(pictures), experience_(experience),
      crashed_before_(crashed_before) {
    if (!tray_.has_store()) return;
    looker_ = std::make_unique<PageLooker>(
        tray_.store_folder(), readers, PageLooker::Executors{pools.pages(), on_thread_of(this)}, pools.stop_token());
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
    // The first pages from the glass are encoded to estimate file sizes. Pages of a stack are not, because encoding
    // would slow the feeder down; their sizes are recorded when they are saved.
    const bool learn = page->sheet == 0 && experience_.wants_sample_of(ticket);
    under_way_.insert(page->id);
    work_begins();
    looker_->look_at(page, ticket, learn ? PageLooker::Learn::Size : PageLooker::Learn::No,
                     [this, id = page->id, ticket](const Result<LookedAt>& found) {
                         if (found)
                             take(id, *found, ticket);
                         else
                             failed(id, found.error());
                         under_way_.erase(under_way_.find(id));
                         work_ends();
                     });
}

void Looking::look_through(const PagePtr& side, const PagePtr& other) {
    if (!looker_) return;
    under_way_.insert(side->id);
    work_begins();
    looker_->look_through(side, other, [this, id = side->id](const Notices& notices) {
        under_way_.erase(under_way_.find(id));
        if (const PagePtr now = tray_.page(id)) {
            Page looked = *now;
            looked.notices = notices;
            tray_.change(with_page(tray_.tray(), std::make_shared<const Page>(std::move(looked))));
        }
        emit looked_at(QString::fromStdString(id)); // also if the page was deleted: its run waits for nothing else
        work_ends();
    });
}

void Looking::failed(const std::string& page_id, const Error& why) {
    const bool broke_down = why.kind == ErrorKind::Internal || why.kind == ErrorKind::NoMemory;
    if (broke_down)
        leave_alone({page_id}, why);
    else if (why.kind != ErrorKind::Stopped)
        messages_.complain(why);
}

// A page whose analysis crashed the program remains as it was scanned and is not analysed again at every start.
void Looking::leave_alone(const std::vector<std::string>& page_ids, const Error& why) {
    Tray tray = tray_.tray();
    for (const std::string& id : page_ids) {
        const PagePtr page = tray_.page(id);
        if (!page || page->left_alone) continue;
        Page left = *page;
        left.left_alone = true;
        tray = with_page(tray, std::make_shared<const Page>(std::move(left)));
    }
    if (tray == tray_.tray()) return;
    tray_.change(tray);
    for (const std::string& id : page_ids) emit looked_at(QString::fromStdString(id));
    messages_.complain(why);
}

// Analyses pages of earlier sessions whose analysis did not run.
void Looking::look_at_rest(const Ticket& ticket) {
    if (crashed_before_)
        leave_alone(looker_->left_unfinished(),
                    {ErrorKind::Internal,
                     "Yelvin crashed while checking a page. The page stays as scanned; nothing was lost.",
                     {}});
    for (const auto& document : tray_.tray().documents) {
        for (const auto& page : document->pages) {
            if (!page->noticed && !page->left_alone) look_at(page, ticket);
        }
    }
}

void Looking::take(const std::string& page_id, const LookedAt& found, const Ticket& ticket) {
    if (found.sample) experience_.learn(*found.sample, ticket);
    const PagePtr now = tray_.page(page_id);
    if (!now) {
        emit looked_at(QString::fromStdString(page_id)); // it was deleted, and its run waits for nothing else
        return;
    }
    Page looked = *now;
    looked.noticed = true;
    looked.notices = found.notices;
    if (!looked.recipe_touched) {
        looked.recipe = found.recipe;
        pictures_.keep_thumbnail(looked, to_image(found.small));
    }
    const auto seen = std::make_shared<const Page>(std::move(looked));
    tray_.change(with_page(tray_.tray(), seen)); // Not an undo step of its own: undoing the scan also undoes this.
    emit looked_at(QString::fromStdString(page_id));
}

}
