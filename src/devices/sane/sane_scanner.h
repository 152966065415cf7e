// Scanners that libsane knows. See scanner.h for the contracts; scan(), prepare() and take_button_press() wait for the
// device; everything else returns at once.
#pragma once

#include "core/scanner/scanner.h"
#include "devices/sane/session.h"

#include <atomic>
#include <chrono>
#include <mutex>
#include <set>

namespace yelvin {

// How long a device may send nothing during a scan before silent_for() reports it: lamps warm up for a minute, and some
// backends deliver whole pages only, which takes time in proportion to their pixels. Common practice, no source.
struct SanePatience {
    std::chrono::milliseconds at_first{60'000}, per_megapixel{2'000};
};

class SaneScanner : public Scanner {
  public:
    explicit SaneScanner(sane::Listing listing, SanePatience patience = {});

    std::string name() const override { return listing_.name; }
    std::string title() const override;
    std::string kind() const override { return sane::connection_of(listing_.name); }
    Result<void> prepare() override;
    Capabilities capabilities() const override;
    ScannerState state() const override;
    Result<void> scan(const ScanRequest& request, PageSink& sink, std::stop_token stop) override;
    std::chrono::milliseconds silent_for() const override { return silent_for_.load(); }
    std::optional<std::string> take_button_press() override;

  private:
    sane::Listing listing_;
    SanePatience patience_;
    std::atomic<std::chrono::milliseconds> silent_for_{};
    mutable std::mutex mutex_; // protects what follows; not held while waiting for a device
    std::shared_ptr<sane::Session> session_;
    sane::Meaning meaning_;
    ScannerState state_ = ScannerState::Ready;
    std::optional<std::string> button_down_;
    std::set<std::string> touched_; // options of ScanRequest::more that were set; used during scan() only

    std::unexpected<Error> fault(int status, int sheet);
    Result<void> choose(sane::Session& session, const ScanRequest& request, const sane::Meaning& meaning,
                        double& dpi_in_force);
    Result<void> choose_area(sane::Session& session, const RectMm& area, const sane::Meaning& meaning,
                             double& dpi_in_force);
    class PageTaker;
    Result<void> take(const sane::Arrival& arrival, PageTaker& taker, bool feeder);
    Result<void> take_pages(sane::Session& session, const ScanRequest& request, double dpi, bool black, PageSink& sink,
                            const std::stop_token& stop);
    void set_state(ScannerState state);
    std::chrono::milliseconds longest_silence(const ScanRequest& request, double dpi) const;
};

// Returns a scanner for each device that list_devices() finds; they are not connected yet. Blocks like list_devices().
std::vector<std::shared_ptr<Scanner>> sane_scanners();

}
