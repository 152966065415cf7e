#include "app/models/sending/sending.h"

#include "app/models/saving/password_keeper.h"
#include "app/models/sending/servers.h"
#include "app/models/threads/pools.h"
#include "app/models/window/messages.h"
#include "core/sending/server_check.h"

#include <QDateTime>
#include <QFileInfo>
#include <QLocale>

#include <algorithm>

namespace yelvin {

namespace {
using State = SendItem::State;
}

QString server_words(const SendItem& item) {
    QString words = QString::fromStdString(item.server.name.empty() ? item.server.address : item.server.name);
    for (size_t i = 0; i < item.folder.size(); ++i)
        words += (i == 0 ? ", " : "/") + QString::fromStdString(item.folder[i]);
    return words;
}

QString send_state_words(const SendItem& item) {
    switch (item.state) {
    case State::Sending:
        return item.bytes == 0
                   ? Sending::tr("sending")
                   : Sending::tr("sending, %1%").arg(std::min<std::uint64_t>(100, 100 * item.done / item.bytes));
    case State::Paused:
        return Sending::tr("paused");
    case State::NeedsPassword:
        return Sending::tr("waiting for the password");
    case State::Failed:
        return Sending::tr("not sent: %1").arg(QString::fromStdString(item.why));
    case State::Sent:
        return Sending::tr("sent");
    case State::Waiting:
        break;
    }
    if (item.why.empty()) return Sending::tr("waiting");
    const QDateTime next = QDateTime::fromSecsSinceEpoch(item.next_try.time_since_epoch().count());
    return Sending::tr("%1 Next try at %2.")
        .arg(QString::fromStdString(item.why), QLocale::c().toString(next, "hh:mm:ss"));
}

Sending::Sending(const Around& around, const QString& folder, QObject* parent) : QObject(parent), around_(around) {
    const Executor here = on_thread_of(this);
    SendQueue::Tell tell;
    tell.changed = [this, here] { here([this] { refresh(); }); };
    tell.progress = [this, here](long long id, std::uint64_t done) {
        here([this, id, done] {
            const auto at = std::ranges::find(items_, id, &SendItem::id);
            if (at == items_.end() || at->done == done) return;
            at->done = done;
            emit progress();
        });
    };
    auto opened =
        SendQueue::open(folder.toStdString(), {around_.pools.keeping(), around_.pools.sending()}, std::move(tell));
    if (!opened) { // Reported when the user first sends something.
        no_queue_ = opened.error();
        return;
    }
    queue_ = std::move(*opened);
    wake_.setSingleShot(true);
    connect(&wake_, &QTimer::timeout, this, [this] { queue_->wake(); });
    items_ = queue_->items();
    for (const SendItem& each : items_) told_[each.id] = each.state;
    wake_.start(0); // Continues with the items of the last start.
}

void Sending::stop() {
    if (queue_) queue_->stop();
}

void Sending::send(const std::string& document, const QStringList& files, const Where& where,
                   std::function<void(const Result<void>&)> then) {
    if (!queue_) return then(std::unexpected(*no_queue_));
    std::optional<Server> server = around_.servers.named(where.server);
    if (!server) { // A ticket does not add its server to the user's list.
        const QString address = QString::fromStdString(shown_address(where.address));
        return then(
            fail(ErrorKind::Missing, tr("There is no server called “%1” on this computer, so nothing was sent. Add it "
                                        "under “then …” in the ticket's sentence%2, or choose another one there.")
                                         .arg(QString::fromStdString(where.server),
                                              address.isEmpty() ? QString() : tr(" (%1)").arg(address))
                                         .toStdString()));
    }
    std::vector<ToSend> all;
    for (const QString& file : files)
        all.push_back({file.toStdString(), document, *server, where.folder, QFileInfo(file).fileName().toStdString()});
    queue_->add(std::move(all), [then = std::move(then), here = on_thread_of(this)](const Result<void>& done) {
        here([then, done] { then(done); });
    });
}

std::vector<SendItem> Sending::of(const std::string& document) const {
    std::vector<SendItem> out;
    for (const SendItem& each : items_)
        if (!document.empty() && each.document == document) out.push_back(each);
    return out;
}

int Sending::left() const {
    return static_cast<int>(
        std::ranges::count_if(items_, [](const SendItem& each) { return each.state != State::Sent; }));
}

void Sending::pause(long long id) {
    if (queue_) queue_->pause(id);
}

// Retries the item. If its password prompt was cancelled, the user is asked again.
void Sending::retry(long long id) {
    if (!queue_) return;
    for (const SendItem& each : items_)
        if (each.id == id) asked_.erase(password_key(each.server));
    is_tried_anew(id);
    queue_->retry(id);
}

void Sending::retry_all_of(const std::string& document) {
    for (const SendItem& each : of(document))
        if (each.state != State::Sent && each.state != State::Sending) retry(each.id);
}

void Sending::remove(long long id) {
    if (queue_) queue_->remove(id);
}

void Sending::send_elsewhere(long long id, const std::string& server) {
    const auto other = around_.servers.named(server);
    const auto at = std::ranges::find(items_, id, &SendItem::id);
    if (!queue_ || !other || at == items_.end()) return;
    is_tried_anew(id);
    queue_->send_elsewhere(id, *other, at->folder);
}

void Sending::accept_identity(long long id) {
    const auto at = std::ranges::find(items_, id, &SendItem::id);
    if (!queue_ || at == items_.end()) return;
    if (at->identity.fingerprint.empty() && !at->identity.wants_plain_password) return;
    if (auto named = around_.servers.named(at->server.name); named && named->address == at->server.address) {
        if (!at->identity.fingerprint.empty()) named->fingerprint = at->identity.fingerprint;
        if (at->identity.wants_plain_password) named->plain_password = true;
        around_.servers.put(*named, named->name);
    }
    for (const SendItem& each : items_)
        if (each.server.address == at->server.address) is_tried_anew(each.id);
    queue_->trust(at->server.address, at->identity);
}

void Sending::clear_sent() {
    if (queue_) queue_->clear_sent();
}

// ---- state of the items

void Sending::refresh() {
    items_ = queue_->items();
    if (const auto due = queue_->next_due()) {
        const auto wait =
            std::chrono::duration_cast<std::chrono::milliseconds>(*due - std::chrono::system_clock::now());
        wake_.start(std::max(std::chrono::milliseconds(200), wait + std::chrono::milliseconds(50)));
    }
    say_what_became();
    emit changed();
}

// Marks the item as retried, so that the user is notified again even if the result is the same.
void Sending::is_tried_anew(long long id) {
    if (const auto at = told_.find(id); at != told_.end() && at->second != State::Sent) at->second = State::Waiting;
}

void Sending::say_what_became() {
    for (const SendItem& each : items_) {
        const auto [at, is_new] = told_.try_emplace(each.id, State::Waiting);
        if (std::exchange(at->second, each.state) == each.state) continue;
        const QString name = QString::fromStdString(each.name);
        if (each.state == State::Sent) around_.messages.tell(tr("%1 was sent to %2.").arg(name, server_words(each)));
        if (each.state == State::Failed)
            around_.messages.complain(tr("%1 was not sent. %2").arg(name, QString::fromStdString(each.why)));
        if (each.state == State::NeedsPassword) ask_for_password(each);
    }
}

namespace {
QString shown_name(const Server& server) {
    return QString::fromStdString(server.name.empty() ? server.address : server.name);
}
}

QString Sending::password_key(const Server& server) {
    return server.user.empty() ? shown_name(server)
                               : QString("%1 at %2").arg(QString::fromStdString(server.user), shown_name(server));
}

QString Sending::user_at(const Server& server) {
    return server.user.empty() ? shown_name(server)
                               : tr("%1 at %2").arg(QString::fromStdString(server.user), shown_name(server));
}

// Asks once, for all items that wait for the same password.
void Sending::ask_for_password(const SendItem& item) {
    const QString key = password_key(item.server);
    if (!asked_.insert(key).second) return;
    const QString wrong = given_.contains(key) ? QString::fromStdString(item.why) : QString();
    around_.passwords.get({PasswordKeeper::For::Server, user_at(item.server), true, false, wrong, key},
                          [this, key, server = item.server](const std::optional<Passwords>& passwords) {
                              if (!passwords)
                                  return around_.messages.complain(
                                      tr("%1 still needs a password; files for it are waiting.").arg(user_at(server)));
                              asked_.erase(key);
                              given_.insert(key);
                              for (auto& [id, is] : told_)
                                  if (is == State::NeedsPassword) is = State::Waiting;
                              queue_->give_password(server, passwords->open);
                          });
}

void Sending::test(const Server& server, const Secret& password, std::function<void(const ServerStep&)> tell,
                   std::function<void()> end) {
    around_.pools.errands()([server, password, tell = std::move(tell), end = std::move(end),
                             stop = around_.pools.stop_token(), here = on_thread_of(this)] {
        test_server(server, {password, {}}, {}, stop,
                    [&](const ServerStep& step) { here([tell, step] { tell(step); }); });
        here(end);
    });
}

}
