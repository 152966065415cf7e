// The desk: everything the window shows and changes, behind one object. It holds the ticket, the tray with its history,
// the glass's preview and frames, and runs scanning, looking, reading and saving off the window's thread. Widgets show
// its values and call its intents; they decide nothing.
#pragma once

#include "app/page_pictures.h"
#include "core/page/frame.h"
#include "core/page/join.h"
#include "core/strip/test_strip.h"
#include "core/ticket/estimates.h"
#include "core/ticket/ticket_folder.h"
#include "core/tray/tray_edits.h"
#include "core/tray/tray_store.h"
#include "devices/simulated/simulated_scanner.h"
#include "jobs/page_work.h"
#include "jobs/reader_pool.h"
#include "jobs/save_job.h"

#include <QDateTime>
#include <QHash>
#include <QImage>
#include <QObject>
#include <QSet>
#include <QThreadPool>
#include <QTimer>

#include <chrono>
#include <condition_variable>
#include <deque>
#include <mutex>
#include <set>
#include <thread>

namespace yelvin::sane {
struct Listing;
}

namespace yelvin {

QImage thumbnail_of(const Raster& original, const Recipe& recipe);

struct DeskPlaces {
    QString data;               // the out tray's folder
    QString settings;           // the folder of the last choices
    QString originals;          // the demo's SVG originals
    bool real_scanners = false; // look for those that libsane knows
};

// What a run with the scanner waits for: the person at the desk. Shown as a card above the page.
struct Waiting {
    enum class For { Nothing, FirstSheet, NextSheet, Backs, Counts, Fault };
    For what = For::Nothing;
    QString words;                      // what happened and what to do
    int seconds_left = -1;              // hand-fed: until it goes on by itself; -1: it asks
    bool paused = false;                // the countdown stands still
    bool can_keep = false;              // a long sheet that may be one after all
    int fronts = 0, backs = 0, gap = 0; // counts that differ; the sheet, from 1, whose other side is missing
};

// How far the run is, in words and numbers.
struct Progress {
    int sheet = 0, pages = 0; // the sheet under way and the pages that are in, from 1
    bool back = false;
    std::optional<int> sheets_waiting;
    double pages_a_minute = 0; // 0: not known yet
};

// The test strip as far as it is worked out.
struct Strip {
    Raster best; // the one fine scan, cut to the page; empty: there is none
    std::vector<StripCell> cells;
    std::vector<StripAdvice> advice; // once all cells are known
    Notices notices;
    TextLayer truth; // read at the best
    Ticket::Make page;
    QString words; // where it is from
    bool scanning = false;
    int percent = 0; // of the scan
    int left = 0;    // resolutions still being worked out
};

class Desk : public QObject {
    Q_OBJECT
  public:
    explicit Desk(DeskPlaces places, QObject* parent = nullptr);
    ~Desk() override;

    // The scanners. Until one is chosen there is none; the simulated ones are always there to be chosen.
    bool has_scanner() const { return scanner_ != nullptr; }
    const std::vector<std::shared_ptr<Scanner>>& scanners() const { return scanners_; }
    bool looking_for_scanners() const { return looking_; }
    void look_for_scanners();              // in the background; ends with scanners_changed()
    void use_scanner(const QString& name); // connects in the background; ends with scanner_changed() or trouble()
    void use_bench_scanner();
    void add_scanner(std::shared_ptr<Scanner> scanner);   // one more to choose from
    QString connecting_to() const { return connecting_; } // the title of the scanner that is being connected
    SimulatedScanner& bench() const;                      // the chosen simulated scanner, else the first
    bool bench_chosen() const { return dynamic_cast<SimulatedScanner*>(scanner_.get()) != nullptr; }
    const Capabilities& capabilities() const { return can_; }
    QString scanner_name() const;            // on screen
    QString scanner_key() const;             // in tickets
    QString scanner_state() const;           // "ready, 12 sheets", "lid open"
    void set_bench(const BenchSetup& setup); // the paper changed: the preview is out of date
    const DeskPlaces& places() const { return places_; }
    QString originals_folder() const { return places_.originals; }

    // The ticket.
    const Ticket& ticket() const { return ticket_; }
    void set_ticket(const Ticket& ticket);
    // The kept tickets, one file each; `file` as in tickets().
    const TicketFolder& tickets() const { return kept_tickets_; }
    void read_ticket_folder();                // anew: files come and go
    std::optional<Ticket> kept_state() const; // of the chosen ticket; nothing: it was never kept
    bool is_kept() const { return is_kept_; }
    QString ticket_file() const { return ticket_file_; }
    const std::vector<std::string>& changed_since_kept() const { return changed_; } // keys of choices
    void choose_ticket(const QString& file);
    void keep_ticket();                        // the choices as they are, in the chosen ticket's file
    void keep_ticket_as(const QString& name);  // in a file of its own, which is then the chosen one
    void name_ticket(const QString& name);     // both the kept and the present state, its other choices untouched
    void colour_ticket(const QString& colour); // likewise
    void restore_ticket();                     // as it was kept
    void remove_ticket(const QString& file);   // to where it can be brought back from
    QStringList removed_tickets() const;       // names, the latest first
    void bring_back_ticket(const QString& name);
    bool import_ticket(const QString& file); // false where it is no ticket at all; says what is wrong with a wrong one
    QString next_name() const;               // the finished name of the next document, without extension
    QString folder() const;                  // the ticket's folder, ~ expanded

    // The glass.
    const QImage& preview() const { return preview_; }
    bool preview_out_of_date() const { return preview_stale_; }
    void set_preview_lifetime(std::chrono::milliseconds lifetime); // ten minutes, if nobody says otherwise
    void paper_changed();                                          // the preview is out of date from now on
    const std::vector<Region>& found() const { return found_; }    // things seen on the current preview
    const std::vector<Frame>& frames() const { return frames_; }
    void set_frames(std::vector<Frame> frames);        // none can be empty: smaller ones than 2 mm are left out
    int chosen_frame() const { return chosen_frame_; } // -1: none
    void choose_frame(int index);
    void renumber_frame(int index, int to); // and choose it
    bool frames_count() const;              // the ticket scans the frames, not a paper's size or all of the glass
    // What becomes pages, by the ticket: the frames, the paper's size, or the whole glass. Never empty.
    std::vector<Frame> frames_to_scan() const;
    bool finds_in_scan() const; // no current preview: what lies on the glass is found in the scan itself
    int dpi_for(const Frame& frame) const;
    int dpi_now() const; // of the next scan: the finest that one of its frames needs
    std::vector<GlassPass> passes() const;
    double seconds_to_scan(int dpi) const;
    double seconds_alone(const Frame& frame) const; // if nothing else were scanned
    double page_bytes(SizeMm size, double dpi, const std::optional<Ink>& ink, bool photograph = false) const;
    double scan_bytes(const Ticket::Make& make) const; // of all that the next scan of the glass makes
    bool bytes_are_learnt() const;                     // from pages scanned with this ticket
    Source source() const;                             // the one the chosen scanner will use for this ticket
    std::optional<SizeMm> larger_than_glass() const;   // the ticket's paper, where it takes several pieces
    bool two_passes() const { return needs_two_passes(ticket_.from.source, can_); }
    ScanRequest request() const; // the ticket's, as the chosen scanner can carry it out

    // What runs. One scan at a time; saving goes on beside it.
    bool scanning() const { return scanning_; }
    bool previewing() const { return previewing_; }
    bool saving() const { return saving_; }
    int pages_in_work() const { return in_work_; } // being looked at or read
    void start_preview();                          // of the glass; from a feeder, the first sheet as a test
    void start_scan();
    void stop(); // keeps the pages that are in; ends a run that waits
    const Waiting& waiting() const { return waiting_; }
    const Progress& progress() const { return progress_; }
    void go_on();            // with the run that waits
    void keep_long_sheet();  // it was one sheet, not two
    void scan_first_again(); // after a first-sheet test: without the page it gave
    void scan_backs_again(); // the counts differ: without the backs that came
    void pause_countdown(bool paused);
    void set_gap(int sheet);                          // the sheet, from 1, where the missing side belongs
    void tick();                                      // a second of the countdown has passed
    void set_clock(bool runs) { clock_runs_ = runs; } // not: seconds pass by tick() alone, as in tests

    // The test strip.
    const Strip& strip() const { return strip_; }
    int strip_dpi() const; // the scanner's best useful resolution
    void start_strip();    // of the chosen frame, else of the first that would be scanned
    bool page_can_be_strip() const;
    void start_strip_from_page();
    void use_strip(int dpi, Ink ink); // puts the choice into the ticket

    // The tray.
    const Tray& tray() const { return tray_; }
    QString current_page() const { return current_; } // id; empty when there is none
    void set_current_page(const QString& id);
    PagePtr current() const { return page_at(tray_, current_.toStdString()); }
    // The chosen pages, the current one among them; none only where there is no page.
    PageIds chosen() const;
    bool several_chosen() const { return chosen().size() > 1; }
    void toggle_chosen(const QString& id); // and make it the current one
    void choose_up_to(const QString& id);  // all from the current page to this one
    void choose_pages(const PageIds& ids); // the first of them becomes the current one, unless it is among them
    void choose_all();
    void choose_every_other(bool odd);        // of the current document, by the numbers on the pages
    void choose_others();                     // those that are not chosen now
    bool choose_numbers(const QString& text); // "1-3, 7" of the current document; false: it is not that
    void step_page(int by, bool extend);      // to the next page or the one before
    bool next_page_starts_document() const;
    void set_next_page_starts_document(bool starts);
    void edit(const Tray& tray, const QString& name); // an undoable step
    // `one_gesture`: with the step before it, where that was of the same kind on the same page a moment ago.
    void set_recipe(const QString& page_id, const Recipe& recipe, const QString& name, bool one_gesture = false);
    // A recipe that is only looked at, while something is dragged; the current page's until it is set or given up.
    void try_recipe(const Recipe& recipe);
    void stop_trying();
    Recipe shown_recipe() const;           // of the current page
    void pick_colour(PointMm on_original); // the colour there is dropped from the current page
    void
    count_levels(const QString& page_id); // of the page as it lies, its tones untouched; ends with levels_counted()
    // Tones, edges, cleaning and colour mode of the current page for others: where eyes are red is each page's own.
    void do_the_same(const PageIds& pages);
    void do_the_same_from_now_on();    // into the ticket
    PageIds pages_of_document() const; // the current one
    // These do it to all chosen pages.
    void turn_current(int quarters);
    void tilt_current(double by_degrees);
    void remove_current();
    void shift_chosen(int by);
    void move_chosen(const QString& document_id, size_t index);
    void part_chosen();
    void double_chosen();
    void join_chosen(Joined how); // several pages become one, in the background
    // The picture stitched from pages takes their place; they stay with it and can be taken out again.
    void put_together(const std::vector<PagePtr>& pieces, const Original& picture);
    void take_pieces_out(const QString& page_id);
    void scan_piece(); // all of the glass, as it is: one part of something larger; ends with piece_scanned()
    std::filesystem::path store_folder() const { return store_ ? store_->folder() : std::filesystem::path(); }
    void divide_at_current();
    void move_divider(const QString& document_id, size_t index);
    // The next scan takes the current page's place, or comes before it.
    struct Landing {
        std::string page;
        enum class How { Instead, Before, Behind } how = How::Instead;
    };
    const std::optional<Landing>& landing() const { return landing_; }
    void scan_at_current(Landing::How how);
    void put_away_saved();
    bool can_undo() const { return !history_.undo.empty(); }
    bool can_redo() const { return !history_.redo.empty(); }
    QString undo_name() const { return can_undo() ? QString::fromStdString(history_.undo.back().name) : QString(); }
    QStringList undo_names(int most) const; // the latest first
    QString redo_name() const { return can_redo() ? QString::fromStdString(history_.redo.back().name) : QString(); }
    void undo();
    void redo();
    void add_files(const QStringList& files);
    struct Unsized { // a picture that does not say how large it is
        QString file;
        int width_px = 0, height_px = 0;
    };
    const QList<Unsized>& files_without_resolution() const { return unsized_; }
    void add_unsized(int dpi); // takes them in at this resolution
    void leave_unsized();
    void drop_current(); // to a slip, or back
    void bring_back(const QString& page_id);
    void set_blank_limit(double percent);      // and at once for the unsaved pages of the tray
    std::vector<PagePtr> judged_pages() const; // those the limit decides about

    PagePictures* pictures() { return pictures_.get(); } // null without a place to keep pages
    // Made in the background and kept on disk; an older one, or none, until picture_ready(id).
    QImage thumbnail(const QString& page_id);
    std::optional<TextLayer> text_of(const QString& page_id);
    int doubtful_words(const QString& page_id) const { return doubtful_.value(page_id, 0); } // as far as it was read
    QString title_of(const Document& document) const; // its own name, or what it will be called
    double estimated_bytes(const Document& document) const;
    Ticket::Make make_of(const Document& document) const; // what it will be saved as

    // Saving. The files appear whole; the outcome comes as saved() or trouble().
    void save(const QStringList& document_ids);

  signals:
    void ticket_changed();
    void scanner_changed();
    void scanners_changed();
    void run_changed(); // waiting() or progress()
    void resolution_wanted();
    void glass_changed();
    void tray_changed();
    void current_changed(); // the page, its recipe, or which pages are chosen
    void trial_changed();
    void levels_counted(const QString& page_id, const QList<int>& counts); // 256
    void picture_ready(const QString& page_id);
    void piece_scanned(const QString& page_id);
    void page_growing(const QImage& so_far, int rows, int of_rows); // while scanning
    void preview_growing();
    void strip_changed();
    void busy_changed();
    void saving_progress(const QString& document_id, double done);
    void saved(const QStringList& files);
    void trouble(const QString& sentence);
    void told(const QString& sentence); // something that went well and is worth a word

  private:
    // A run: all the scanning that one press of Scan leads to, over faults and countdowns.
    struct Run {
        Ticket ticket;
        RectMm area;                   // of the feeder's sheets
        std::vector<Frame> frames;     // glass: what becomes pages
        std::vector<GlassPass> passes; // glass
        bool finds = false;            // glass: the items are looked for in the scan
        std::map<size_t, Page> ready;  // pages of frames that wait for those with lower numbers
        size_t next_frame = 0;
        enum class Pass { Only, Fronts, Backs } pass = Pass::Only;
        std::vector<std::string> pages, fronts, backs; // ids in the order they came; the latter of two passes
        Tray before_backs;
        int sheets_before = 0; // complete in the jobs of this run before this one
        int pages_of_job = 0;
        std::vector<int> lengths_px;
        bool both = false, from_stack = false, first_sheet_only = false, hand_fed = false, starts_document = false;
        bool piece = false; // of something larger than the glass
        std::chrono::steady_clock::time_point began;
        std::set<std::string> judged; // pages whose verdict was carried out
    };
    DeskPlaces places_;
    std::vector<std::shared_ptr<Scanner>> scanners_;
    std::shared_ptr<SimulatedScanner> bench_, bench_feeder_;
    std::shared_ptr<Scanner> scanner_;
    Capabilities can_;
    QString connecting_, wanted_scanner_;
    bool looking_ = false;
    Ticket ticket_;
    std::optional<TrayStore> store_, keeper_; // the keeper writes the tray, on a thread of its own
    std::mutex to_keep_lock_;
    struct ToKeep {
        Tray tray;
        std::optional<TrayHistory> history; // where it has changed
    };
    std::optional<ToKeep> to_keep_; // the latest that is not written yet
    Tray tray_;
    TrayHistory history_;
    bool history_changed_ = false;
    std::string gesture_;                              // what the last step was about …
    std::chrono::steady_clock::time_point gesture_at_; // … and when
    QString current_;
    PageIds chosen_;
    std::optional<Recipe> trial_;
    std::optional<Landing> landing_;
    bool new_document_ = true;
    QImage preview_;
    bool preview_stale_ = false, scan_after_preview_ = false;
    std::vector<Frame> frames_;
    std::vector<Region> found_;
    std::vector<Frame> found_frames_; // around each of them
    void frame_what_was_found();      // as the ticket wants it
    int chosen_frame_ = -1;
    Strip strip_;
    int strip_generation_ = 0;
    QTimer preview_age_;
    TicketFolder kept_tickets_;
    QString ticket_file_;
    bool is_kept_ = false;
    std::vector<std::string> changed_;
    void compare_with_kept();
    struct RemovedTicket {
        Ticket ticket;
        std::filesystem::path file;
    };
    std::vector<RemovedTicket> removed_tickets_;
    Estimates estimates_;
    QHash<QString, int> pages_learnt_; // by ticket and what it makes
    bool scanning_ = false, previewing_ = false, saving_ = false;
    std::optional<Run> run_;
    std::vector<Run> ended_runs_; // with pages that are still being looked at
    Waiting waiting_;
    Progress progress_;
    QTimer countdown_, button_watch_, device_watch_;
    bool asking_button_ = false, clock_runs_ = true;
    QList<Unsized> unsized_;
    int in_work_ = 0;
    std::stop_source scan_stop_, work_stop_;
    QThreadPool pool_, reading_pool_, picture_pool_, keeping_pool_;
    ReaderPool readers_;
    std::jthread scanner_thread_, save_thread_;
    std::deque<QStringList> waiting_saves_;

    struct Thumbnail {
        Recipe recipe;
        QImage image;
        quint64 used = 0;
    };
    QHash<QString, Thumbnail> thumbnails_;
    quint64 thumbnail_uses_ = 0;
    QSet<QString> asked_;
    QHash<QString, int> doubtful_;
    std::unique_ptr<PagePictures> pictures_;
    void keep_thumbnail(const Page& page, const QImage& image);

    void remember();
    void restore();
    void change_tray(const Tray& tray);
    void keep_tray();
    int next_number_of(const std::vector<NamePart>& parts) const;
    struct NextNumber {
        std::vector<NamePart> parts;
        std::filesystem::path folder;
        std::chrono::year_month_day date;
        int number = 1;
    };
    mutable std::vector<NextNumber> next_numbers_; // the folder was listed for them a moment ago
    QTimer forget_numbers_;
    void add_page(const Page& page, const Ticket& ticket, bool new_document, bool new_step);
    void look_at(const PagePtr& page, const Ticket& ticket);
    void choose(std::shared_ptr<Scanner> scanner);
    void ask_for_button();
    void found_scanners(const std::vector<sane::Listing>& found);
    void start_pass();
    void page_captured(const Original& original, int sheet, bool back, const QImage& small);
    void count_page(const Page& page);
    // A pass of the glass is in: its picture, and what of it becomes pages, by number.
    struct OnPicture {
        size_t number = 0;
        std::optional<Region> at; // nothing: all of the picture
        bool framed = false;
    };
    void glass_captured(const Original& original, const std::vector<OnPicture>& items, const QImage& small);
    void add_ready_pages(bool all);
    void work_out_strip(const Raster& best);
    void work_out_resolution(int dpi, const std::vector<std::string>& languages);
    void preview_ended(const Result<void>& done, std::vector<Frame> found);
    void start_tickets();
    QString tickets_folder() const { return places_.settings + "/tickets"; }
    void write_ticket(const Ticket& ticket, const QString& file);
    PageOrigin origin_of(const Page& page) const;
    void pass_ended(const Result<void>& done);
    void wait_for(Waiting waiting);
    void forget_half_sheet();
    void remove_pages(const std::vector<std::string>& ids);
    void show_interleaved(int gap);
    void end_run();
    void begin_run(bool first_sheet_only);
    void judge_runs();
    bool judge(Run& run, bool all_in);
    void fault(const Error& error);
    void take_in(const QStringList& files, int dpi_if_unknown);
    void read_in_background(const PagePtr& page, const Ticket& ticket);
    QString thumbnail_file(const Original& original, const Recipe& recipe) const;
    void step_in_history(std::vector<TrayStep>& from, std::vector<TrayStep>& to);
    struct PassPlan {
        Ticket ticket;
        RectMm area;
        std::vector<Frame> frames;
        std::vector<GlassPass> passes;
        bool finds = false, from_stack = false;
        int sheets = 0;
    };
    Result<void> scan_pass(const PassPlan& plan, std::vector<int>& lengths, std::stop_token stop);
    Result<void> scan_job(const PassPlan& plan, const GlassPass& pass, std::vector<int>& lengths, std::stop_token stop);
    void run_next_save();
    void learn_from_saved(const std::string& ticket, const Ticket::Make& make, const std::vector<PagePtr>& pages,
                          const std::vector<MadeFile>& made);
    std::string languages_key() const;
    static void step_back(int niceness);
    // Devices may hang for as long as they like: what asks them runs on a thread that nobody waits for, and its answer
    // finds the desk only while there is one.
    struct Door {
        std::mutex mutex;
        Desk* desk = nullptr;
    };
    std::shared_ptr<Door> door_ = std::make_shared<Door>();
    using Answer = std::function<void(Desk&)>;
    void ask_device(std::function<Answer()> question);
    void on_desk(std::function<void()> action); // on the window's thread, from any thread
};

}
