#include "app/errands/portal_request.h"

#include <QDBusConnection>
#include <QDBusMetaType>
#include <QDBusObjectPath>
#include <QDBusPendingCallWatcher>
#include <QDBusPendingReply>
#include <QDBusUnixFileDescriptor>
#include <QRandomGenerator>
#include <QTimer>

#include <fcntl.h>
#include <unistd.h>

namespace yelvin {

namespace {
constexpr const char* service = "org.freedesktop.portal.Desktop";
constexpr const char* request_interface = "org.freedesktop.portal.Request";
}

PortalMail::PortalMail(const MailDraft& draft, QDBusConnection bus, QObject* parent,
                       std::function<void(PortalSaid)> then, std::chrono::milliseconds patience)
    : QObject(parent), then_(std::move(then)) {
    if (!bus.isConnected()) {
        end_later(PortalSaid::NotThere);
        return;
    }
    qDBusRegisterMetaType<QList<QDBusUnixFileDescriptor>>();
    const QString token = QString("yelvin%1").arg(QRandomGenerator::global()->generate());
    const QString sender = bus.baseService().mid(1).replace('.', '_');
    const QString request = "/org/freedesktop/portal/desktop/request/" + sender + "/" + token;
    bus.connect(service, request, request_interface, "Response", this, SLOT(answered(uint, QVariantMap)));
    QVariantMap options{{"handle_token", token},
                        {"subject", QString::fromStdString(draft.subject)},
                        {"body", QString::fromStdString(draft.text)}};
    QStringList to;
    for (const std::string& each : draft.to) to.append(QString::fromStdString(each));
    if (!to.isEmpty()) options.insert({{"address", to.front()}, {"addresses", to}});
    QList<QDBusUnixFileDescriptor> files;
    for (const auto& file : draft.files) {
        const int descriptor = ::open(file.c_str(), O_RDONLY | O_CLOEXEC);
        if (descriptor < 0) {
            end_later(PortalSaid::FileGone);
            return;
        }
        files.append(QDBusUnixFileDescriptor(descriptor));
        ::close(descriptor); // QDBusUnixFileDescriptor has duplicated it.
    }
    options.insert("attachment_fds", QVariant::fromValue(files));
    QDBusMessage call = QDBusMessage::createMethodCall(service, "/org/freedesktop/portal/desktop",
                                                       "org.freedesktop.portal.Email", "ComposeEmail");
    call.setArguments({QString(), options});
    auto* answer = new QDBusPendingCallWatcher(bus.asyncCall(call), this);
    connect(answer, &QDBusPendingCallWatcher::finished, this, [this, answer] {
        if (answer->isError()) end(PortalSaid::NotThere);
    });
    QTimer::singleShot(patience, this, [this] { end(PortalSaid::Composed); });
}

void PortalMail::answered(uint response, const QVariantMap&) {
    end(response == 0 ? PortalSaid::Composed : response == 1 ? PortalSaid::GivenUp : PortalSaid::NotThere);
}

void PortalMail::end_later(PortalSaid said) {
    QTimer::singleShot(0, this, [this, said] { end(said); });
}

void PortalMail::end(PortalSaid said) {
    if (then_) std::exchange(then_, nullptr)(said);
    deleteLater();
}

void compose_by_portal(const MailDraft& draft, const QDBusConnection& bus, QObject* parent,
                       std::function<void(PortalSaid)> then, std::chrono::milliseconds patience) {
    new PortalMail(draft, bus, parent, std::move(then), patience);
}

}
