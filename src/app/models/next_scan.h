// What the ticket becomes with the chosen scanner and what lies on its glass: what would be scanned now, how fine, in
// how many passes, how long it takes and how large the files become. It holds nothing of its own.
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

    // The same with this ticket, which must outlive what is given back.
    NextScan with(const Ticket& ticket) const {
        NextScan other = *this;
        other.instead_ = &ticket;
        return other;
    }

    ScanRequest request() const; // the ticket's, as the chosen scanner can carry it out
    Source source() const { return request().source; }
    bool two_passes() const;
    // A run that began now, but for whether it starts a document.
    RunPlan plan() const;
    RunPlan piece_plan() const; // all of the glass, as it is: one part of something larger

    // The glass. What becomes pages: the frames, the paper's size, or the whole glass. Never empty.
    std::vector<Frame> frames() const;
    bool frames_count() const;  // the ticket scans the frames, not a paper's size or all of the glass
    bool finds_in_scan() const; // no current preview: what lies on the glass is found in the scan itself
    std::vector<GlassPass> passes() const;
    std::optional<SizeMm> larger_than_glass() const; // the ticket's paper, where it takes several pieces

    int dpi() const; // the finest that one of its frames needs
    int dpi_for(const Frame& frame) const;
    double seconds(int dpi) const;
    double seconds_alone(const Frame& frame) const; // if nothing else were scanned
    double page_bytes(SizeMm size, double dpi, const std::optional<Ink>& ink, bool photograph = false) const;
    double bytes(const Ticket::Make& make) const; // of all that the next scan of the glass makes
    bool bytes_are_learnt() const;                // from pages scanned with this ticket

  private:
    const Scanners& scanners_;
    const Tickets& tickets_;
    const Glass& glass_;
    const Experience& experience_;
    const Ticket* instead_ = nullptr; // of the one in the sentence

    const Ticket& ticket() const;
};

}
