// What a ticket may ask for beyond the scan: as soon as a run is in and read, its documents are saved, or printed as
// copies, without another press. Both can be taken back.
#pragma once

#include "core/ticket/ticket.h"

#include <QObject>
#include <QStringList>
#include <QTimer>

#include <set>
#include <string>

namespace yelvin {

class Errands;
class Looking;
class Messages;
class OutTray;
class Papers;
class Reading;
class Saving;
class Scanning;
class Tickets;

class AtOnce : public QObject {
    Q_OBJECT
  public:
    struct Around {
        Messages& messages;
        Tickets& tickets;
        OutTray& tray;
        Looking& looking;
        Reading& reading;
        Saving& saving;
        Errands& errands;
        Scanning& run;
        Papers& papers;
    };
    explicit AtOnce(const Around& around, QObject* parent = nullptr);
    bool waits() const { return armed_; } // for a run, and for what is read of it

  private:
    Around around_;
    bool armed_ = false, runs_ = false, copies_ = false;
    std::set<std::string> before_;  // documents' pages that are not of this run
    std::set<std::string> started_; // documents that were saved at once
    QTimer settle_;

    void look();
    void finish();
    void copy(const std::vector<std::string>& documents);
    void say_saved(const QString& document_id, const QStringList& files);
    void take_back(const QString& document_id, const QStringList& files);
};

}
