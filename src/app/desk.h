// The desk: everything the window shows and changes, behind one object. It holds the ticket, the tray with its history,
// the glass's preview and frames, and runs scanning, looking, reading and saving off the window's thread. Widgets show
// its values and call its intents; they decide nothing.
#pragma once

#include "core/ticket/ticket.h"
#include "core/tray/tray_store.h"
#include "devices/simulated/simulated_scanner.h"
#include "jobs/reader_pool.h"
#include "jobs/save_job.h"

#include <QDateTime>
#include <QHash>
#include <QImage>
#include <QObject>
#include <QSet>
#include <QThreadPool>

#include <condition_variable>
#include <deque>
#include <mutex>
#include <thread>

namespace yelvin {

QImage to_image(const Raster& raster); // deep copy

// A picture and its halves, down to about the size of a window: what is drawn is always near the size it is drawn at.
using Levels = QList<QImage>;
Levels levels_of(const Raster& raster);

struct DeskPlaces {
    QString data;      // the out tray's folder
    QString settings;  // the folder of the last choices
    QString originals; // the demo's SVG originals
};

class Desk : public QObject {
    Q_OBJECT
  public:
    explicit Desk(DeskPlaces places, QObject* parent = nullptr);
    ~Desk() override;

    // The scanner. Until one is chosen there is none; the simulated one is always there to be chosen.
    bool has_scanner() const { return has_scanner_; }
    void use_bench_scanner();
    SimulatedScanner& bench() { return *bench_; }
    Capabilities capabilities() const { return bench_->capabilities(); }
    QString scanner_name() const { return QString::fromStdString(bench_->name()); }
    void set_bench(const BenchSetup& setup); // the paper changed: the preview is out of date
    QString originals_folder() const { return places_.originals; }

    // The ticket.
    const Ticket& ticket() const { return ticket_; }
    void set_ticket(const Ticket& ticket);
    QString next_name() const; // the finished name of the next document, without extension
    QString folder() const;    // the ticket's folder, ~ expanded

    // The glass.
    const QImage& preview() const { return preview_; }
    bool preview_out_of_date() const { return preview_stale_; }
    const std::vector<RectMm>& frames() const { return frames_; }
    void set_frames(std::vector<RectMm> frames); // none can be empty: smaller ones than 2 mm are left out
    std::vector<RectMm> areas_to_scan() const;   // by the ticket: the frames, the paper's size, or the whole glass

    // What runs. One scan at a time; saving goes on beside it.
    bool scanning() const { return scanning_; }
    bool previewing() const { return previewing_; }
    bool saving() const { return saving_; }
    int pages_in_work() const { return in_work_; } // being looked at or read
    void start_preview();
    void start_scan();
    void stop(); // keeps the pages that are in

    // The tray.
    const Tray& tray() const { return tray_; }
    QString current_page() const { return current_; } // id; empty when there is none
    void set_current_page(const QString& id);
    PagePtr current() const { return page_at(tray_, current_.toStdString()); }
    bool next_page_starts_document() const;
    void set_next_page_starts_document(bool starts);
    void edit(const Tray& tray, const QString& name); // an undoable step
    void set_recipe(const QString& page_id, const Recipe& recipe, const QString& name);
    void turn_current(int quarters);
    void tilt_current(double by_degrees);
    void remove_current();
    void divide_at_current();
    void put_away_saved();
    bool can_undo() const { return !undo_.empty(); }
    bool can_redo() const { return !redo_.empty(); }
    QString undo_name() const { return undo_.empty() ? QString() : undo_.back().name; }
    void undo();
    void redo();
    void add_files(const QStringList& files);

    // Pictures of pages, made in the background; empty until picture_ready(id).
    Levels page_picture(const QString& page_id);
    Levels original_picture(const QString& page_id);
    QImage thumbnail(const QString& page_id);
    std::optional<TextLayer> text_of(const QString& page_id);
    QString title_of(const Document& document) const; // its own name, or what it will be called
    double estimated_bytes(const Document& document) const;

    // Saving. The files appear whole; the outcome comes as saved() or trouble().
    void save(const QStringList& document_ids);

    static double estimated_page_bytes(SizeMm size, int dpi, Ink ink, Format format, int quality);

  signals:
    void ticket_changed();
    void scanner_changed();
    void glass_changed();
    void tray_changed();
    void current_changed();
    void picture_ready(const QString& page_id);
    void page_growing(const QImage& so_far, int rows, int of_rows); // while scanning
    void preview_growing();
    void busy_changed();
    void saving_progress(const QString& document_id, double done);
    void saved(const QStringList& files);
    void trouble(const QString& sentence);

  private:
    struct Step {
        Tray tray;
        QString name;
    };
    DeskPlaces places_;
    std::unique_ptr<SimulatedScanner> bench_;
    bool has_scanner_ = false;
    Ticket ticket_;
    std::optional<TrayStore> store_;
    Tray tray_;
    std::vector<Step> undo_, redo_;
    QString current_;
    bool new_document_ = true;
    QImage preview_;
    bool preview_stale_ = false;
    std::vector<RectMm> frames_;
    bool scanning_ = false, previewing_ = false, saving_ = false;
    int in_work_ = 0;
    std::stop_source scan_stop_, work_stop_;
    QThreadPool pool_, picture_pool_;
    ReaderPool readers_;
    std::jthread scanner_thread_, save_thread_;
    std::deque<QStringList> waiting_saves_;

    struct Picture {
        Recipe recipe;
        Levels levels;
    };
    QHash<QString, Picture> pictures_, originals_, thumbnails_;
    QStringList picture_order_;
    QSet<QString> asked_;

    void remember();
    void restore();
    void change_tray(const Tray& tray);
    void page_arrived(const Original& original, const Ticket& ticket, bool first_of_scan);
    void look_at(const PagePtr& page, const Ticket& ticket);
    void read_in_background(const PagePtr& page, const Ticket& ticket);
    Levels picture(QHash<QString, Picture>& cache, const QString& page_id, const Recipe& recipe, int longest_side,
                   const QString& kind);
    void forget_old_pictures(const QString& latest);
    void run_scan(const std::vector<RectMm>& areas, const Ticket& ticket);
    void run_next_save();
    std::string languages_key() const;
    void on_desk(std::function<void()> action); // on the window's thread, from any thread
};

}
