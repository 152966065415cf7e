// The desk's test strip: one fine scan, and in the background what every coarser choice would make of it.
#include "app/desk.h"

#include "core/page/develop.h"

namespace yelvin {

namespace {
constexpr int best_useful_dpi = 600;
}

int Desk::strip_dpi() const {
    int best = 0;
    for (const int dpi : can_.resolutions) {
        if (dpi <= best_useful_dpi) best = std::max(best, dpi);
    }
    return best;
}

bool Desk::page_can_be_strip() const {
    const PagePtr page = current();
    return page && page->original.ink != Ink::Black && page->original.dpi > 290;
}

void Desk::start_strip() {
    if (scanning_ || previewing_ || !scanner_ || source() != Source::Glass) return;
    const auto frames = frames_to_scan();
    const size_t which = chosen_frame_ >= 0 && frames_count() ? static_cast<size_t>(chosen_frame_) : 0;
    const Frame frame = frames[std::min(which, frames.size() - 1)];
    const RectMm area = hull_of({frame.at});
    ScanRequest request = fitted({Source::Glass, area, static_cast<double>(strip_dpi()), Ink::Colour}, can_);
    previewing_ = true;
    strip_ = {};
    strip_.scanning = true;
    strip_.words = tr("scanned once at %1 dpi").arg(std::lround(request.dpi));
    emit busy_changed();
    emit strip_changed();
    scan_stop_ = {};
    const bool finds = finds_in_scan();
    scanner_thread_ = std::jthread([this, scanner = scanner_, request, frame, finds, stop = scan_stop_.get_token()] {
        RasterSink sink;
        auto told = std::chrono::steady_clock::now();
        sink.on_strip = [&](const Raster& page, int rows) {
            const auto now = std::chrono::steady_clock::now();
            if (now - told < std::chrono::milliseconds(150)) return;
            told = now;
            on_desk([this, done = 100 * rows / std::max(1, page.height_px())] {
                strip_.percent = done;
                emit strip_changed();
            });
        };
        const auto done = scanner->scan(request, sink, stop);
        Raster best;
        if (done && !sink.pages.empty()) {
            best = sink.pages.front();
            // The page as it would be cut.
            Region at = frame.at;
            at.x_mm -= request.area.x;
            at.y_mm -= request.area.y;
            if (finds) {
                if (const auto items = find_regions(best); !items.empty()) at = items.front();
            }
            Recipe cut = frame_recipe(at, best.size_mm());
            cut.tilt_degrees = std::abs(cut.tilt_degrees) < least_tilt_degrees ? 0 : cut.tilt_degrees;
            best = develop(best, cut);
        }
        on_desk([this, done, best] {
            previewing_ = strip_.scanning = false;
            emit busy_changed();
            if (!done && done.error().kind != ErrorKind::Stopped)
                emit trouble(QString::fromStdString(done.error().sentence));
            best.empty() ? emit strip_changed() : work_out_strip(best);
        });
    });
}

void Desk::start_strip_from_page() {
    const PagePtr page = current();
    if (!page || !store_ || previewing_) return;
    const auto place = find_page(tray_, page->id);
    strip_ = {};
    strip_.scanning = true;
    strip_.words = tr("of page %1, scanned at %2 dpi").arg(place ? place->page + 1 : 1).arg(page->original.dpi);
    emit strip_changed();
    pool_.start([this, original = page->original, recipe = page->recipe, folder = store_->folder()] {
        step_back(4);
        Recipe in_full = recipe;
        in_full.ink.reset();
        auto raster = read_original(folder, original);
        on_desk([this, best = raster ? develop(*raster, in_full) : Raster{}] {
            strip_.scanning = false;
            best.empty() ? emit strip_changed() : work_out_strip(best);
        });
    });
}

// First what the page is and what it says at its best; then each resolution, coarse ones first.
void Desk::work_out_strip(const Raster& best) {
    strip_.best = best;
    strip_.cells = strip_cells(best);
    strip_.page = make_for(ticket_.make, false);
    const int generation = ++strip_generation_;
    strip_.left = 1;
    emit strip_changed();
    const auto languages = ticket_.read.languages.empty() ? std::vector<std::string>{"eng"} : ticket_.read.languages;
    pool_.start([this, best, generation, languages, stop = work_stop_.get_token()] {
        step_back(4);
        const Notices notices = notice(best, Items::None);
        std::optional<TextLayer> truth;
        if (notices.kind != PageKind::Photo && notices.letters > 0) {
            if (auto read = readers_.borrow()->read(with_ink(best, Ink::Grey), languages, stop))
                truth = std::move(*read);
        }
        on_desk([this, generation, notices, truth, languages] {
            if (generation != strip_generation_) return;
            strip_.notices = notices;
            strip_.truth = truth.value_or(TextLayer{});
            strip_.left = 0;
            for (const int dpi : strip_resolutions) {
                if (dpi <= strip_.best.dpi + 0.5) work_out_resolution(dpi, languages);
            }
            emit strip_changed();
        });
    });
}

void Desk::work_out_resolution(int dpi, const std::vector<std::string>& languages) {
    ++strip_.left;
    const bool searchable = strip_.page.format == Format::Pdf && !ticket_.read.languages.empty();
    pool_.start([this, dpi, languages, searchable, best = strip_.best, truth = strip_.truth, make = strip_.page,
                 generation = strip_generation_, stop = work_stop_.get_token()] {
        step_back(4);
        std::vector<StripCell> cells;
        TextLayer grey_text;
        std::optional<ReadsAs> grey_reads;
        const auto read_of = [&](const Raster& page, TextLayer& text) -> std::optional<ReadsAs> {
            if (truth.lines.empty()) return std::nullopt;
            if (auto read = readers_.borrow()->read(page, languages, stop)) text = std::move(*read);
            return reads_as(truth, text);
        };
        for (const Ink ink : {Ink::Grey, Ink::Colour, Ink::Black}) {
            if (ink < best.ink || stop.stop_requested()) continue;
            const Raster page = strip_picture(best, dpi, ink);
            StripCell cell{dpi, ink};
            TextLayer text;
            // Reading sees grey in any case: colour reads as grey does.
            std::optional<ReadsAs> reads = ink == Ink::Colour ? grey_reads : read_of(page, text);
            if (ink == Ink::Grey) {
                grey_text = text;
                grey_reads = reads;
            }
            if (ink == Ink::Colour) text = grey_text;
            if (reads) {
                cell.reads = reads->share;
                cell.confidence = reads->confidence;
            }
            cell.bytes =
                finished_bytes(strip_weighed(best, dpi, ink), searchable ? text : TextLayer{}, make).value_or(0);
            if (ink == Ink::Black) cell.threshold = black_threshold_at(best, dpi);
            cells.push_back(cell);
        }
        on_desk([this, cells, generation] {
            if (generation != strip_generation_) return;
            --strip_.left;
            for (const StripCell& cell : cells) {
                for (StripCell& mine : strip_.cells) {
                    if (mine.dpi == cell.dpi && mine.ink == cell.ink) mine = cell;
                }
            }
            if (strip_.left == 0) strip_.advice = strip_advice(strip_.cells, strip_.notices, strip_.best.size_mm());
            emit strip_changed();
        });
    });
}

void Desk::use_strip(int dpi, Ink ink) {
    Ticket ticket = ticket_;
    ticket.how.dpi = dpi;
    ticket.how.dpi_auto = false;
    ticket.how.ink = ink;
    set_ticket(ticket);
    emit strip_changed();
}

}
