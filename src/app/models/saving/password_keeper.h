// Provides passwords for saving and sending: from the keyring, otherwise from the user. They are in no ticket, file or
// log, and in memory no longer than needed. Lives on the window's thread.
#pragma once

#include "app/models/saving/keyring.h"

#include <QObject>

#include <chrono>
#include <deque>
#include <memory>

namespace yelvin {

class Messages;

class PasswordKeeper : public QObject {
    Q_OBJECT
  public:
    PasswordKeeper(Messages& messages, std::unique_ptr<Keyring> keyring, QObject* parent = nullptr);

    enum class For { Protecting, Opening, Server }; // for new files, for an existing file, for signing in
    struct Question {
        For what = For::Protecting;
        QString whose; // the ticket's name, the file's, or user and server
        bool open = false, owner = false;
        QString wrong = {}; // why the last password was wrong; empty the first time
        QString key = {};   // of its entries in the keyring; empty: `whose`
    };
    using Then = std::function<void(const std::optional<Passwords>&)>; // nullopt: the user cancelled
    // `then` is called at once or later, on the window's thread, if this object still exists.
    void get(const Question& question, Then then);
    // How long to wait for the keyring before asking the user: longer than D-Bus waits for a service.
    void set_patience(std::chrono::milliseconds patience) { patience_ = patience; }

    // The present question to the user, if any; answered by one of the next two.
    const Question* asked() const { return asking_ ? &waiting_.front().question : nullptr; }
    void give(const Passwords& passwords, bool keep);
    void give_up();
    void keep(const QString& key, const Secret& password); // stores it in the keyring
    void forget(const QString& key);                       // deletes it from the keyring

  signals:
    void question_changed(); // asked() changed

  private:
    struct Waiting {
        Question question;
        Then then;
    };
    Messages& messages_;
    std::unique_ptr<Keyring> keyring_;
    std::deque<Waiting> waiting_;
    bool asking_ = false, looking_ = false;
    int look_up_ = 0; // number of the latest request; answers to earlier ones are ignored
    std::chrono::milliseconds patience_{30'000};

    void begin_next();
    void ask();
    void look_up();
    void take_found(const std::optional<Secret>& open, const std::optional<Secret>& owner);
    Keyring::Kept told_of_keeping();
    void end(const std::optional<Passwords>& passwords);
};

}
