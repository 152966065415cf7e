// Before a run its folder is looked at: whether it is there, may be written to, and has room for what comes. What is
// wrong is said at once; the pages come into the tray all the same.
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
