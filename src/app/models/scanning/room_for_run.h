// Examines the ticket's folder before a run: that it exists, can be written and has enough room. Problems are reported
// at once; the pages are scanned into the tray nevertheless. Used on the window's thread; Folders asks the disk on
// another one.
#pragma once

#include <QObject>

namespace yelvin {

class Folders;
class Messages;
class Scanners;
class Scanning;
class Tickets;

class RoomForRun : public QObject {
    Q_OBJECT
  public:
    struct Around {
        Messages& messages;
        Scanners& scanners;
        Tickets& tickets;
        Folders& folders;
        Scanning& run;
    };
    explicit RoomForRun(const Around& around, QObject* parent = nullptr);

  private:
    Around around_;
    bool runs_ = false;
    void look();
};

}
