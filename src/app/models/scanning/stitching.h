// A picture that is being stitched from pages: its pieces, their places, and the walk along its seams. The work is done
// in the background; what is known so far can be shown at any time. Lives on the window's thread.
#pragma once

#include "core/tray/tray_edits.h"
#include "jobs/executor.h"
#include "jobs/stitch_work.h"

#include <QImage>
#include <QObject>

#include <atomic>
#include <memory>
#include <optional>
#include <stop_token>

namespace yelvin {

class Choice;
class Messages;
class OutTray;
class PageEdits;
class Pools;
class Scanning;

class Stitching : public QObject {
    Q_OBJECT
  public:
    Stitching(Messages& messages, OutTray& tray, Choice& choice, PageEdits& edits, Scanning& run, Pools& pools,
              QObject* parent = nullptr);

    using Piece = StitchPiece;

    bool is_open() const { return open_; }
    void begin(const PageIds& pages); // starts again
    // Starts with pieces that will be scanned. Once they certainly cover `whole`, the page is made automatically.
    void begin_guided(std::optional<SizeMm> whole = std::nullopt);
    void add(const QString& page_id);
    void leave(); // the pages are unchanged

    const std::vector<Piece>& pieces() const { return pieces_; }
    QImage image(size_t piece) const; // at 75 dpi; null until the piece was analysed
    // The layout, by the indices of pieces(); at first no piece is placed.
    const Layout& layout() const { return layout_; }
    bool working() const { return working_; }
    int percent() const { return percent_; }
    bool composing() const { return composing_; }
    void stop();

    int chosen() const { return chosen_; } // index of a piece; -1: none
    void choose(int piece);
    void put(int piece, const Pose& pose); // moves it into the nearest good fit
    void turn(int piece, double degrees);
    void take_out(int piece); // removes it from this picture; its page stays
    Scale scale() const { return scale_; }
    void set_scale(Scale scale);

    bool can_accept() const { return !working_ && !composing_ && layout_.placed() > 1; }
    void accept(); // emits accepted()

    // What the newest piece contributed, for the guided scan.
    QString advice() const;
    bool advice_is_good() const;

    // The walk along all seams, the doubtful ones first.
    using Place = SeamPlace;
    const std::vector<Place>& places() const { return places_; } // empty while not known
    int place() const { return place_; }                         // index; -1: no walk
    void walk_to(int place);                                     // -1 ends the walk
    bool wants_walk() const { return walk_wanted_; } // whether the walk starts as soon as the places are known
    void start_walk();
    // Computes the picture around the place at full resolution, `size` in pixels. Emits part_ready().
    void show_part(cv::Point2d middle_mm, QSize size);
    const QImage& part() const { return part_; }
    cv::Point2d part_middle() const { return part_middle_; }
    const SeamMap& seam_map() const { return seams_; }

  signals:
    void changed();
    void part_ready();
    void accepted(const QString& page_id);

  private:
    Messages& messages_;
    OutTray& tray_;
    Choice& choice_;
    PageEdits& edits_;
    bool open_ = false, guided_ = false, working_ = false, composing_ = false, walk_wanted_ = false;
    std::optional<SizeMm> whole_;
    bool covers_whole() const;
    std::vector<Piece> pieces_;
    Layout layout_;
    std::map<std::string, QImage> images_; // by page id
    std::vector<PutByHand> by_hand_;
    Scale scale_ = Scale::Known;
    int chosen_ = -1, percent_ = 0, place_ = -1;
    std::vector<Tones> tones_;
    SeamMap seams_;
    std::vector<Place> places_;
    QImage part_;
    cv::Point2d part_middle_;
    int round_ = 0;                    // number of the present work; results of earlier ones are ignored
    std::atomic<int> part_wanted_ = 0; // number of the latest request; earlier ones are skipped
    std::shared_ptr<PieceCache> shelf_;
    std::shared_ptr<PairMemory> memory_;
    std::stop_source stop_;
    Executor background_, here_;
    std::stop_callback<std::function<void()>> end_; // stops all work at the end

    static QImage image_of(const cv::Mat& pixels); // a copy
    void clear();
    void start_work();
    void set_layout(Layout layout);
    void look_at_seams();
    std::vector<PieceLookPtr> looks() const;
    StitchSource source() const;
    void remember_by_hand(size_t piece);
    void make_images();
    void end_work(int round, const Error& error);
    void tell_percent(int round, double share);
    void take_picture(const Result<Original>& made, const std::vector<PagePtr>& used);
};

}
