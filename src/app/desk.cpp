#include "app/desk.h"

#include "core/output/document_writer.h"
#include "core/page/develop.h"
#include "core/raster/paper.h"
#include "core/saving/file_name.h"
#include "core/ticket/ticket_json.h"

#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QPointer>
#include <QSaveFile>
#include <fmt/ranges.h>
#include <opencv2/core/utility.hpp>

#include <sys/resource.h>
#include <unistd.h>

namespace yelvin {

namespace {
// Those that nobody made or needed for a month; a page that is still there gets a new one.
void forget_old_thumbnails(const std::filesystem::path& folder) {
    std::error_code failure;
    const auto month = std::chrono::hours(24 * 30);
    for (const auto& entry : std::filesystem::directory_iterator(folder, failure)) {
        if (std::filesystem::file_time_type::clock::now() - entry.last_write_time(failure) > month)
            std::filesystem::remove(entry.path(), failure);
    }
}
}

Desk::Desk(DeskPlaces places, QObject* parent)
    : QObject(parent), places_(std::move(places)), bench_(std::make_shared<SimulatedScanner>()),
      bench_feeder_(std::make_shared<SimulatedScanner>(BenchSetup{}, bench_feed_scanner())) {
    scanners_ = {bench_, bench_feeder_};
    can_ = bench_->capabilities();
    // Pages are worked on side by side; OpenCV's own threads on top of that only make everybody wait.
    cv::setNumThreads(1);
    pool_.setMaxThreadCount(2);
    reading_pool_.setMaxThreadCount(2);
    picture_pool_.setMaxThreadCount(1);
    door_->desk = this;
    keeping_pool_.setMaxThreadCount(1);
    countdown_.setInterval(1000);
    connect(&countdown_, &QTimer::timeout, this, &Desk::tick);
    button_watch_.setInterval(700);
    connect(&button_watch_, &QTimer::timeout, this, &Desk::ask_for_button);
    button_watch_.start();
    auto store = TrayStore::open(places_.data.toStdString());
    if (store) {
        store_.emplace(std::move(*store));
        if (auto tray = store_->load()) tray_ = std::move(*tray);
        history_ = store_->load_history();
        store_->remove_unused(tray_, history_);
        pictures_ = std::make_unique<PagePictures>(store_->folder());
        if (auto keeper = TrayStore::open(places_.data.toStdString())) keeper_.emplace(std::move(*keeper));
    }
    if (store_) picture_pool_.start([folder = store_->folder()] { forget_old_thumbnails(folder / "thumbnails"); });
    forget_numbers_.setInterval(1500);
    connect(&forget_numbers_, &QTimer::timeout, this, [this] { next_numbers_.clear(); });
    forget_numbers_.start();
    restore();
    start_tickets();
    preview_age_.setSingleShot(true);
    preview_age_.setInterval(std::chrono::minutes(10));
    connect(&preview_age_, &QTimer::timeout, this, &Desk::paper_changed);
    if (places_.real_scanners) {
        look_for_scanners();
        device_watch_.setInterval(20000);
        connect(&device_watch_, &QTimer::timeout, this, [this] {
            if (!scanning_ && !previewing_) look_for_scanners();
        });
        device_watch_.start();
    }
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
    {
        const std::scoped_lock lock(door_->mutex);
        door_->desk = nullptr;
    }
    scan_stop_.request_stop();
    work_stop_.request_stop();
    scanner_thread_ = {};
    save_thread_ = {};
    for (QThreadPool* pool : {&pool_, &reading_pool_, &picture_pool_}) pool->clear();
    for (QThreadPool* pool : {&pool_, &reading_pool_, &picture_pool_, &keeping_pool_}) pool->waitForDone();
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
    // Frames that were drawn; those that were found belong to a paper that may be gone.
    if (ticket_.from.frames == Frames::Drawn) {
        for (const auto& f : json.value("frames", nlohmann::json::array())) {
            const bool numbers =
                f.is_array() && f.size() == 5 && std::ranges::all_of(f, [](const auto& n) { return n.is_number(); });
            if (numbers) frames_.push_back({Region{f[0], f[1], f[2], f[3], f[4]}});
        }
    }
    estimates_ = Estimates::from_json(json.value("learnt", nlohmann::json::object()));
    ticket_file_ = QString::fromStdString(json.value("ticket_file", std::string()));
    wanted_scanner_ = QString::fromStdString(json.value("scanner", std::string()));
    if (!wanted_scanner_.isEmpty()) use_scanner(wanted_scanner_); // a real one once it has been found
}

void Desk::remember() {
    QDir().mkpath(places_.settings);
    nlohmann::json frames = nlohmann::json::array();
    for (const Frame& f : frames_) frames.push_back({f.at.x_mm, f.at.y_mm, f.at.w_mm, f.at.h_mm, f.at.angle_degrees});
    const nlohmann::json json{{"ticket", ticket_to_json(ticket_)},
                              {"scanner", (scanner_ ? scanner_key() : wanted_scanner_).toStdString()},
                              {"frames", frames},
                              {"ticket_file", ticket_file_.toStdString()},
                              {"learnt", estimates_.to_json()}};
    QSaveFile file(places_.settings + "/last.json");
    if (!file.open(QIODevice::WriteOnly)) return;
    file.write(QByteArray::fromStdString(json.dump(2)));
    file.commit();
}

void Desk::set_ticket(const Ticket& ticket) {
    const bool other_frames = ticket.from.frames != ticket_.from.frames;
    ticket_ = ticket;
    if (other_frames) frame_what_was_found();
    compare_with_kept();
    remember();
    emit ticket_changed();
}

QString Desk::folder() const { return QString::fromStdString(expanded_folder(ticket_.save.folder).string()); }

// Listing a folder, a network's at times, for every document at every change would hold the window up.
int Desk::next_number_of(const std::vector<NamePart>& parts) const {
    const auto date = today();
    const auto folder = expanded_folder(ticket_.save.folder);
    for (const NextNumber& known : next_numbers_) {
        if (known.parts == parts && known.folder == folder && known.date == date) return known.number;
    }
    next_numbers_.push_back({parts, folder, date, next_number(parts, date, folder)});
    return next_numbers_.back().number;
}

QString Desk::next_name() const {
    const auto date = today();
    return QString::fromStdString(made_name(ticket_.save.name, date, next_number_of(ticket_.save.name)));
}

// ---- pages that come in

void Desk::add_page(const Page& page, const Ticket& ticket, bool new_document, bool new_step) {
    const auto added = std::make_shared<const Page>(page);
    current_ = QString::fromStdString(page.id);
    chosen_.clear();
    Tray with;
    if (landing_ && page_at(tray_, landing_->page)) {
        with = landing_->how == Landing::How::Instead  ? with_page_replaced(tray_, landing_->page, added)
               : landing_->how == Landing::How::Before ? with_page_inserted(tray_, landing_->page, added)
                                                       : with_page_behind(tray_, landing_->page, added);
        landing_ = Landing{page.id, Landing::How::Behind}; // more pages of this run follow it
    } else {
        with = with_page_added(tray_, added, new_document);
    }
    // One press of Scan is one step, however many sheets it brings.
    if (new_step)
        edit(with, tr("scan"));
    else
        change_tray(with);
    new_document_ = false;
    emit current_changed();
    look_at(added, ticket);
}

// The window comes first, then scanning, then looking at pages, then reading them: this thread's share of the processor
// becomes smaller for good.
void Desk::step_back(int niceness) { setpriority(PRIO_PROCESS, static_cast<id_t>(gettid()), niceness); }

PageOrigin Desk::origin_of(const Page& page) const {
    PageOrigin origin{page.sheet > 0, page.back};
    if (page.sheet == 0) {
        origin.item = page.notices.sheet;
        origin.framed = page.notices.framed;
    }
    return origin;
}

namespace {
struct Sample { // of a page as its file would hold it
    Ticket::Make make;
    Ink ink = Ink::Grey;
    double dpi = 300, bytes = 0, pixels = 0;
};
std::optional<Sample> sample_of(const Raster& page, const Ticket::Make& make) {
    const auto encoded = encode_page(page, {}, make.format, make.jpeg_quality);
    if (!encoded) return std::nullopt;
    return Sample{make, page.ink, page.dpi, static_cast<double>(encoded->image.size()),
                  static_cast<double>(page.pixels.total())};
}
}

// Looks at a page in the background, applies what the ticket says, then reads it.
void Desk::look_at(const PagePtr& page, const Ticket& ticket) {
    ++in_work_;
    emit busy_changed();
    // The first pages from the glass tell how large files become; a stack is learnt from when it is saved, because
    // encoding would cost the feeder its pace.
    const bool learn =
        page->sheet == 0 &&
        ++pages_learnt_[QString::fromStdString(ticket.name + ticket_to_json(ticket)["make"].dump())] <= 3;
    pool_.start([this, page, ticket, learn, origin = origin_of(*page), folder = store_->folder(),
                 stop = work_stop_.get_token()] {
        if (stop.stop_requested()) return;
        step_back(4);
        const auto original = read_original(folder, page->original);
        std::optional<Notices> notices;
        Recipe recipe;
        QImage small;
        std::optional<Sample> sample;
        if (original) {
            notices = noticed(*original, ticket, readers_, origin);
            recipe = recipe_for(*notices, *original, ticket, origin);
            small = thumbnail_of(*original, recipe);
            if (learn)
                sample = sample_of(develop(*original, recipe), make_for(ticket.make, notices->kind == PageKind::Photo));
        }
        on_desk([this, id = page->id, notices, recipe, ticket, sample, small = std::move(small)] {
            --in_work_;
            if (sample) {
                estimates_.learn_page(sample->make, ticket.name, sample->ink, sample->dpi, sample->bytes,
                                      sample->pixels);
                emit ticket_changed(); // the sizes said are other ones now
            }
            if (const PagePtr now = page_at(tray_, id); now && notices) {
                Page looked = *now;
                looked.noticed = true;
                looked.notices = *notices;
                if (!looked.recipe_touched) {
                    looked.recipe = recipe;
                    keep_thumbnail(looked, small);
                }
                const auto seen = std::make_shared<const Page>(std::move(looked));
                // Not a step of its own: undoing the scan takes it along.
                change_tray(with_page(tray_, seen));
                read_in_background(seen, ticket);
                judge_runs();
            }
            emit busy_changed();
        });
    });
}

std::string Desk::languages_key() const { return fmt::format("{}", fmt::join(ticket_.read.languages, "+")); }

void Desk::read_in_background(const PagePtr& page, const Ticket& ticket) {
    if (ticket.read.languages.empty() || page->notices.kind == PageKind::Photo ||
        make_for(ticket.make, false).format != Format::Pdf)
        return;
    ++in_work_;
    emit busy_changed();
    reading_pool_.start([this, page, languages = ticket.read.languages, key = languages_key(),
                         folder = store_->folder(), stop = work_stop_.get_token()] {
        if (stop.stop_requested()) return;
        step_back(7);
        std::optional<TextLayer> text;
        if (const auto original = read_original(folder, page->original)) {
            if (auto read = readers_.borrow()->read(develop(*original, page->recipe), languages, stop))
                text = std::move(*read);
        }
        on_desk([this, page, text, key] {
            --in_work_;
            // A page turned meanwhile keeps no reading of how it lay before; saving reads it then.
            if (text) {
                store_->keep_text(page->id, page->recipe, key, *text);
                int doubtful = 0;
                for (const TextLine& line : text->lines) {
                    doubtful += static_cast<int>(std::ranges::count_if(
                        line.words, [](const Word& w) { return w.confidence < doubtful_confidence; }));
                }
                doubtful_[QString::fromStdString(page->id)] = doubtful;
                emit tray_changed();
            }
            emit busy_changed();
            emit current_changed();
        });
    });
}

}
