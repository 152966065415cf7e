// Adds picture files and PDFs to the tray as if they had been scanned. Files without a resolution wait until the user
// has entered one. Lives on the window's thread.
#pragma once

#include "core/text/text_layer.h"
#include "jobs/executor.h"

#include <QList>
#include <QObject>
#include <QStringList>

#include <memory>
#include <optional>
#include <stop_token>

namespace yelvin {

class Choice;
class DocumentTickets;
class Looking;
class Messages;
class OutTray;
class Pools;
class Tickets;
struct Original;
struct Ticket;

class Incoming : public QObject {
    Q_OBJECT
  public:
    // The objects that it uses; they must outlive it.
    struct Around {
        Messages& messages;
        Tickets& tickets;
        DocumentTickets& document_tickets;
        OutTray& tray;
        Choice& choice;
        Looking& looking;
    };
    Incoming(const Around& around, Pools& pools, QObject* parent = nullptr);

    // Adds the files in the background, all pages as one document if the next page starts one. Files that cannot be
    // used are reported.
    void add(const QStringList& files);

    struct Unsized {
        QString file;
        int width_px = 0, height_px = 0;
    };
    const QList<Unsized>& without_resolution() const { return unsized_; }
    void add_unsized(int dpi); // adds them at this resolution
    void leave_unsized();

  signals:
    void came_in();           // the first added page is in the tray
    void resolution_wanted(); // without_resolution() changed

  private:
    Around around_;
    Executor background_, here_;
    std::stop_token stop_;
    QList<Unsized> unsized_;

    struct Batch; // files that were added together
    void take_in(const QStringList& files, int dpi_if_unknown);
    void take_in_file(const QString& file, const std::shared_ptr<Batch>& batch);
    void ask_for_resolution(const Unsized& unsized);
    void put_into_tray(const Original& original, const std::optional<TextLayer>& own, bool incomplete, Batch& batch);
};

}
