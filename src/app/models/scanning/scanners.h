// The scanners, the one in use, and its capabilities. Users of the scanner take its lease here. Lives on the window's
// thread.
//
// A device may hang for any time: it is asked on detached threads, whose answers are ignored if this object is gone.
#pragma once

#include "devices/simulated/simulated_scanner.h"
#include "jobs/scanner_lease.h"

#include <QObject>
#include <QTimer>

#include <chrono>
#include <functional>
#include <memory>
#include <mutex>
#include <stop_token>

namespace yelvin {

class LastChoices;
class Messages;
namespace sane {
struct Listing;
}

class Scanners : public QObject {
    Q_OBJECT
  public:
    enum class Look { ForRealOnes, OnlySimulated };
    Scanners(Messages& messages, LastChoices& last, Look look, QObject* parent = nullptr);
    ~Scanners() override;

    const std::vector<std::shared_ptr<Scanner>>& all() const { return all_; } // real ones first
    bool looking() const { return lease_.held_for(ScannerLease::For::Listing); }
    void look_for();                            // in the background; emits list_changed()
    void use(const QString& name);              // connects in the background; emits changed(), or reports an error
    void add(std::shared_ptr<Scanner> scanner); // adds a scanner to the list
    QString connecting_to() const { return connecting_; } // title of the scanner that is being connected; may be empty
    void set_connect_limit(std::chrono::milliseconds limit) { connect_limit_ = limit; } // default: 45 s

    // The scanner in use; null until one is chosen.
    bool chosen() const { return scanner_ != nullptr; }
    const std::shared_ptr<Scanner>& scanner() const { return scanner_; }
    const Capabilities& capabilities() const { return can_; } // without a scanner, those of a simulated one
    QString title() const;                                    // its name on the screen
    QString key() const;                                      // its name in tickets
    QString state_words(Source source) const;                 // "ready, 12 sheets", "lid open"
    bool is_ready(Source source) const;                       // whether it can scan from this source

    // The simulated scanners are always in the list.
    void use_bench();
    SimulatedScanner& bench() const; // the one in use if it is simulated, otherwise the first
    bool bench_chosen() const { return dynamic_cast<SimulatedScanner*>(scanner_.get()) != nullptr; }
    void set_bench(const BenchSetup& setup); // sets its papers

    // Takes the lease for one use; the returned scanner is stopped by stop(). Returns nullopt while somebody else has
    // it, or if there is no scanner. The caller must call give_back() on this thread.
    [[nodiscard]] std::optional<std::stop_token> take(ScannerLease::For what);
    void give_back(ScannerLease::For what); // emits lease_changed()
    void stop() { stop_.request_stop(); }   // stops the present user
    bool in_use() const { return lease_.held(); }
    // See Scanner::silent_for(), for the present user.
    std::chrono::seconds silent_for() const { return silent_for_; }
    const ScannerLease& lease() const { return lease_; }
    void when_given_back(std::function<void()> then) { lease_.when_given_back(std::move(then)); }
    void forget_waiting() { lease_.forget_waiting(); }

  signals:
    void changed();        // the scanner in use, its capabilities or its paper changed
    void list_changed();   // the list, or whether it is being made, changed
    void exchanged();      // another scanner is in use, so what is known of the glass is void
    void papers_changed(); // the papers on the simulated glass changed
    void lease_changed();
    void silence_changed();                     // silent_for() changed
    void button_pressed(const QString& button); // a button of the device, by its name

  private:
    Messages& messages_;
    LastChoices& last_;
    bool real_ones_;
    std::vector<std::shared_ptr<Scanner>> all_;
    std::shared_ptr<SimulatedScanner> bench_, bench_feeder_;
    std::shared_ptr<Scanner> scanner_;
    Capabilities can_;
    QString connecting_, wanted_;
    std::weak_ptr<Scanner> connecting_scanner_;
    int attempt_ = 0; // number of the latest attempt to connect
    std::chrono::milliseconds connect_limit_{45'000};
    ScannerLease lease_;
    std::stop_source stop_;
    QTimer button_watch_, device_watch_, silence_watch_;
    std::chrono::seconds silent_for_{};
    bool asking_button_ = false;

    struct Door {
        std::mutex mutex;
        Scanners* scanners = nullptr;
    };
    std::shared_ptr<Door> door_ = std::make_shared<Door>();
    using Answer = std::function<void(Scanners&)>;
    // `or_else` returns the answer if the question throws.
    void ask_device(std::function<Answer()> question, std::function<Answer(const Error&)> or_else);
    void connected(int attempt, const Result<void>& ready, const std::shared_ptr<Scanner>& scanner);
    void choose(std::shared_ptr<Scanner> scanner);
    void found(const std::vector<sane::Listing>& listings);
    void ask_for_button();
    void look_for_silence();
};

}
