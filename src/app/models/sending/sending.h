// The queue of files for servers, as the window shows it: SendQueue with signals, questions for passwords and news.
#pragma once

#include "core/sending/server_check.h"
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

// Lives on the window's thread. If the queue cannot be opened, send() reports why.
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
    void stop(); // see SendQueue::stop()

    // Where a ticket sends: the name of one of the user's servers, and the address that the ticket carries, by which
    // one is found if none has that name.
    struct Where {
        std::string server, address;
        RemotePath folder;
    };
    // Adds the files to the queue. `then` is called on the window's thread once they are stored, or with the reason why
    // they are not.
    void send(const std::string& document, const QStringList& files, const Where& where,
              std::function<void(const Result<void>&)> then);

    const std::vector<SendItem>& items() const { return items_; } // the oldest first
    std::vector<SendItem> of(const std::string& document) const;
    int left() const; // items that were not sent yet
    // See SendQueue. Each leads to changed().
    void pause(long long id);
    void retry(long long id);
    void retry_all_of(const std::string& document);
    void remove(long long id);
    void send_elsewhere(long long id, const std::string& server);
    // Trusts from now on what the server of this item presented, and stores that with the server.
    void accept_identity(long long id);
    void clear_sent();

    // Tests a server on a thread of its own. `tell` and then `end` are called on the window's thread.
    void test(const Server& server, const Secret& password, std::function<void(const ServerStep&)> tell,
              std::function<void()> end);
    static QString password_key(const Server& server); // of its password in the keyring; the same in every language
    static QString user_at(const Server& server);      // for sentences: "anna at office"

  signals:
    void changed();
    void progress();

  private:
    Around around_;
    std::unique_ptr<SendQueue> queue_;
    std::optional<Error> no_queue_;
    std::vector<SendItem> items_;
    std::map<long long, SendItem::State> told_; // the state that was reported last
    std::set<QString> asked_, given_;           // keys of passwords
    QTimer wake_;

    void refresh();
    void is_tried_anew(long long id);
    void say_what_became();
    void ask_for_password(const SendItem& item);
};

QString server_words(const SendItem& item); // "Papers, 2026/Leases"
QString send_state_words(const SendItem& item);

}
