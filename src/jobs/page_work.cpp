#include "jobs/page_work.h"

#include "core/developing/develop.h"
#include "core/ocr/orientation.h"
#include "core/raster/paper.h"
#include "core/seeing/barcode.h"
#include "core/seeing/frame.h"
#include "core/seeing/sheet.h"

#include <opencv2/imgproc.hpp>

namespace yelvin {

namespace {

// Cuts the sheet out and straightens it. The result is only analysed, so the fast interpolation is enough.
Raster cut_out(const Raster& work, const Region& sheet) {
    Recipe cut = frame_recipe(sheet, work.size_mm());
    if (std::abs(cut.tilt_degrees) < least_tilt_degrees) {
        cut.tilt_degrees = 0;
        return develop(work, cut);
    }
    const SizePx size{work.width_px(), work.height_px()}, out = developed_size(cut, size, work.dpi);
    Raster page{{}, work.dpi, work.ink};
    cv::warpAffine(work.pixels, page.pixels, page_to_original(cut, size, work.dpi).get_minor<2, 3>(0, 0),
                   {out.width, out.height}, cv::INTER_LINEAR | cv::WARP_INVERSE_MAP, cv::BORDER_REPLICATE);
    return page;
}

void look(Notices& notices, const Raster& page, const Ticket& ticket, ReaderPool& readers, Items items) {
    notices = notice(page, items);
    if (ticket.pages.split == SplitAt::Separator) notices.barcodes = barcodes(page);
    if (ticket.pages.turn_upright || ticket.pages.straighten)
        notices.turn_degrees = text_turn(page, notices, *readers.borrow(), ticket.read.languages);
}

}

Notices noticed(const Raster& original, const Ticket& ticket, ReaderPool& readers, PageOrigin origin) {
    Notices notices;
    const Raster work = origin.from_stack || origin.item ? at_resolution(original, 200) : original;
    std::optional<Region> sheet = origin.from_stack ? find_sheet(work) : origin.item;
    if (origin.item && !origin.framed) sheet = refined_region(original, *origin.item);
    if (!sheet) {
        look(notices, work, ticket, readers, Items::Find);
        return notices;
    }
    look(notices, cut_out(work, *sheet), ticket, readers, Items::None);
    // The cut-out is coarser than the original and straightened. Red eyes and the halftone screen are converted to the
    // original's coordinates and scale.
    const Recipe cut = frame_recipe(*sheet, work.size_mm());
    const cv::Matx33d map = page_to_original(cut, {work.width_px(), work.height_px()}, work.dpi);
    for (Spot& eye : notices.red_eyes) {
        const cv::Vec3d at = map * cv::Vec3d(mm_to_px(eye.x_mm, work.dpi) - 0.5, mm_to_px(eye.y_mm, work.dpi) - 0.5, 1);
        eye.x_mm = px_to_mm(at[0] + 0.5, work.dpi);
        eye.y_mm = px_to_mm(at[1] + 0.5, work.dpi);
    }
    if (notices.kind != PageKind::Text) notices.blemishes.screen_lpi = screen_of(original);
    // The findings on the straightened sheet hold for the picture, except for the angle between the two.
    const double angle = std::remainder(sheet->angle_degrees, 90.0);
    const double level = std::abs(angle) < least_tilt_degrees ? 0 : angle;
    // The edges of a photograph are more reliable than structures in it that resemble lines of text.
    if (notices.kind == PageKind::Photo) notices.tilt_by_text = false;
    notices.tilt_degrees = notices.tilt_by_text ? level + notices.tilt_degrees.value_or(0) : angle;
    notices.sheet = sheet;
    notices.framed = origin.framed;
    const bool automatic = ticket.from.paper == "auto" && !ticket.from.own_paper;
    if (const auto paper = nearest_paper({sheet->w_mm, sheet->h_mm}); paper && automatic && !origin.framed)
        notices.paper = paper->name;
    notices.regions = {*sheet};
    return notices;
}

void look_through(Notices& notices, const Raster& side, const Notices& other_notices, const Raster& other) {
    const auto sheet_of = [](const Raster& picture, const Notices& seen) {
        const Raster work = at_resolution(picture, 200);
        return seen.sheet ? cut_out(work, *seen.sheet) : work;
    };
    look_through(notices, sheet_of(side, notices), sheet_of(other, other_notices));
}

Recipe recipe_for(const Notices& notices, const Raster& original, const Ticket& ticket, PageOrigin origin) {
    const int as_printed = origin.back && ticket.from.flip == Flip::Notepad ? 180 : 0;
    Notices seen = notices;
    seen.turn_degrees = ticket.pages.turn_upright ? notices.turn_degrees.value_or(as_printed) : as_printed;
    Applied wanted{ticket.pages.straighten, true, ticket.how.ink, ticket.pages.adjust};
    // These differ from page to page: the positions of red eyes, and corrections that this kind of page does not need.
    wanted.adjust.eyes = wanted.adjust.red_eyes > 0 ? notices.red_eyes : std::vector<Spot>{};
    if (notices.red_eyes.empty()) wanted.adjust.red_eyes = 0;
    if (notices.blemishes.screen_lpi == 0) wanted.adjust.screen_lpi = 0;
    if (wanted.adjust.screen_lpi > 0) wanted.adjust.screen_lpi = std::min(250.0, notices.blemishes.screen_lpi);
    if (notices.kind != PageKind::Photo) wanted.adjust.dust_mm = 0;
    return recipe_from(seen, original, wanted);
}

std::vector<Region> items_on(const Raster& picture, Frames frames) {
    if (frames != Frames::EachItem && frames != Frames::OneItem) return {};
    std::vector<Region> items = find_regions(picture);
    if (frames == Frames::EachItem || items.size() < 2) return items;
    const RectMm hull = hull_of(items);
    return {Region{hull.x + hull.width / 2, hull.y + hull.height / 2, hull.width, hull.height, 0}};
}

ScanRequest request_for(const Ticket& ticket, const std::string& scanner, RectMm area) {
    ScanRequest request{ticket.from.source, area, static_cast<double>(ticket.how.dpi),
                        ticket.how.ink.value_or(Ink::Colour)};
    const bool automatic = ticket.from.paper == "auto" && !ticket.from.own_paper;
    request.cut_to_sheet = automatic && ticket.from.source != Source::Glass;
    if (const auto more = ticket.from.more.find(scanner); more != ticket.from.more.end()) request.more = more->second;
    return request;
}

}
