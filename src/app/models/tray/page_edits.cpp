#include "app/models/tray/page_edits.h"

#include "app/models/threads/pools.h"
#include "app/models/tickets/tickets.h"
#include "app/models/tray/choice.h"
#include "app/models/tray/looking.h"
#include "app/models/tray/pictures.h"
#include "app/models/window/messages.h"
#include "core/developing/develop.h"
#include "core/storage/new_id.h"
#include "core/tray/originals.h"
#include "jobs/trouble.h"

#include <algorithm>

namespace yelvin {

PageEdits::PageEdits(Messages& messages, Tickets& tickets, OutTray& tray, Choice& choice, Pictures& pictures,
                     Looking& looking, Pools& pools, QObject* parent)
    : QObject(parent), messages_(messages), tickets_(tickets), tray_(tray), choice_(choice), pictures_(pictures),
      looking_(looking), background_(pools.pages()), here_(on_thread_of(this)) {}

// ---- corrections

void PageEdits::set_recipe(const QString& page_id, const Recipe& recipe, const QString& name, Gesture gesture) {
    const PagePtr page = tray_.page(page_id.toStdString());
    if (page && page->recipe != recipe) {
        Page changed = *page;
        changed.recipe = recipe;
        changed.recipe_touched = true;
        tray_.edit(with_page(tray_.tray(), std::make_shared<const Page>(std::move(changed))), name,
                   gesture == Gesture::Continuing ? page->id + name.toStdString() : std::string());
    }
    if (page_id == choice_.current_id()) choice_.stop_trying();
}

void PageEdits::change_recipe(const QString& page_id, const std::function<void(Recipe&)>& change, const QString& name) {
    const PagePtr page = tray_.page(page_id.toStdString());
    if (!page) return;
    Recipe recipe = page->recipe;
    change(recipe);
    set_recipe(page_id, recipe, name);
}

void PageEdits::change_chosen(const std::function<void(Page&)>& change, const QString& name) {
    tray_.edit(with_changed(tray_.tray(), choice_.chosen(),
                            [&](Page& page) {
                                change(page);
                                page.recipe_touched = true;
                            }),
               name);
}

void PageEdits::turn(int quarters) {
    change_chosen([&](Page& page) { page.recipe = turned(page.recipe, quarters, page.original.size_mm()); },
                  tr("turn page"));
}

void PageEdits::tilt(double by_degrees) {
    const auto tilted = [&](Recipe recipe) {
        // Turning the content clockwise reduces the clockwise tilt that remains to be removed.
        recipe.tilt_degrees = std::clamp(std::round((recipe.tilt_degrees - by_degrees) * 100) / 100, -45.0, 45.0);
        return recipe;
    };
    if (const PagePtr page = choice_.current(); page && !choice_.several())
        return set_recipe(choice_.current_id(), tilted(page->recipe), tr("change tilt"), Gesture::Continuing);
    change_chosen([&](Page& page) { page.recipe = tilted(page.recipe); }, tr("change tilt"));
}

void PageEdits::pick_colour(PointMm on_original) {
    const PagePtr page = choice_.current();
    if (!page || !pictures_.parts()) return;
    const Original& o = page->original;
    const double half =
        std::max(1.0, mm_to_px(0.15, o.dpi)); // A little more than a pixel, so that noise does not decide.
    const cv::Rect part(cvRound(mm_to_px(on_original.x, o.dpi) - half), cvRound(mm_to_px(on_original.y, o.dpi) - half),
                        cvCeil(2 * half), cvCeil(2 * half));
    background_([this, page, part] {
        const auto picture = pictures_.parts()->picture_of({page->id, page->original, {}, 1, part});
        if (!picture || picture->empty() || picture->pixels.channels() != 3) return;
        here_([this, id = page->id, mean = cv::mean(picture->pixels)] {
            const PagePtr now = tray_.page(id);
            if (!now) return;
            Recipe recipe = now->recipe;
            recipe.adjust.drop_colour = PickedColour{cvRound(mean[2]), cvRound(mean[1]), cvRound(mean[0])};
            if (recipe.adjust.drop_reach == 0) recipe.adjust.drop_reach = 40;
            set_recipe(QString::fromStdString(id), recipe, tr("leave out colour"));
        });
    });
}

void PageEdits::do_the_same(const QString& from_id, const PageIds& pages) {
    const PagePtr from = tray_.page(from_id.toStdString());
    if (!from) return;
    const Recipe model = from->recipe;
    const auto like_model = [&](Page& page) {
        if (page.id == from->id) return;
        std::vector<Spot> eyes = page.recipe.adjust.eyes;
        page.recipe.adjust = model.adjust;
        page.recipe.adjust.eyes = eyes.empty() && model.adjust.red_eyes > 0 ? page.notices.red_eyes : eyes;
        if (page.recipe.adjust.eyes.empty()) page.recipe.adjust.red_eyes = 0;
        page.recipe.ink = model.ink && *model.ink > page.original.ink ? model.ink : std::nullopt;
        page.recipe_touched = true;
    };
    tray_.edit(with_changed(tray_.tray(), pages, like_model), tr("copy corrections"));
}

void PageEdits::do_the_same_from_now_on(const QString& from_id) {
    const PagePtr from = tray_.page(from_id.toStdString());
    if (!from) return;
    Ticket ticket = tickets_.ticket();
    ticket.pages.adjust = from->recipe.adjust;
    ticket.pages.adjust.eyes.clear();
    tickets_.set(ticket);
    messages_.tell(ticket.pages.adjust == Adjust{}
                       ? tr("Later pages will stay as scanned.")
                       : tr("Later pages will get the same corrections; the sentence shows them."));
}

// ---- order of pages

void PageEdits::remove() {
    const PageIds ids = choice_.chosen();
    if (ids.empty()) return;
    const auto all = page_ids(tray_.tray());
    const auto gone = [&](const std::string& id) { return ids.contains(id); };
    const auto last = std::ranges::find(all.rbegin(), all.rend(), *std::find_if(all.rbegin(), all.rend(), gone)).base();
    auto next = std::find_if_not(last, all.end(), gone);
    if (next == all.end()) {
        const auto before = std::find_if_not(all.rbegin(), all.rend(), gone);
        next = before == all.rend() ? all.end() : before.base() - 1;
    }
    if (next != all.end()) choice_.look_next_at(*next);
    tray_.edit(without_pages(tray_.tray(), ids),
               ids.size() == 1 ? tr("remove page") : tr("remove %1 pages").arg(ids.size()));
}

void PageEdits::shift(int by) { tray_.edit(with_pages_shifted(tray_.tray(), choice_.chosen(), by), tr("move page")); }

void PageEdits::move_to(const QString& document_id, size_t index) {
    const PageIds ids = choice_.chosen();
    tray_.edit(with_pages_moved(tray_.tray(), ids, document_id.toStdString(), index),
               ids.size() == 1 ? tr("move page") : tr("move %1 pages").arg(ids.size()));
}

void PageEdits::part() { tray_.edit(with_pages_apart(tray_.tray(), choice_.chosen()), tr("start document")); }

void PageEdits::duplicate() { tray_.edit(with_pages_doubled(tray_.tray(), choice_.chosen()), tr("duplicate pages")); }

void PageEdits::divide() {
    const Tray& tray = tray_.tray();
    const std::string id = choice_.current_id().toStdString();
    const auto place = find_page(tray, id);
    if (!place) return;
    if (place->page > 0)
        tray_.edit(with_divider_at(tray, id), tr("start document"));
    else
        tray_.edit(without_divider_at(tray, tray.documents[place->document]->id), tr("join documents"));
}

void PageEdits::move_divider(const QString& document_id, size_t index) {
    tray_.edit(with_divider_moved(tray_.tray(), document_id.toStdString(), index), tr("move divider"));
}

void PageEdits::rename_document(const QString& document_id, const QString& name) {
    tray_.edit(with_document_name(tray_.tray(), document_id.toStdString(), name.toStdString()), tr("rename document"));
}

void PageEdits::drop() {
    const PagePtr page = choice_.current();
    if (!page) return;
    if (page->dropped != Dropped::No) return bring_back(choice_.current_id());
    tray_.edit(with_page_dropped(tray_.tray(), page->id, Dropped::Blank), tr("leave out page"));
}

void PageEdits::bring_back(const QString& page_id) {
    const PagePtr page = tray_.page(page_id.toStdString());
    if (!page || page->dropped == Dropped::No) return;
    choice_.look_next_at(page->id);
    tray_.edit(with_page_dropped(tray_.tray(), page->id, Dropped::No), tr("bring back page"));
}

// ---- pages made from other pages

// Puts the new page in the place of the first of `pages` and removes the others.
PagePtr PageEdits::in_place_of(const std::vector<PagePtr>& pages, Page made, const QString& name) {
    made.recipe_touched = true; // The recipe is the result of joining and must not be replaced by notices.
    auto added = std::make_shared<const Page>(std::move(made));
    PageIds rest;
    for (const PagePtr& each : pages) rest.insert(each->id);
    rest.erase(pages.front()->id);
    choice_.look_next_at(added->id);
    tray_.edit(without_pages(with_page_replaced(tray_.tray(), pages.front()->id, added), rest), name);
    return added;
}

namespace {

Result<Original> joined_original(const std::vector<PagePtr>& pages, Joined how, const std::filesystem::path& folder) {
    std::vector<Raster> developed;
    for (const PagePtr& page : pages) {
        auto original = read_original(folder, page->original);
        if (!original) return std::unexpected(original.error());
        developed.push_back(develop(*original, page->recipe));
    }
    return keep_original(folder, joined(developed, how));
}

}

void PageEdits::join(Joined how) {
    std::vector<PagePtr> pages;
    for (const std::string& id : in_tray_order(tray_.tray(), choice_.chosen())) pages.push_back(tray_.page(id));
    if (pages.size() < 2 || !tray_.has_store()) return;
    looking_.work_begins();
    background_([this, pages, how, folder = tray_.store_folder(), ticket = tickets_.ticket()] {
        here_(
            [this, pages, ticket, made = caught("joining pages", [&] { return joined_original(pages, how, folder); })] {
                if (made)
                    put_joined(pages, *made, ticket);
                else
                    messages_.complain(made.error());
                looking_.work_ends();
            });
    });
}

void PageEdits::put_joined(const std::vector<PagePtr>& pages, const Original& made, const Ticket& ticket) {
    const auto is_there = [this](const PagePtr& page) { return tray_.page(page->id) != nullptr; };
    if (!std::ranges::all_of(pages, is_there)) return tray_.discard(made);
    looking_.look_at(in_place_of(pages, Page{new_id(), made}, tr("join pages")), ticket);
}

bool PageEdits::put_together(const std::vector<PagePtr>& pieces, const Original& picture) {
    Page page{new_id(), picture};
    for (const PagePtr& piece : pieces) {
        if (const PagePtr now = tray_.page(piece->id)) page.pieces.push_back(now);
    }
    if (page.pieces.empty()) {
        tray_.discard(picture);
        return false;
    }
    const std::vector<PagePtr> there = page.pieces;
    looking_.look_at(in_place_of(there, std::move(page), tr("stitch pages")), tickets_.ticket());
    return true;
}

void PageEdits::take_pieces_out(const QString& page_id) {
    const PagePtr page = tray_.page(page_id.toStdString());
    if (!page || page->pieces.empty()) return;
    PageIds ids;
    for (const PagePtr& piece : page->pieces) ids.insert(piece->id);
    choice_.look_next_at(page->pieces.front()->id);
    tray_.edit(with_pieces_taken_out(tray_.tray(), page->id), tr("unstitch page"));
    choice_.choose(ids);
}

}
