// The desk's pages: their recipes, and pages that are made of others.
#include "app/desk.h"

#include "core/page/develop.h"

namespace yelvin {

void Desk::set_recipe(const QString& page_id, const Recipe& recipe, const QString& name, bool one_gesture) {
    const PagePtr page = page_at(tray_, page_id.toStdString());
    if (page_id == current_) trial_.reset();
    if (!page || page->recipe == recipe) {
        emit trial_changed();
        return;
    }
    Page changed = *page;
    changed.recipe = recipe;
    changed.recipe_touched = true;
    const Tray now = with_page(tray_, std::make_shared<const Page>(std::move(changed)));
    const std::string gesture = page->id + name.toStdString();
    const auto time = std::chrono::steady_clock::now();
    constexpr std::chrono::seconds together{2};
    if (one_gesture && gesture == gesture_ && time - gesture_at_ < together)
        change_tray(now);
    else
        edit(now, name);
    gesture_ = one_gesture ? gesture : std::string();
    gesture_at_ = time;
    emit current_changed();
}

void Desk::try_recipe(const Recipe& recipe) {
    if (current_.isEmpty() || trial_ == recipe) return;
    trial_ = recipe;
    emit trial_changed();
}

void Desk::stop_trying() {
    if (!trial_) return;
    trial_.reset();
    emit trial_changed();
}

Recipe Desk::shown_recipe() const {
    if (trial_) return *trial_;
    const PagePtr page = current();
    return page ? page->recipe : Recipe{};
}

void Desk::pick_colour(PointMm on_original) {
    const PagePtr page = current();
    if (!page || !pictures_) return;
    const Original& o = page->original;
    const double half = std::max(1.0, mm_to_px(0.15, o.dpi)); // a little more than a dot, so that grain does not choose
    const cv::Rect part(cvRound(mm_to_px(on_original.x, o.dpi) - half), cvRound(mm_to_px(on_original.y, o.dpi) - half),
                        cvCeil(2 * half), cvCeil(2 * half));
    pool_.start([this, page, part] {
        const auto picture = pictures_->picture_of({page->id, page->original, {}, 1, part});
        if (!picture || picture->empty() || picture->pixels.channels() != 3) return;
        const cv::Scalar mean = cv::mean(picture->pixels);
        on_desk([this, id = page->id, mean] {
            const PagePtr now = page_at(tray_, id);
            if (!now) return;
            Recipe recipe = now->recipe;
            recipe.adjust.drop_colour = PickedColour{cvRound(mean[2]), cvRound(mean[1]), cvRound(mean[0])};
            if (recipe.adjust.drop_reach == 0) recipe.adjust.drop_reach = 40;
            set_recipe(QString::fromStdString(id), recipe, tr("drop colour"));
        });
    });
}

void Desk::count_levels(const QString& page_id) {
    const PagePtr page = page_at(tray_, page_id.toStdString());
    if (!page || !pictures_) return;
    picture_pool_.start([this, page, stop = work_stop_.get_token()] {
        if (stop.stop_requested()) return;
        const Original& o = page->original;
        const Recipe lying = geometry_of(page->recipe);
        const SizePx size = developed_size(lying, {o.width_px, o.height_px}, o.dpi);
        const double scale = std::min(1.0, 500.0 / std::max(size.width, size.height));
        const auto picture = pictures_->picture_of({page->id, o, lying, scale, {0, 0, 500, 500}});
        if (!picture || picture->empty()) return;
        QList<int> counts(256, 0);
        const cv::Mat grey = grey_pixels(*picture);
        for (int y = 0; y < grey.rows; ++y) {
            for (int x = 0; x < grey.cols; ++x) ++counts[grey.ptr(y)[x]];
        }
        on_desk([this, id = QString::fromStdString(page->id), counts] { emit levels_counted(id, counts); });
    });
}

void Desk::turn_current(int quarters) {
    edit(with_changed(tray_, chosen(),
                      [&](Page& page) {
                          page.recipe = turned(page.recipe, quarters, page.original.size_mm());
                          page.recipe_touched = true;
                      }),
         tr("turn"));
    emit current_changed();
}

void Desk::tilt_current(double by_degrees) {
    const auto tilted = [&](Recipe recipe) {
        // The content is turned by what is asked: clockwise means that less clockwise tilt is left to take out.
        recipe.tilt_degrees = std::clamp(std::round((recipe.tilt_degrees - by_degrees) * 100) / 100, -45.0, 45.0);
        return recipe;
    };
    if (const PagePtr page = current(); page && !several_chosen())
        return set_recipe(current_, tilted(page->recipe), tr("tilt"), true);
    edit(with_changed(tray_, chosen(),
                      [&](Page& page) {
                          page.recipe = tilted(page.recipe);
                          page.recipe_touched = true;
                      }),
         tr("tilt"));
    emit current_changed();
}

void Desk::do_the_same(const PageIds& pages) {
    const PagePtr from = current();
    if (!from) return;
    const Recipe model = from->recipe;
    edit(with_changed(tray_, pages,
                      [&](Page& page) {
                          if (page.id == from->id) return;
                          std::vector<Spot> eyes = page.recipe.adjust.eyes;
                          page.recipe.adjust = model.adjust;
                          page.recipe.adjust.eyes =
                              eyes.empty() && model.adjust.red_eyes > 0 ? page.notices.red_eyes : eyes;
                          if (page.recipe.adjust.eyes.empty()) page.recipe.adjust.red_eyes = 0;
                          page.recipe.ink = model.ink && *model.ink > page.original.ink ? model.ink : std::nullopt;
                          page.recipe_touched = true;
                      }),
         tr("do the same"));
    emit current_changed();
}

void Desk::do_the_same_from_now_on() {
    const PagePtr from = current();
    if (!from) return;
    Ticket ticket = ticket_;
    ticket.pages.adjust = from->recipe.adjust;
    ticket.pages.adjust.eyes.clear();
    set_ticket(ticket);
    emit told(ticket.pages.adjust == Adjust{}
                  ? tr("Pages that follow come as scanned.")
                  : tr("Pages that follow get the same corrections; the sentence says so."));
}

void Desk::join_chosen(Joined how) {
    const auto ids = in_tray_order(tray_, chosen());
    if (ids.size() < 2 || !store_) return;
    std::vector<PagePtr> pages;
    for (const std::string& id : ids) pages.push_back(page_at(tray_, id));
    ++in_work_;
    emit busy_changed();
    pool_.start([this, pages, how, folder = store_->folder(), ticket = ticket_] {
        std::vector<Raster> developed;
        std::optional<Error> error;
        for (const PagePtr& page : pages) {
            auto original = read_original(folder, page->original);
            if (!original) {
                error = original.error();
                break;
            }
            developed.push_back(develop(*original, page->recipe));
        }
        std::optional<Original> made;
        if (!error) {
            const auto kept = keep_original(folder, joined(developed, how));
            if (kept)
                made = *kept;
            else
                error = kept.error();
        }
        on_desk([this, pages, made, error, ticket] {
            --in_work_;
            if (error) emit trouble(QString::fromStdString(error->sentence));
            if (made && std::ranges::all_of(
                            pages, [this](const PagePtr& page) { return page_at(tray_, page->id) != nullptr; })) {
                Page page{new_id(), *made};
                page.recipe_touched = true; // it is as it was put together
                const auto added = std::make_shared<const Page>(page);
                PageIds rest;
                for (const PagePtr& each : pages) rest.insert(each->id);
                rest.erase(pages.front()->id);
                current_ = QString::fromStdString(page.id);
                chosen_.clear();
                edit(without_pages(with_page_replaced(tray_, pages.front()->id, added), rest), tr("join pages"));
                emit current_changed();
                look_at(added, ticket);
            }
            emit busy_changed();
        });
    });
}

void Desk::put_together(const std::vector<PagePtr>& pieces, const Original& picture) {
    Page page{new_id(), picture};
    page.recipe_touched = true; // it is as it was put together
    std::vector<PagePtr> there;
    for (const PagePtr& piece : pieces) {
        if (const PagePtr now = page_at(tray_, piece->id)) there.push_back(now);
    }
    if (there.empty()) return;
    page.pieces = there;
    const auto added = std::make_shared<const Page>(page);
    PageIds rest;
    for (const PagePtr& each : there) rest.insert(each->id);
    rest.erase(there.front()->id);
    current_ = QString::fromStdString(page.id);
    chosen_.clear();
    edit(without_pages(with_page_replaced(tray_, there.front()->id, added), rest), tr("stitch"));
    emit current_changed();
    look_at(added, ticket_);
}

void Desk::take_pieces_out(const QString& page_id) {
    const PagePtr page = page_at(tray_, page_id.toStdString());
    if (!page || page->pieces.empty()) return;
    const std::string first = page->pieces.front()->id;
    PageIds ids;
    for (const PagePtr& piece : page->pieces) ids.insert(piece->id);
    current_ = QString::fromStdString(first);
    edit(with_pieces_taken_out(tray_, page->id), tr("take pieces out"));
    choose_pages(ids);
    emit current_changed();
}

}
