// What is on its way to servers, as the window shows it.
#pragma once

#include "jobs/send_queue.h"

#include <QObject>
#include <QStringList>
#include <QTimer>

namespace yelvin {

class Messages;
class PasswordKeeper;
class Pools;
class Servers;
struct Passwords;

class Sending : public QObject {
    Q_OBJECT
  public:
    struct Around {
        Messages& messages;
        PasswordKeeper& passwords;
        Servers& servers;
        Pools& pools;
    };
    Sending(const Around& around, const QString& folder, QObject* parent = nullptr);
    void stop(); // what is on its way is taken up at the next start

    // Where a ticket sends: a server of this person's by its name, else the address that the ticket carries.
    struct Where {
        std::string server, address;
        RemotePath folder;
    };
    // `then`: it is held here, and goes as soon as it can; or why not.
    void send(const std::string& document, const QStringList& files, const Where& where,
              std::function<void(const Result<void>&)> then);

    const std::vector<SendItem>& items() const { return items_; } // the oldest first
    std::vector<SendItem> of(const std::string& document) const;
    int left() const; // that are to go yet
    // Each ends with changed().
    void hold(long long id);
    void again(long long id);
    void again_of(const std::string& document);
    void take_out(long long id);
    void send_elsewhere(long long id, const std::string& server);
    void accept_shown(long long id); // the certificate or host key that it showed, from now on
    void forget_arrived();

    // On a thread of its own; both told here, the second at the end.
    void test(const Server& server, const Secret& password, std::function<void(const ServerStep&)> tell,
              std::function<void()> end);
    static QString password_of(const Server& server); // under which it stands in the keyring

  signals:
    void changed();
    void progress();

  private:
    Around around_;
    std::unique_ptr<SendQueue> queue_;
    std::optional<Error> no_queue_;
    std::vector<SendItem> items_;
    std::map<long long, SendItem::Is> told_; // of whom it was said what became of them
    std::set<QString> asked_, given_;        // passwords
    QTimer wake_;

    void refresh();
    void is_tried_anew(long long id);
    void say_what_became();
    void ask_for_password(const SendItem& item);
};

QString server_words(const SendItem& item); // "Papers, 2026/Leases"
QString send_state_words(const SendItem& item);

}
