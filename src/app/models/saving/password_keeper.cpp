#include "app/models/saving/password_keeper.h"

#include "app/models/window/messages.h"

#include <QTimer>

namespace yelvin {

namespace {
QString entry_of(const QString& key, bool owner) { return key + (owner ? "/owner" : "/open"); }
QString key_of(const PasswordKeeper::Question& question) {
    return question.key.isEmpty() ? question.whose : question.key;
}
}

PasswordKeeper::PasswordKeeper(Messages& messages, std::unique_ptr<Keyring> keyring, QObject* parent)
    : QObject(parent), messages_(messages), keyring_(std::move(keyring)) {}

void PasswordKeeper::get(const Question& question, Then then) {
    waiting_.push_back({question, std::move(then)});
    if (!asking_ && !looking_) begin_next();
}

void PasswordKeeper::begin_next() {
    if (waiting_.empty()) return;
    if (!waiting_.front().question.wrong.isEmpty()) return ask(); // The passwords from the keyring were wrong.
    look_up();
}

void PasswordKeeper::ask() {
    looking_ = false;
    asking_ = true;
    emit question_changed();
}

// Looks up both passwords, one after the other. If the keyring does not answer in time, the user is asked.
void PasswordKeeper::look_up() {
    looking_ = true;
    const auto is_latest = [this, number = ++look_up_] { return looking_ && number == look_up_; };
    const QString key = key_of(waiting_.front().question);
    QTimer::singleShot(patience_, this, [this, is_latest] {
        if (is_latest()) ask();
    });
    const auto look_for_owner = [this, key, is_latest](const std::optional<Secret>& open) {
        if (!is_latest()) return;
        keyring_->read(entry_of(key, true), {this, [this, open, is_latest](const std::optional<Secret>& owner) {
                                                 if (is_latest()) take_found(open, owner);
                                             }});
    };
    keyring_->read(entry_of(key, false), {this, look_for_owner});
}

void PasswordKeeper::take_found(const std::optional<Secret>& open, const std::optional<Secret>& owner) {
    const Question& question = waiting_.front().question;
    if ((question.open && !open) || (question.owner && !owner)) return ask();
    looking_ = false;
    end(Passwords{question.open ? *open : Secret(), question.owner ? *owner : Secret()});
}

void PasswordKeeper::end(const std::optional<Passwords>& passwords) {
    const Then then = std::move(waiting_.front().then);
    waiting_.pop_front();
    asking_ = false;
    emit question_changed();
    then(passwords);
    if (!looking_ && !asking_) begin_next();
}

Keyring::Kept PasswordKeeper::told_of_keeping() {
    return {this, [this](bool kept) {
                if (!kept)
                    messages_.complain(tr("The keyring could not save the password; you will be asked each time."));
            }};
}

void PasswordKeeper::keep(const QString& key, const Secret& password) {
    keyring_->write(entry_of(key, false), password, told_of_keeping());
}

void PasswordKeeper::give(const Passwords& passwords, bool keep) {
    if (!asking_) return;
    const QString key = key_of(waiting_.front().question);
    if (keep && !passwords.open.empty()) keyring_->write(entry_of(key, false), passwords.open, told_of_keeping());
    if (keep && !passwords.owner.empty()) keyring_->write(entry_of(key, true), passwords.owner, told_of_keeping());
    end(passwords);
}

void PasswordKeeper::give_up() {
    if (asking_) end(std::nullopt);
}

void PasswordKeeper::forget(const QString& key) {
    for (const bool owner : {false, true}) keyring_->forget(entry_of(key, owner));
}

}
