// Passwords for what is about to be saved: out of the keyring, else asked for. In no ticket, file or log of ours, and
// no longer in memory than it takes.
#pragma once

#include "app/models/keyring.h"

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

    enum class For { Protecting, Opening, Server }; // files to be made, a file that is there, signing in
    struct Question {
        For what = For::Protecting;
        QString whose; // the ticket's name, the file's, or who signs in where
        bool open = false, owner = false;
        QString wrong = {}; // what was given before did not do; empty: this is the first time
    };
    using Then = std::function<void(const std::optional<Passwords>&)>; // nothing: given up
    // Told at once or later, on the window's thread; not at all once this is gone.
    void get(const Question& question, Then then);
    // How long the keyring is waited for before the person is asked. Longer than D-Bus waits for a service by itself.
    void set_patience(std::chrono::milliseconds patience) { patience_ = patience; }

    // What the person is asked at present, if anything; answered by one of the two.
    const Question* asked() const { return asking_ ? &waiting_.front().question : nullptr; }
    void give(const Passwords& passwords, bool keep);
    void give_up();
    void keep(const QString& whose, const Secret& password); // in the keyring, without being asked
    void forget(const QString& whose);                       // in the keyring

  signals:
    void question_changed(); // asked()

  private:
    struct Waiting {
        Question question;
        Then then;
    };
    Messages& messages_;
    std::unique_ptr<Keyring> keyring_;
    std::deque<Waiting> waiting_;
    bool asking_ = false, looking_ = false;
    int look_up_ = 0; // the number of the latest one: an answer to another one comes too late
    std::chrono::milliseconds patience_{30'000};

    void begin_next();
    void ask();
    void look_up();
    void take_found(const std::optional<Secret>& open, const std::optional<Secret>& owner);
    Keyring::Kept told_of_keeping();
    void end(const std::optional<Passwords>& passwords);
};

}
