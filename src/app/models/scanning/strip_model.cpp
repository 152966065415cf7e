#include "app/models/scanning/strip_model.h"

#include "app/models/scanning/glass.h"
#include "app/models/scanning/next_scan.h"
#include "app/models/scanning/scanners.h"
#include "app/models/threads/pools.h"
#include "app/models/tickets/tickets.h"
#include "app/models/tray/choice.h"
#include "app/models/tray/out_tray.h"
#include "app/models/window/messages.h"
#include "core/developing/develop.h"
#include "core/tray/originals.h"
#include "jobs/page_looker.h"
#include "jobs/trouble.h"

#include <cmath>

namespace yelvin {

namespace {
constexpr int best_useful_dpi = 600;
constexpr std::chrono::milliseconds telling_pace{150};

// Cuts the page out of the scan, as saving would.
Raster cut_to(const Raster& scan, Region at, bool finds) {
    if (finds) {
        if (const auto items = find_regions(scan); !items.empty()) at = items.front();
    }
    Recipe cut = frame_recipe(at, scan.size_mm());
    cut.tilt_degrees = std::abs(cut.tilt_degrees) < least_tilt_degrees ? 0 : cut.tilt_degrees;
    return develop(scan, cut);
}

// Computes the samples of one resolution, in every colour mode, from the best scan.
class Resolution {
  public:
    Resolution(const Strip& strip, int dpi, std::vector<std::string> languages, bool searchable)
        : best_(strip.best), truth_(strip.truth), make_(strip.page), dpi_(dpi), languages_(std::move(languages)),
          searchable_(searchable) {}

    std::vector<StripCell> cells(ReaderPool& readers, const std::stop_token& stop) {
        std::vector<StripCell> out;
        for (const Ink ink : {Ink::Grey, Ink::Colour, Ink::Black}) {
            if (ink >= best_.ink && !stop.stop_requested()) out.push_back(cell(ink, readers, stop));
        }
        return out;
    }

  private:
    Raster best_;
    TextLayer truth_;
    Ticket::Make make_;
    int dpi_;
    std::vector<std::string> languages_;
    bool searchable_;
    TextLayer grey_text_;
    std::optional<ReadsAs> grey_reads_;

    std::optional<ReadsAs> read(const Raster& page, TextLayer& text, ReaderPool& readers, const std::stop_token& stop) {
        if (truth_.lines.empty()) return std::nullopt;
        if (auto read = readers.borrow()->read(page, languages_, stop)) text = std::move(*read);
        return reads_as(truth_, text);
    }

    StripCell cell(Ink ink, ReaderPool& readers, const std::stop_token& stop) {
        StripCell cell{dpi_, ink};
        TextLayer text;
        // Text recognition uses a grey picture, so its result for grey holds for colour as well.
        std::optional<ReadsAs> reads = grey_reads_;
        if (ink != Ink::Colour) reads = read(strip_picture(best_, dpi_, ink), text, readers, stop);
        if (ink == Ink::Grey) {
            grey_text_ = text;
            grey_reads_ = reads;
        }
        if (ink == Ink::Colour) text = grey_text_;
        if (reads) {
            cell.reads = reads->share;
            cell.confidence = reads->confidence;
        }
        cell.bytes =
            finished_bytes(strip_weighed(best_, dpi_, ink), searchable_ ? text : TextLayer{}, make_).value_or(0);
        if (ink == Ink::Black) cell.threshold = black_threshold_at(best_, dpi_);
        return cell;
    }
};

}

StripModel::StripModel(const Around& around, ReaderPool& readers, Pools& pools, QObject* parent)
    : QObject(parent), around_(around), readers_(readers), background_(pools.pages()), here_(on_thread_of(this)),
      stop_work_(pools.stop_token()) {
    connect(&around_.choice, &Choice::changed, this, &StripModel::changed); // page_will_do()
}

StripModel::~StripModel() {
    if (around_.scanners.lease().held_for(ScannerLease::For::Strip)) around_.scanners.stop();
}

int StripModel::best_dpi() const {
    int best = 0;
    for (const int dpi : around_.scanners.capabilities().resolutions) {
        if (dpi <= best_useful_dpi) best = std::max(best, dpi);
    }
    return best;
}

// ---- the scan at the best resolution

void StripModel::begin(const QString& words) {
    strip_ = {};
    strip_.scanning = true;
    strip_.words = words;
}

void StripModel::start() {
    if (around_.next_scan.source() != Source::Glass) return;
    const auto stop = around_.scanners.take(ScannerLease::For::Strip);
    if (!stop) return;
    const auto frames = around_.next_scan.frames();
    const int chosen = around_.glass.chosen_frame();
    const size_t which = chosen >= 0 && around_.next_scan.frames_count() ? static_cast<size_t>(chosen) : 0;
    const Frame frame = frames[std::min(which, frames.size() - 1)];
    const ScanRequest request =
        fitted({Source::Glass, hull_of({frame.at}), static_cast<double>(best_dpi()), Ink::Colour},
               around_.scanners.capabilities());
    begin(tr("scanned once at %1 dpi").arg(std::lround(request.dpi)));
    emit changed();
    scan_ = std::jthread([this, request, frame, finds = around_.next_scan.finds_in_scan(), stop = *stop] {
        scan_best(request, frame, finds, stop);
    });
}

// Runs on a thread of its own.
void StripModel::scan_best(const ScanRequest& request, const Frame& frame, bool finds, std::stop_token stop) {
    RasterSink sink;
    auto told = std::chrono::steady_clock::now();
    sink.on_strip = [&](const Raster& page, int rows) {
        const auto now = std::chrono::steady_clock::now();
        if (now - told < telling_pace) return;
        told = now;
        here_([this, done = 100 * rows / std::max(1, page.height_px())] {
            strip_.percent = done;
            emit changed();
        });
    };
    Raster best;
    const auto done = caught("the test strip", [&]() -> Result<void> {
        if (auto scanned = around_.scanners.scanner()->scan(request, sink, std::move(stop)); !scanned) return scanned;
        if (sink.pages.empty()) return {};
        Region at = frame.at;
        at.x_mm -= request.area.x;
        at.y_mm -= request.area.y;
        best = cut_to(sink.pages.front(), at, finds);
        return {};
    });
    here_([this, done, best] {
        strip_.scanning = false;
        around_.scanners.give_back(ScannerLease::For::Strip);
        if (!done && done.error().kind != ErrorKind::Stopped) around_.messages.complain(done.error());
        best.empty() ? emit changed() : work_out(best);
    });
}

bool StripModel::page_will_do() const {
    const PagePtr page = around_.choice.current();
    return page && page->original.ink != Ink::Black && page->original.dpi > 290;
}

void StripModel::start_from_page() {
    const PagePtr page = around_.choice.current();
    if (!page || strip_.scanning) return;
    const auto place = find_page(around_.tray.tray(), page->id);
    begin(tr("of page %1, scanned at %2 dpi").arg(place ? place->page + 1 : 1).arg(page->original.dpi));
    emit changed();
    background_([this, page, folder = around_.tray.store_folder()] {
        lower_priority(4);
        Recipe in_full = page->recipe;
        in_full.ink.reset();
        const auto raster = read_original(folder, page->original);
        here_([this, best = raster ? develop(*raster, in_full) : Raster{}] {
            strip_.scanning = false;
            best.empty() ? emit changed() : work_out(best);
        });
    });
}

// ---- the samples of the coarser choices

// Computes the kind of page and its text at the best resolution first, then the resolutions, the coarsest first.
void StripModel::work_out(const Raster& best) {
    const Ticket& ticket = around_.tickets.ticket();
    strip_.best = best;
    strip_.cells = strip_cells(best);
    strip_.page = make_for(ticket.make, false);
    strip_.left = 1;
    emit changed();
    const auto languages = ticket.read.languages.empty() ? std::vector<std::string>{"eng"} : ticket.read.languages;
    background_([this, best, languages, generation = ++generation_] {
        lower_priority(4);
        const Notices notices = notice(best, Items::None);
        TextLayer truth;
        if (notices.kind != PageKind::Photo && notices.letters > 0) {
            if (auto read = readers_.borrow()->read(with_ink(best, Ink::Grey), languages, stop_work_))
                truth = std::move(*read);
        }
        here_([this, generation, notices, truth, languages] {
            if (generation != generation_) return;
            strip_.notices = notices;
            strip_.truth = truth;
            strip_.left = 0;
            for (const int dpi : strip_resolutions) {
                if (dpi <= strip_.best.dpi + 0.5) work_out_resolution(dpi, languages);
            }
            emit changed();
        });
    });
}

void StripModel::work_out_resolution(int dpi, const std::vector<std::string>& languages) {
    ++strip_.left;
    const Ticket& ticket = around_.tickets.ticket();
    const bool searchable = is_pdf(strip_.page.format) && takes_words(ticket.make) && !ticket.read.languages.empty();
    background_([this, of = Resolution(strip_, dpi, languages, searchable), generation = generation_]() mutable {
        lower_priority(4);
        here_([this, generation, cells = of.cells(readers_, stop_work_)] {
            if (generation == generation_) take_cells(cells);
        });
    });
}

void StripModel::take_cells(const std::vector<StripCell>& cells) {
    --strip_.left;
    for (const StripCell& cell : cells) {
        for (StripCell& mine : strip_.cells) {
            if (mine.dpi == cell.dpi && mine.ink == cell.ink) mine = cell;
        }
    }
    if (strip_.left == 0) strip_.advice = strip_advice(strip_.cells, strip_.notices, strip_.best.size_mm());
    emit changed();
}

void StripModel::use(int dpi, Ink ink) {
    Ticket ticket = around_.tickets.ticket();
    ticket.how.dpi = dpi;
    ticket.how.dpi_auto = false;
    ticket.how.ink = ink;
    around_.tickets.set(ticket);
    emit changed();
}

}
