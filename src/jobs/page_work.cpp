#include "jobs/page_work.h"

#include "core/page/barcode.h"
#include "core/page/develop.h"
#include "core/page/sheet.h"
#include "core/reading/orientation.h"

#include <opencv2/imgproc.hpp>

namespace yelvin {

namespace {

// The sheet alone, level. For looking only, so interpolated quickly.
Raster cut_out(const Raster& work, const Region& sheet) {
    Recipe cut;
    const SizeMm all = work.size_mm();
    const double left = std::max(0.0, sheet.x_mm - sheet.w_mm / 2), top = std::max(0.0, sheet.y_mm - sheet.h_mm / 2);
    cut.crop = RectMm{left, top, std::min(all.width - left, sheet.w_mm), std::min(all.height - top, sheet.h_mm)};
    if (std::abs(sheet.angle_degrees) < least_tilt_degrees) return develop(work, cut);
    cut.tilt_degrees = sheet.angle_degrees;
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
    const Raster work = origin.from_stack ? at_resolution(original, 200) : original;
    const auto sheet = origin.from_stack ? find_sheet(work) : std::nullopt;
    if (!sheet) {
        look(notices, work, ticket, readers, Items::Find);
        return notices;
    }
    look(notices, cut_out(work, *sheet), ticket, readers, Items::None);
    // What was seen on the level sheet holds for the picture, but for the angle between the two.
    const double level = std::abs(sheet->angle_degrees) < least_tilt_degrees ? 0 : sheet->angle_degrees;
    notices.tilt_degrees = notices.tilt_by_text ? level + notices.tilt_degrees.value_or(0) : sheet->angle_degrees;
    notices.sheet = sheet;
    notices.regions = {*sheet};
    return notices;
}

Recipe recipe_for(const Notices& notices, const Raster& original, const Ticket& ticket, PageOrigin origin) {
    const int as_printed = origin.back && ticket.from.flip == Flip::Notepad ? 180 : 0;
    Notices seen = notices;
    seen.turn_degrees = ticket.pages.turn_upright ? notices.turn_degrees.value_or(as_printed) : as_printed;
    return recipe_from(seen, original, {ticket.pages.straighten, true, ticket.how.ink});
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
