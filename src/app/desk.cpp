#include "app/desk.h"

#include "core/page/develop.h"
#include "core/raster/image_file.h"
#include "core/raster/paper.h"
#include "core/saving/file_name.h"
#include "core/ticket/ticket_json.h"
#include "jobs/capture.h"

#include <fmt/ranges.h>
#include <opencv2/imgproc.hpp>

#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QPointer>
#include <QSaveFile>

namespace yelvin {

Desk::Desk(DeskPlaces places, QObject* parent)
    : QObject(parent), places_(std::move(places)), bench_(std::make_unique<SimulatedScanner>()) {
    pool_.setMaxThreadCount(2);
    picture_pool_.setMaxThreadCount(1);
    auto store = TrayStore::open(places_.data.toStdString());
    if (store) {
        store_.emplace(std::move(*store));
        if (auto tray = store_->load()) tray_ = std::move(*tray);
        store_->remove_unused(tray_, {});
    }
    restore();
    if (!tray_.documents.empty()) {
        current_ = QString::fromStdString(tray_.documents.front()->pages.front()->id);
        new_document_ = !tray_.documents.back()->saved_as.empty();
        for (const auto& document : tray_.documents) {
            for (const auto& page : document->pages) {
                if (!page->noticed) look_at(page, ticket_);
            }
        }
    }
}

Desk::~Desk() {
    scan_stop_.request_stop();
    work_stop_.request_stop();
    scanner_thread_ = {};
    save_thread_ = {};
    pool_.clear();
    picture_pool_.clear();
    pool_.waitForDone();
    picture_pool_.waitForDone();
}

void Desk::on_desk(std::function<void()> action) {
    QMetaObject::invokeMethod(this, std::move(action), Qt::QueuedConnection);
}

// ---- last choices

void Desk::restore() {
    QFile file(places_.settings + "/last.json");
    if (!file.open(QIODevice::ReadOnly)) return;
    const auto json = nlohmann::json::parse(file.readAll().toStdString(), nullptr, false);
    if (json.is_discarded() || !json.is_object()) return;
    if (auto ticket = ticket_from_json(json.value("ticket", nlohmann::json::object()))) ticket_ = std::move(*ticket);
    has_scanner_ = json.value("bench_scanner", false);
    for (const auto& f : json.value("frames", nlohmann::json::array())) {
        if (f.is_array() && f.size() == 4) frames_.push_back({f[0], f[1], f[2], f[3]});
    }
}

void Desk::remember() {
    QDir().mkpath(places_.settings);
    nlohmann::json frames = nlohmann::json::array();
    for (const RectMm& f : frames_) frames.push_back({f.x, f.y, f.width, f.height});
    const nlohmann::json json{{"ticket", ticket_to_json(ticket_)}, {"bench_scanner", has_scanner_}, {"frames", frames}};
    QSaveFile file(places_.settings + "/last.json");
    if (!file.open(QIODevice::WriteOnly)) return;
    file.write(QByteArray::fromStdString(json.dump(2)));
    file.commit();
}

void Desk::set_ticket(const Ticket& ticket) {
    ticket_ = ticket;
    remember();
    emit ticket_changed();
}

void Desk::use_bench_scanner() {
    has_scanner_ = true;
    remember();
    emit scanner_changed();
    emit glass_changed();
}

void Desk::set_bench(const BenchSetup& setup) {
    const bool paper_changed = setup.glass != bench_->bench().glass;
    bench_->set_bench(setup);
    if (paper_changed && !preview_.isNull()) preview_stale_ = true;
    emit glass_changed();
}

QString Desk::folder() const { return QString::fromStdString(expanded_folder(ticket_.save.folder).string()); }

QString Desk::next_name() const {
    const auto date = today();
    return QString::fromStdString(
        made_name(ticket_.save.name, date, next_number(ticket_.save.name, date, expanded_folder(ticket_.save.folder))));
}

// ---- the glass

void Desk::set_frames(std::vector<RectMm> frames) {
    std::erase_if(frames, [](const RectMm& frame) { return frame.width < 2 || frame.height < 2; });
    frames_ = std::move(frames);
    remember();
    emit glass_changed();
    emit ticket_changed(); // the sentence counts the frames
}

std::vector<RectMm> Desk::areas_to_scan() const {
    if (ticket_.from.own_paper) return {RectMm{0, 0, ticket_.from.own_paper->width, ticket_.from.own_paper->height}};
    if (const auto paper = find_paper(ticket_.from.paper)) return {RectMm{0, 0, paper->size.width, paper->size.height}};
    if (ticket_.from.frames == Frames::Drawn && !frames_.empty()) return frames_;
    const SizeMm glass = capabilities().glass;
    return {RectMm{0, 0, glass.width, glass.height}};
}

// ---- scanning

void Desk::start_preview() {
    if (scanning_ || previewing_ || !has_scanner_) return;
    previewing_ = true;
    emit busy_changed();
    scan_stop_ = {};
    scanner_thread_ = std::jthread([this, stop = scan_stop_.get_token()] {
        RasterSink sink;
        sink.on_strip = [this](const Raster& so_far, int) {
            QImage image = to_image(so_far);
            on_desk([this, image = std::move(image)] {
                preview_ = image;
                emit preview_growing();
            });
        };
        const auto done = bench_->scan({Source::Glass, {}, 75, Ink::Colour}, sink, stop);
        on_desk([this, done] {
            previewing_ = false;
            preview_stale_ = !done && done.error().kind == ErrorKind::Stopped;
            if (!done && done.error().kind != ErrorKind::Stopped)
                emit trouble(QString::fromStdString(done.error().sentence));
            emit busy_changed();
            emit glass_changed();
        });
    });
}

void Desk::start_scan() {
    if (scanning_ || previewing_ || !has_scanner_ || !store_) return;
    scanning_ = true;
    emit busy_changed();
    scan_stop_ = {};
    scanner_thread_ = std::jthread([this, areas = areas_to_scan(), ticket = ticket_] { run_scan(areas, ticket); });
}

// On the scanner's thread: one pass for each area.
void Desk::run_scan(const std::vector<RectMm>& areas, const Ticket& ticket) {
    const std::stop_token stop = scan_stop_.get_token();
    Result<void> done;
    bool first = true;
    for (const RectMm& area : areas) {
        CaptureSink sink(store_->folder());
        // What is shown while it grows is at most 1200 px high; it is made from the strips as they pass.
        cv::Mat shown;
        int total_rows = 0, step = 1;
        sink.on_begin = [&](const PageStart& start) {
            total_rows = start.height_px;
            step = std::max(1, start.height_px / 1200);
            shown = cv::Mat(std::max(1, start.height_px / step), std::max(1, start.width_px / step),
                            start.ink == Ink::Colour ? CV_8UC3 : CV_8UC1, cv::Scalar::all(255));
        };
        sink.on_rows = [&](const cv::Mat& rows, int first_row) {
            const int top = std::min(first_row / step, shown.rows),
                      bottom = std::min((first_row + rows.rows) / step, shown.rows);
            if (bottom <= top) return;
            cv::resize(rows, shown.rowRange(top, bottom), {shown.cols, bottom - top}, 0, 0, cv::INTER_AREA);
            QImage image = to_image({shown, 100, rows.channels() == 3 ? Ink::Colour : Ink::Grey});
            on_desk(
                [this, image = std::move(image), bottom, all = shown.rows] { emit page_growing(image, bottom, all); });
        };
        sink.on_page = [&](const Original& original) {
            on_desk([this, original, ticket, first] { page_arrived(original, ticket, first); });
        };
        const ScanRequest request{Source::Glass, area, static_cast<double>(ticket.how.dpi),
                                  ticket.how.ink.value_or(Ink::Colour)};
        done = bench_->scan(request, sink, stop);
        first = false;
        if (!done) break;
    }
    on_desk([this, done] {
        scanning_ = false;
        if (!done && done.error().kind != ErrorKind::Stopped)
            emit trouble(QString::fromStdString(done.error().sentence));
        emit busy_changed();
    });
}

void Desk::stop() { scan_stop_.request_stop(); }

void Desk::page_arrived(const Original& original, const Ticket& ticket, bool first_of_scan) {
    const auto page = std::make_shared<const Page>(Page{new_id(), original, false, {}, {}, false});
    const bool starts = first_of_scan && next_page_starts_document();
    current_ = QString::fromStdString(page->id);
    edit(with_page_added(tray_, page, starts), tr("scan"));
    new_document_ = false;
    emit current_changed();
    look_at(page, ticket);
}

// Looks at a page in the background, applies what the ticket says, then reads it.
void Desk::look_at(const PagePtr& page, const Ticket& ticket) {
    ++in_work_;
    emit busy_changed();
    pool_.start([this, page, ticket, folder = store_->folder(), stop = work_stop_.get_token()] {
        if (stop.stop_requested()) return;
        const auto original = read_original(folder, page->original);
        std::optional<Notices> notices;
        Recipe recipe;
        if (original) {
            notices = noticed(*original, ticket, readers_);
            recipe = recipe_for(*notices, *original, ticket);
        }
        on_desk([this, id = page->id, notices, recipe, ticket] {
            --in_work_;
            if (const PagePtr now = page_at(tray_, id); now && notices) {
                Page looked = *now;
                looked.noticed = true;
                looked.notices = *notices;
                if (!looked.recipe_touched) looked.recipe = recipe;
                const auto seen = std::make_shared<const Page>(std::move(looked));
                // Not a step of its own: undoing the scan takes it along.
                change_tray(with_page(tray_, seen));
                read_in_background(seen, ticket);
            }
            emit busy_changed();
        });
    });
}

std::string Desk::languages_key() const { return fmt::format("{}", fmt::join(ticket_.read.languages, "+")); }

void Desk::read_in_background(const PagePtr& page, const Ticket& ticket) {
    if (ticket.read.languages.empty() || ticket.make.format != Format::Pdf || page->notices.kind == PageKind::Photo)
        return;
    ++in_work_;
    emit busy_changed();
    pool_.start([this, page, languages = ticket.read.languages, key = languages_key(), folder = store_->folder(),
                 stop = work_stop_.get_token()] {
        if (stop.stop_requested()) return;
        std::optional<TextLayer> text;
        if (const auto original = read_original(folder, page->original)) {
            if (auto read = readers_.borrow()->read(develop(*original, page->recipe), languages, stop))
                text = std::move(*read);
        }
        on_desk([this, page, text, key] {
            --in_work_;
            // A page turned meanwhile keeps no reading of how it lay before; saving reads it then.
            if (text) store_->keep_text(page->id, page->recipe, key, *text);
            emit busy_changed();
            emit current_changed();
        });
    });
}

// ---- the tray

bool Desk::next_page_starts_document() const {
    return new_document_ || tray_.documents.empty() || !tray_.documents.back()->saved_as.empty();
}

void Desk::set_next_page_starts_document(bool starts) {
    new_document_ = starts;
    emit tray_changed();
}

void Desk::change_tray(const Tray& tray) {
    tray_ = tray;
    if (store_) {
        if (auto kept = store_->keep(tray_); !kept) emit trouble(QString::fromStdString(kept.error().sentence));
    }
    if (!page_at(tray_, current_.toStdString())) {
        current_ =
            tray_.documents.empty() ? QString() : QString::fromStdString(tray_.documents.back()->pages.back()->id);
        emit current_changed();
    }
    emit tray_changed();
}

void Desk::edit(const Tray& tray, const QString& name) {
    if (tray == tray_) return;
    undo_.push_back({tray_, name});
    redo_.clear();
    change_tray(tray);
}

namespace {
// What was noticed about a page since then stays with it when an older tray comes back.
Tray with_notices_of(Tray older, const Tray& newer) {
    for (const auto& document : older.documents) {
        for (const auto& page : document->pages) {
            const PagePtr seen = page_at(newer, page->id);
            if (!page->noticed && seen && seen->noticed) older = with_page(older, seen);
        }
    }
    return older;
}
}

void Desk::undo() {
    if (undo_.empty()) return;
    const Step step = std::move(undo_.back());
    undo_.pop_back();
    redo_.push_back({tray_, step.name});
    change_tray(with_notices_of(step.tray, tray_));
    emit current_changed();
}

void Desk::redo() {
    if (redo_.empty()) return;
    const Step step = std::move(redo_.back());
    redo_.pop_back();
    undo_.push_back({tray_, step.name});
    change_tray(with_notices_of(step.tray, tray_));
    emit current_changed();
}

void Desk::set_current_page(const QString& id) {
    if (current_ == id) return;
    current_ = id;
    emit current_changed();
}

void Desk::set_recipe(const QString& page_id, const Recipe& recipe, const QString& name) {
    const PagePtr page = page_at(tray_, page_id.toStdString());
    if (!page || page->recipe == recipe) return;
    Page changed = *page;
    changed.recipe = recipe;
    changed.recipe_touched = true;
    edit(with_page(tray_, std::make_shared<const Page>(std::move(changed))), name);
    emit current_changed();
}

void Desk::turn_current(int quarters) {
    if (const PagePtr page = current())
        set_recipe(current_, turned(page->recipe, quarters, page->original.size_mm()), tr("turn"));
}

void Desk::tilt_current(double by_degrees) {
    const PagePtr page = current();
    if (!page) return;
    Recipe recipe = page->recipe;
    // The content is turned by what is asked: clockwise means that less clockwise tilt is left to take out.
    recipe.tilt_degrees = std::clamp(std::round((recipe.tilt_degrees - by_degrees) * 100) / 100, -45.0, 45.0);
    set_recipe(current_, recipe, tr("tilt"));
}

void Desk::remove_current() {
    const auto place = find_page(tray_, current_.toStdString());
    if (!place) return;
    // The next page is looked at afterwards, or the one before.
    const auto& pages = tray_.documents[place->document]->pages;
    const QString after = place->page + 1 < pages.size() ? QString::fromStdString(pages[place->page + 1]->id)
                          : place->page > 0              ? QString::fromStdString(pages[place->page - 1]->id)
                                                         : QString();
    const Tray left = without_page(tray_, current_.toStdString());
    if (!after.isEmpty()) current_ = after;
    edit(left, tr("remove page"));
    emit current_changed();
}

void Desk::divide_at_current() {
    const auto place = find_page(tray_, current_.toStdString());
    if (!place) return;
    if (place->page > 0)
        edit(with_divider_at(tray_, current_.toStdString()), tr("new document"));
    else
        edit(without_divider_at(tray_, tray_.documents[place->document]->id), tr("join documents"));
}

void Desk::put_away_saved() {
    Tray left = tray_;
    for (const auto& document : tray_.documents) {
        if (!document->saved_as.empty()) left = without_document(left, document->id);
    }
    edit(left, tr("put away"));
}

void Desk::add_files(const QStringList& files) {
    if (!store_) return;
    ++in_work_;
    emit busy_changed();
    pool_.start([this, files, ticket = ticket_, folder = store_->folder(), stop = work_stop_.get_token()] {
        bool first = true;
        for (const QString& file : files) {
            const auto path = std::filesystem::path(file.toStdString());
            const auto count = count_pages(path);
            if (!count) on_desk([this, e = count.error()] { emit trouble(QString::fromStdString(e.sentence)); });
            for (int i = 0; count && i < *count && !stop.stop_requested(); ++i) {
                const auto page = read_page(path, i);
                const auto original = page ? keep_original(folder, page->raster) : std::unexpected(page.error());
                if (!original) {
                    on_desk([this, e = original.error()] { emit trouble(QString::fromStdString(e.sentence)); });
                    continue;
                }
                if (!page->resolution_known) {
                    on_desk([this, file] {
                        emit trouble(
                            tr("%1 carries no resolution and is taken as 300 dpi.").arg(QFileInfo(file).fileName()));
                    });
                }
                on_desk([this, original = *original, ticket, first] { page_arrived(original, ticket, first); });
                first = false;
            }
        }
        on_desk([this] {
            --in_work_;
            emit busy_changed();
        });
    });
}

}
