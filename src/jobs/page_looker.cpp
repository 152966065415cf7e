#include "jobs/page_looker.h"

#include "core/developing/develop.h"
#include "core/output/document_writer.h"
#include "core/private_files.h"
#include "core/raster/averaging.h"
#include "core/tray/originals.h"
#include "jobs/trouble.h"

#include <fmt/ranges.h>
#include <opencv2/imgproc.hpp>

#include <sys/resource.h>
#include <unistd.h>

#include <fstream>

namespace yelvin {

namespace {

constexpr double part_margin_mm = 1.5; // around a paragraph that is read by itself

std::optional<EncodedSample> sample_of(const Raster& page, const Ticket::Make& make) {
    const auto encoded = encode_page(page, {}, make.format, make.jpeg_quality);
    if (!encoded) return std::nullopt;
    return EncodedSample{make, page.ink, page.dpi, picture_bytes(*encoded), static_cast<double>(page.pixels.total())};
}

LookedAt looked_at(const Raster& original, const PageOrigin& origin, const Ticket& ticket, ReaderPool& readers,
                   PageLooker::Learn learn) {
    LookedAt out;
    out.notices = noticed(original, ticket, readers, origin);
    out.recipe = recipe_for(out.notices, original, ticket, origin);
    out.small = thumbnail_of(original, out.recipe);
    if (learn == PageLooker::Learn::Size)
        out.sample =
            sample_of(develop(original, out.recipe), make_for(ticket.make, out.notices.kind == PageKind::Photo));
    return out;
}

constexpr const char* under_way_file = "being looked at";

}

// Records the page in a file while it is being analysed, so that a crash of the program can be traced to the page.
class PageLooker::UnderWay {
  public:
    UnderWay(PageLooker& looker, std::string page_id) : looker_(looker), page_id_(std::move(page_id)) {
        const std::scoped_lock lock(looker_.guard_);
        looker_.under_way_.insert(page_id_);
        looker_.write_under_way();
    }
    UnderWay(const UnderWay&) = delete;
    UnderWay& operator=(const UnderWay&) = delete;
    ~UnderWay() {
        const std::scoped_lock lock(looker_.guard_);
        looker_.under_way_.erase(looker_.under_way_.find(page_id_));
        looker_.write_under_way();
    }

  private:
    PageLooker& looker_;
    std::string page_id_;
};

// The file is not synced to the disk: it has to survive a crash of the program, not a loss of power.
void PageLooker::write_under_way() const {
    make_private_file(store_folder_ / under_way_file);
    std::ofstream out(store_folder_ / under_way_file, std::ios::trunc);
    for (const std::string& id : under_way_) out << id << '\n';
}

std::vector<std::string> PageLooker::left_unfinished() const {
    std::ifstream in(store_folder_ / under_way_file);
    std::vector<std::string> ids;
    for (std::string id; std::getline(in, id);) ids.push_back(id);
    return ids;
}

PageLooker::PageLooker(std::filesystem::path store_folder, ReaderPool& readers, Executors executors,
                       std::stop_token stop)
    : store_folder_(std::move(store_folder)), readers_(readers), executors_(std::move(executors)),
      stop_(std::move(stop)) {}

void PageLooker::look_at(const PagePtr& page, const Ticket& ticket, Learn learn,
                         std::function<void(Result<LookedAt>)> done) {
    executors_.looking([this, page, ticket, learn, done = std::move(done)] {
        if (stop_.stop_requested()) return;
        lower_priority(4);
        auto found = caught("checking a page", [&]() -> Result<LookedAt> {
            const auto original = read_original(store_folder_, page->original);
            if (!original) return std::unexpected(original.error());
            const UnderWay under_way(*this, page->id);
            return looked_at(*original, origin_of(*page), ticket, readers_, learn);
        });
        executors_.here([done, found = std::move(found)] { done(found); });
    });
}

void PageLooker::look_through(const PagePtr& side, const PagePtr& other, std::function<void(Notices)> done) {
    executors_.looking([this, side, other, done = std::move(done)] {
        if (stop_.stop_requested()) return;
        lower_priority(4);
        const auto found = caught("checking a sheet", [&]() -> Result<Notices> {
            const UnderWay under_way(*this, side->id);
            return looked_through(*side, *other, store_folder_);
        });
        Notices notices = found.value_or(side->notices);
        notices.in_doubt = false;
        executors_.here([done, notices = std::move(notices)] { done(notices); });
    });
}

Result<TextLayer> PageLooker::read(const PagePtr& page, const std::vector<std::string>& languages,
                                   const std::stop_token& stop, const Reader::Progress& progress) {
    lower_priority(7);
    const auto original = read_original(store_folder_, page->original);
    if (!original) return std::unexpected(original.error());
    const UnderWay under_way(*this, page->id);
    return readers_.borrow()->read(develop(*original, page->recipe), languages, stop, progress);
}

namespace {

// Returns the page in the orientation in which its text was recognised, so that the text lines are horizontal.
cv::Mat as_it_was_read(const cv::Mat& page, int turned_degrees) {
    cv::Mat out = page;
    if (turned_degrees == 90) cv::rotate(page, out, cv::ROTATE_90_COUNTERCLOCKWISE);
    if (turned_degrees == 180) cv::rotate(page, out, cv::ROTATE_180);
    if (turned_degrees == 270) cv::rotate(page, out, cv::ROTATE_90_CLOCKWISE);
    return out;
}

}

Result<TextLayer> PageLooker::read_part(const PagePtr& page, const TextLayer& of, const cv::Rect& box,
                                        const std::vector<std::string>& languages, const std::stop_token& stop) {
    lower_priority(7);
    const auto original = read_original(store_folder_, page->original);
    if (!original) return std::unexpected(original.error());
    const UnderWay under_way(*this, page->id);
    Raster whole = develop(*original, page->recipe);
    whole.pixels = as_it_was_read(whole.pixels, of.turned_degrees);
    const int around = cvRound(mm_to_px(part_margin_mm, whole.dpi));
    const cv::Rect part = cv::Rect(box.x - around, box.y - around, box.width + 2 * around, box.height + 2 * around) &
                          cv::Rect({0, 0}, whole.pixels.size());
    whole.pixels = whole.pixels(part).clone();
    auto read = readers_.borrow()->read(whole, languages, stop);
    if (!read) return read;
    for (TextLine& line : read->lines) {
        line.baseline_start += cv::Point2d(part.tl());
        line.baseline_end += cv::Point2d(part.tl());
        for (Word& word : line.words) word.box += part.tl();
    }
    read->width_px = of.width_px;
    read->height_px = of.height_px;
    read->turned_degrees = of.turned_degrees;
    return read;
}

Result<Notices> looked_through(const Page& side, const Page& other, const std::filesystem::path& folder) {
    const auto picture = read_original(folder, side.original);
    if (!picture) return std::unexpected(picture.error());
    const auto behind = read_original(folder, other.original);
    if (!behind) return std::unexpected(behind.error());
    Notices notices = side.notices;
    look_through(notices, *picture, other.notices, *behind);
    return notices;
}

PageOrigin origin_of(const Page& page) {
    PageOrigin origin{page.sheet > 0, page.back};
    if (page.sheet == 0) {
        origin.item = page.notices.sheet;
        origin.framed = page.notices.framed;
    }
    return origin;
}

std::vector<std::string> reading_languages(const Page& page, const Ticket& ticket) {
    return page.text.languages.empty() ? languages_for(ticket, ticket.read.languages) : page.text.languages;
}

std::string joined(const std::vector<std::string>& languages) { return fmt::format("{}", fmt::join(languages, "+")); }

bool is_read_at_once(const Page& page, const Ticket& ticket) {
    if (!page.text.languages.empty()) return true;
    return !languages_for(ticket, ticket.read.languages).empty() && page.notices.kind != PageKind::Photo &&
           takes_words(make_for(ticket.make, false));
}

Raster thumbnail_of(const Raster& original, const Recipe& recipe) {
    const int longer = std::max(original.width_px(), original.height_px());
    Raster page = develop(at_resolution(original, original.dpi * 2.0 * thumbnail_side / longer), recipe);
    const double by = static_cast<double>(thumbnail_side) / std::max(page.width_px(), page.height_px());
    const cv::Size size(std::max(1, cvRound(page.width_px() * by)), std::max(1, cvRound(page.height_px() * by)));
    if (by < 1)
        page.pixels = averaged(page.pixels, size);
    else
        cv::resize(page.pixels.clone(), page.pixels, size);
    page.dpi *= by;
    return page;
}

void lower_priority(int niceness) { setpriority(PRIO_PROCESS, static_cast<id_t>(gettid()), niceness); }

}
