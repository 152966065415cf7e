// The test strip: one fine scan, and the results of coarser choices, computed in the background. Lives on the window's
// thread.
#pragma once

#include "core/seeing/frame.h"
#include "core/strip/test_strip.h"
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

// The state of a test strip, as far as it is computed.
struct Strip {
    Raster best; // the fine scan, cropped to the page; may be empty
    std::vector<StripCell> cells;
    std::vector<StripAdvice> advice; // empty until all cells are known
    Notices notices;
    TextLayer truth; // text of the fine scan
    Ticket::Make page;
    QString words; // where the scan is from, for display
    bool scanning = false;
    int percent = 0; // progress of the scan
    int left = 0;    // number of resolutions that are still computed
};

class StripModel : public QObject {
    Q_OBJECT
  public:
    // The objects that it uses; they must outlive it.
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
    // Scans the selected frame, or the first one that would be scanned. Does nothing while the scanner is in use or for
    // a feeder. Emits changed() several times, the last time when strip().advice is complete.
    void start();
    bool page_will_do() const; // whether the current page is fine enough
    void start_from_page();
    void use(int dpi, Ink ink); // sets the choice in the ticket

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
