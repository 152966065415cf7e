#include "app/models/password_keeper.h"

#include "app/models/messages.h"

#include <QTimer>

namespace yelvin {

namespace {
QString key_of(const QString& whose, bool owner) { return whose + (owner ? "/owner" : "/open"); }
}

PasswordKeeper::PasswordKeeper(Messages& messages, std::unique_ptr<Keyring> keyring, QObject* parent)
    : QObject(parent), messages_(messages), keyring_(std::move(keyring)) {}

void PasswordKeeper::get(const Question& question, Then then) {
    waiting_.push_back({question, std::move(then)});
    if (!asking_ && !looking_) begin_next();
}

void PasswordKeeper::begin_next() {
    if (waiting_.empty()) return;
    if (!waiting_.front().question.wrong.isEmpty()) { // those of the keyring did not do
        asking_ = true;
        return emit question_changed();
    }
    look_up();
}

// Both, one after the other.
void PasswordKeeper::look_up() {
    looking_ = true;
    const Question question = waiting_.front().question;
    keyring_->read(key_of(question.whose, false), [this, question](const std::optional<Secret>& open) {
        keyring_->read(key_of(question.whose, true), [this, question, open](const std::optional<Secret>& owner) {
            looking_ = false;
            const bool all = (!question.open || open) && (!question.owner || owner);
            if (all)
                return end(
                    Passwords{question.open && open ? *open : Secret(), question.owner && owner ? *owner : Secret()});
            asking_ = true;
            emit question_changed();
        });
    });
}

void PasswordKeeper::end(const std::optional<Passwords>& passwords) {
    const Then then = std::move(waiting_.front().then);
    waiting_.pop_front();
    asking_ = false;
    emit question_changed();
    then(passwords);
    if (!looking_ && !asking_) begin_next();
}

void PasswordKeeper::keep(const QString& whose, const Secret& password) {
    keyring_->write(key_of(whose, false), password, [this](bool kept) {
        if (!kept)
            messages_.complain(tr("No keyring of this desktop took the password, so it is asked for each time."));
    });
}

void PasswordKeeper::give(const Passwords& passwords, bool keep) {
    if (!asking_) return;
    const Question question = waiting_.front().question;
    const auto told = [this](bool kept) {
        if (!kept)
            messages_.complain(tr("No keyring of this desktop took the password, so it is asked for each time."));
    };
    if (keep && !passwords.open.empty()) keyring_->write(key_of(question.whose, false), passwords.open, told);
    if (keep && !passwords.owner.empty()) keyring_->write(key_of(question.whose, true), passwords.owner, told);
    end(passwords);
}

void PasswordKeeper::give_up() {
    if (asking_) end(std::nullopt);
}

void PasswordKeeper::forget(const QString& whose) {
    for (const bool owner : {false, true}) keyring_->forget(key_of(whose, owner));
}

}
