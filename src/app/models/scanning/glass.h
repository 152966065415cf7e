// The glass: its preview, the items found on it, and the frames that become pages. Lives on the window's thread.
#pragma once

#include "core/error.h"
#include "core/seeing/frame.h"
#include "core/ticket/ticket.h"
#include "jobs/executor.h"

#include <QImage>
#include <QObject>
#include <QTimer>

#include <chrono>
#include <stop_token>
#include <thread>

namespace yelvin {

class LastChoices;
class Messages;
class Scanners;
class Tickets;

class Glass : public QObject {
    Q_OBJECT
  public:
    Glass(Messages& messages, LastChoices& last, Scanners& scanners, Tickets& tickets, QObject* parent = nullptr);
    ~Glass() override;

    // Scans all of the glass coarsely and finds the items. Emits previewed(). Does nothing while the scanner is in use.
    void start_preview();
    bool previewing() const { return previewing_; }
    const QImage& preview() const { return preview_; } // null if there is none
    bool is_out_of_date() const { return out_of_date_; }
    bool is_current() const { return !preview_.isNull() && !out_of_date_; }
    void papers_changed();                                         // marks the preview as out of date
    void set_preview_lifetime(std::chrono::milliseconds lifetime); // default: ten minutes

    const std::vector<Region>& found() const { return found_; } // items on the current preview
    const std::vector<Frame>& frames() const { return frames_; }
    void set_frames(std::vector<Frame> frames);        // without those smaller than least_frame_mm
    int chosen_frame() const { return chosen_frame_; } // index; -1: none
    void choose_frame(int index);
    void renumber_frame(int index, int to); // and selects it

  signals:
    void changed(); // the preview, the frames or the selection changed
    void preview_growing();
    void previewing_changed();
    void previewed(bool whole); // `whole` is false if it failed or was stopped

  private:
    Messages& messages_;
    LastChoices& last_;
    Scanners& scanners_;
    Tickets& tickets_;
    QImage preview_;
    bool previewing_ = false, out_of_date_ = false;
    QTimer age_;
    std::vector<Frame> frames_;
    std::vector<Region> found_;
    std::vector<Frame> found_frames_; // a frame around each item
    Frames frames_kind_;              // the ticket's choice when they were made
    int chosen_frame_ = -1;
    std::jthread scan_;

    void scan_preview(std::stop_token stop, const Executor& here);
    void end_preview(const Result<void>& done, std::vector<Frame> found);
    void follow_ticket();
    void forget();
    void frame_what_was_found();
    void remember();
};

}
