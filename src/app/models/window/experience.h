// Estimates of the times of scans and the sizes of files, learnt from earlier ones and stored in last.json. Used on the
// window's thread.
#pragma once

#include "core/ticket/estimates.h"
#include "core/tray/tray.h"
#include "jobs/page_looker.h"
#include "jobs/save_job.h"

#include <QHash>
#include <QObject>

namespace yelvin {

class LastChoices;

class Experience : public QObject {
    Q_OBJECT
  public:
    explicit Experience(LastChoices& last, QObject* parent = nullptr);
    const Estimates& estimates() const { return estimates_; }

    // Whether a page should be encoded only to learn its size, which takes time: for the first three pages of a ticket.
    bool wants_sample_of(const Ticket& ticket);
    void learn(const EncodedSample& sample, const Ticket& ticket);
    void learn_pass(const std::string& scanner, const ScanRequest& request, double mm, double seconds);
    // Learns from saved files, if all of their pages have the same colour mode and resolution.
    void learn_saved(const Ticket& ticket, const std::vector<PagePtr>& pages, const std::vector<MadeFile>& files);

    // Estimates the size of a document as `ticket` would save it.
    double bytes_of(const Document& document, const Ticket& ticket) const;

  signals:
    void changed(); // estimates changed

  private:
    LastChoices& last_;
    Estimates estimates_;
    QHash<QString, int> samples_; // number of samples by ticket and format
    void remember();
};

}
