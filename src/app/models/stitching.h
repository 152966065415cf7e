// A picture that is being put together from pages: what is known of its pieces, where they lie, and the walk along its
// seams. All work is done off the window's thread; whatever is known so far can be shown at any time.
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
    void begin(const PageIds& pages); // anew
    // With pieces that are still to be scanned. Once they cover `whole` without a doubt the page is made by itself.
    void begin_guided(std::optional<SizeMm> whole = std::nullopt);
    void add(const QString& page_id);
    void leave(); // the pages stay as they are

    const std::vector<Piece>& pieces() const { return pieces_; }
    QImage image(size_t piece) const; // 75 dpi; null until it was looked at
    // Poses and seams by the numbers of pieces(); before anything is known no piece is placed.
    const Layout& layout() const { return layout_; }
    bool working() const { return working_; }
    int percent() const { return percent_; }
    bool composing() const { return composing_; }
    void stop();

    int chosen() const { return chosen_; } // a piece; -1: none
    void choose(int piece);
    void put(int piece, const Pose& pose); // it clicks into the nearest good fit
    void turn(int piece, double degrees);
    void take_out(int piece); // out of this picture; its page stays
    Scale scale() const { return scale_; }
    void set_scale(Scale scale);

    bool can_accept() const { return !working_ && !composing_ && layout_.placed() > 1; }
    void accept(); // ends with accepted()

    // What the newest piece did for the picture, for whoever lays piece after piece on the glass.
    QString advice() const;
    bool advice_is_good() const;

    // The walk: places along all seams, the doubtful seams first.
    using Place = SeamPlace;
    const std::vector<Place>& places() const { return places_; } // empty while they are not known
    int place() const { return place_; }                         // -1: not walking
    void walk_to(int place);                                     // -1: no more
    bool wants_walk() const { return walk_wanted_; }             // it begins as soon as the places are known
    void start_walk();
    // The picture around the place, dot for dot; ends with part_ready(). `size` in dots.
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
    std::map<std::string, QImage> images_; // of pieces, by page
    std::vector<PutByHand> by_hand_;
    Scale scale_ = Scale::Known;
    int chosen_ = -1, percent_ = 0, place_ = -1;
    std::vector<Tones> tones_;
    SeamMap seams_;
    std::vector<Place> places_;
    QImage part_;
    cv::Point2d part_middle_;
    int round_ = 0;                    // what was begun before is out of date
    std::atomic<int> part_wanted_ = 0; // the latest; those before need not be made any more
    std::shared_ptr<PieceShelf> shelf_;
    std::shared_ptr<PairMemory> memory_;
    std::stop_source stop_;
    Executor background_, here_;
    std::stop_callback<std::function<void()>> end_; // of everything

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
