// Which scanners there are, which one is used, and what it can do. The lease on it is taken here by whoever uses it.
//
// Devices may hang for as long as they like: what asks them runs on a thread that nobody waits for, and its answer
// finds this object only while it is there.
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
    void look_for();                            // in the background; ends with list_changed()
    void use(const QString& name);              // connects in the background; ends with changed(), or with trouble said
    void add(std::shared_ptr<Scanner> scanner); // one more to choose from
    QString connecting_to() const { return connecting_; } // the title of the one that is being connected
    void set_connect_limit(std::chrono::milliseconds limit) { connect_limit_ = limit; } // 45 s otherwise

    // The one in use. Until one is chosen there is none.
    bool chosen() const { return scanner_ != nullptr; }
    const std::shared_ptr<Scanner>& scanner() const { return scanner_; }
    const Capabilities& capabilities() const { return can_; } // without a scanner, those of the simulated one
    QString title() const;                                    // on screen
    QString key() const;                                      // in tickets
    QString state_words(Source source) const;                 // "ready, 12 sheets", "lid open"
    bool is_ready(Source source) const;                       // to scan from there

    // The simulated ones are always there to be chosen.
    void use_bench();
    SimulatedScanner& bench() const; // the chosen simulated one, else the first
    bool bench_chosen() const { return dynamic_cast<SimulatedScanner*>(scanner_.get()) != nullptr; }
    void set_bench(const BenchSetup& setup); // its papers, as a person lays them

    // For one use of the scanner; what it gets is asked to stop by stop(). Nothing while somebody else has it, or none
    // is chosen. Whoever takes it gives it back, on this thread.
    [[nodiscard]] std::optional<std::stop_token> take(ScannerLease::For what);
    void give_back(ScannerLease::For what); // ends with lease_changed()
    void stop() { stop_.request_stop(); }   // whoever has it
    bool in_use() const { return lease_.held(); }
    // How long it has sent nothing to whoever has it, once that is longer than it should take; zero: all is well.
    std::chrono::seconds silent_for() const { return silent_for_; }
    const ScannerLease& lease() const { return lease_; }
    void when_given_back(std::function<void()> then) { lease_.when_given_back(std::move(then)); }
    void forget_waiting() { lease_.forget_waiting(); }

  signals:
    void changed();        // which one is used, what it can do, or what lies in it
    void list_changed();   // which ones there are, or whether they are being looked for
    void exchanged();      // another one is used: what was known of its glass is void
    void papers_changed(); // other papers lie on the simulated glass
    void lease_changed();
    void silence_changed();                     // silent_for()
    void button_pressed(const QString& button); // the scanner's own, by its name

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
    int attempt_ = 0; // to connect; the latest one counts
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
    // `or_else` makes the answer where the question threw.
    void ask_device(std::function<Answer()> question, std::function<Answer(const Error&)> or_else);
    void connected(int attempt, const Result<void>& ready, const std::shared_ptr<Scanner>& scanner);
    void choose(std::shared_ptr<Scanner> scanner);
    void found(const std::vector<sane::Listing>& listings);
    void ask_for_button();
    void look_for_silence();
};

}
