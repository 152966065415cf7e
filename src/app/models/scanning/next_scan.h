// What would be scanned now, from the ticket, the scanner and the glass: request, resolution, passes, time and sizes.
// Has no state of its own. Lives on the window's thread.
#pragma once

#include "core/seeing/frame.h"
#include "core/ticket/ticket.h"
#include "jobs/scan_run.h"

#include <optional>

namespace yelvin {

class Experience;
class Glass;
class Scanners;
class Tickets;

class NextScan {
  public:
    NextScan(const Scanners& scanners, const Tickets& tickets, const Glass& glass, const Experience& experience)
        : scanners_(scanners), tickets_(tickets), glass_(glass), experience_(experience) {}

    // The same with another ticket, which must outlive the result.
    NextScan with(const Ticket& ticket) const {
        NextScan other = *this;
        other.instead_ = &ticket;
        return other;
    }

    ScanRequest request() const; // the ticket's request, as the scanner can carry it out
    Source source() const { return request().source; }
    bool two_passes() const;
    // The plan of a run that would begin now, without starts_document.
    RunPlan plan() const;
    RunPlan piece_plan() const; // the whole glass as a piece of something larger

    // What becomes pages on the glass: the frames, the paper's size, or the whole glass. Never empty.
    std::vector<Frame> frames() const;
    bool frames_count() const;  // whether the ticket scans frames instead of a paper size or the whole glass
    bool finds_in_scan() const; // whether items are found in the scan itself, without a preview
    std::vector<GlassPass> passes() const;
    std::optional<SizeMm> larger_than_glass() const; // the ticket's paper size, if it needs several pieces

    int dpi() const; // the finest that a frame needs
    int dpi_for(const Frame& frame) const;
    double seconds(int dpi) const;
    double seconds_alone(const Frame& frame) const; // time if only this frame were scanned
    double page_bytes(SizeMm size, double dpi, const std::optional<Ink>& ink, bool photograph = false) const;
    double bytes(const Ticket::Make& make) const; // size of everything that the next scan of the glass makes
    bool bytes_are_learnt() const;                // whether the sizes come from pages of this ticket

  private:
    const Scanners& scanners_;
    const Tickets& tickets_;
    const Glass& glass_;
    const Experience& experience_;
    const Ticket* instead_ = nullptr; // used instead of the sentence's ticket; may be null

    const Ticket& ticket() const;
};

}
