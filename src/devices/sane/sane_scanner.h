// Every scanner that Linux knows, through libsane.
#pragma once

#include "core/scanner/scanner.h"
#include "devices/sane/session.h"

#include <mutex>
#include <set>

namespace yelvin {

class SaneScanner : public Scanner {
  public:
    explicit SaneScanner(sane::Listing listing);

    std::string name() const override { return listing_.name; }
    std::string title() const override;
    std::string kind() const override { return sane::connection_of(listing_.name); }
    Result<void> prepare() override;
    Capabilities capabilities() const override;
    ScannerState state() const override;
    Result<void> scan(const ScanRequest& request, PageSink& sink, std::stop_token stop) override;
    std::optional<std::string> take_button_press() override;

  private:
    sane::Listing listing_;
    mutable std::mutex mutex_; // of what follows; not held while a device is waited for
    std::shared_ptr<sane::Session> session_;
    sane::Meaning meaning_;
    ScannerState state_ = ScannerState::Ready;
    std::optional<std::string> button_down_;
    std::set<std::string> touched_; // further options that were set; used while scanning only

    std::unexpected<Error> fault(int status, int sheet);
    Result<void> choose(sane::Session& session, const ScanRequest& request, const sane::Meaning& meaning,
                        double& dpi_in_force);
    Result<void> choose_area(sane::Session& session, const RectMm& area, const sane::Meaning& meaning,
                             double& dpi_in_force);
    Result<void> take_pages(sane::Session& session, const ScanRequest& request, double dpi, bool black, PageSink& sink,
                            const std::stop_token& stop);
    void set_state(ScannerState state);
};

// The listed devices as scanners, not yet connected. Blocks for as long as libsane looks for them.
std::vector<std::shared_ptr<Scanner>> sane_scanners();

}
