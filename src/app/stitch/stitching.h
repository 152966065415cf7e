// A picture that is being put together from pages: what is known of its pieces, where they lie, and the walk along its
// seams. All work is done off the window's thread; whatever is known so far can be shown at any time.
#pragma once

#include "core/stitch/compose.h"
#include "core/tray/tray_edits.h"

#include <QImage>
#include <QObject>
#include <QThreadPool>

#include <atomic>
#include <memory>
#include <optional>
#include <stop_token>

namespace yelvin {

class Choice;
class Messages;
class OutTray;
class PageEdits;
class Scanning;

// How a page is taken as a piece: as it was scanned, with what a person cut off cut off; all else would only blur it.
// `alone`: no other piece is of the same scan.
Recipe piece_recipe(const Page& page, bool alone);

class Stitching : public QObject {
    Q_OBJECT
  public:
    Stitching(Messages& messages, OutTray& tray, Choice& choice, PageEdits& edits, Scanning& run,
              QObject* parent = nullptr);
    ~Stitching() override;

    struct Piece {
        PagePtr page;
        Recipe recipe;     // as a piece
        PieceLookPtr look; // null until it was looked at
        QImage image;      // 75 dpi
        QString failed;    // why it cannot be read
        bool laid_out() const { return look != nullptr; }
    };

    bool is_open() const { return open_; }
    void begin(const PageIds& pages); // anew
    // With pieces that are still to be scanned. Once they cover `whole` without a doubt the page is made by itself.
    void begin_guided(std::optional<SizeMm> whole = std::nullopt);
    void add(const QString& page_id);
    void leave(); // the pages stay as they are

    const std::vector<Piece>& pieces() const { return pieces_; }
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
    struct Place {
        size_t seam = 0;
        int step = 0, steps = 0; // of its seam
        cv::Point2d at;          // mm of the picture
    };
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
    struct ByHand {
        std::string piece, beside; // ids
        Pose to_beside;
    };
    std::vector<ByHand> by_hand_; // what was put somewhere by a person, against a neighbour
    Scale scale_ = Scale::Known;
    int chosen_ = -1, percent_ = 0, place_ = -1;
    std::vector<Tones> tones_;
    SeamMap seams_;
    std::vector<Place> places_;
    QImage part_;
    cv::Point2d part_middle_;
    int round_ = 0;                    // what was begun before is out of date
    std::atomic<int> part_wanted_ = 0; // the latest; those before need not be made any more
    struct Shelf;
    std::shared_ptr<Shelf> shelf_; // pieces that were read a moment ago
    std::shared_ptr<PairMemory> memory_;
    std::stop_source stop_;
    QThreadPool pool_;

    void clear();
    void start_work();
    void set_layout(Layout layout);
    void look_at_seams();
    std::vector<PieceLookPtr> looks() const;
    StitchSource source() const;
    void remember_by_hand(size_t piece);
    static Layout with_hands(const std::vector<ByHand>& hands, const std::vector<PieceLookPtr>& looks, Layout layout,
                             const std::vector<Piece>& pieces);
};

}
