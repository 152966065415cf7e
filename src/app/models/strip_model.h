// The test strip: one fine scan, and in the background what every coarser choice would make of it.
#pragma once

#include "core/seeing/frame.h"
#include "core/strip/test_strip.h"
#include "core/tray/tray.h"
#include "jobs/executor.h"
#include "jobs/reader_pool.h"

#include <QObject>

#include <stop_token>
#include <thread>

namespace yelvin {

class Choice;
class Glass;
class Messages;
class NextScan;
class OutTray;
class Pools;
class Scanners;
class Tickets;

// As far as it is worked out.
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

class StripModel : public QObject {
    Q_OBJECT
  public:
    // What it knows of the rest.
    struct Around {
        Messages& messages;
        Scanners& scanners;
        Tickets& tickets;
        Glass& glass;
        NextScan& next_scan;
        OutTray& tray;
        Choice& choice;
    };
    StripModel(const Around& around, ReaderPool& readers, Pools& pools, QObject* parent = nullptr);
    ~StripModel() override;

    const Strip& strip() const { return strip_; }
    int best_dpi() const; // the scanner's best useful resolution
    // Of the chosen frame, else of the first that would be scanned. Not while the scanner is in use, nor from a feeder.
    // Every start ends with changed() several times, the last once strip().advice is there.
    void start();
    bool page_will_do() const; // the page looked at is fine enough
    void start_from_page();
    void use(int dpi, Ink ink); // puts the choice into the ticket

  signals:
    void changed();

  private:
    Around around_;
    ReaderPool& readers_;
    Executor background_, here_;
    std::stop_token stop_work_;
    Strip strip_;
    int generation_ = 0;
    std::jthread scan_;

    void begin(const QString& words);
    void scan_best(const ScanRequest& request, const Frame& frame, bool finds, std::stop_token stop);
    void work_out(const Raster& best);
    void work_out_resolution(int dpi, const std::vector<std::string>& languages);
    void take_cells(const std::vector<StripCell>& cells);
};

}
