// What scans and files took so far, from which later ones are estimated. Kept over restarts.
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

    // Encoding a page only to see how large it becomes takes time: true for the first three pages of a ticket.
    bool wants_sample_of(const Ticket& ticket);
    void learn(const EncodedSample& sample, const Ticket& ticket);
    void learn_pass(const std::string& scanner, const ScanRequest& request, double mm, double seconds);
    // Pages of one ink and resolution tell what such pages take; others tell nothing.
    void learn_saved(const Ticket& ticket, const std::vector<PagePtr>& pages, const std::vector<MadeFile>& files);

    // Of a document as `ticket` would save it.
    double bytes_of(const Document& document, const Ticket& ticket) const;

  signals:
    void changed(); // what is said about sizes and times is other than before

  private:
    LastChoices& last_;
    Estimates estimates_;
    QHash<QString, int> samples_; // by ticket and what it makes
    void remember();
};

}
