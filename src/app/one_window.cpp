#include "app/one_window.h"

#include <QCryptographicHash>
#include <QDir>
#include <QElapsedTimer>
#include <QFile>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QLocalSocket>
#include <QStandardPaths>
#include <QThread>
#include <QUuid>

namespace yelvin {

namespace {

constexpr int answer_ms = 5000, retry_ms = 50;
constexpr qint64 longest_message = 4 << 20;
const char* const taken = "taken\n";
const char* const activation_token = "XDG_ACTIVATION_TOKEN"; // freedesktop.org's startup notification

// The name depends on the user and the folder.
QString socket_name(const QString& store_folder) {
    const QDir folder(store_folder);
    const QString place = folder.exists() ? folder.canonicalPath() : folder.absolutePath();
    const QByteArray hash = QCryptographicHash::hash(place.toUtf8(), QCryptographicHash::Sha1).toHex().left(16);
    return QStandardPaths::writableLocation(QStandardPaths::RuntimeLocation) + "/yelvin-" + hash;
}

// `id` identifies the request, because its answer may be lost.
bool hand_over(const QString& name, const Wish& wish, const QString& id) {
    QLocalSocket socket;
    socket.connectToServer(name);
    if (!socket.waitForConnected(answer_ms)) return false;
    const QJsonObject message{{"id", id},
                              {"files", QJsonArray::fromStringList(wish.files)},
                              {"ticket", wish.ticket},
                              {"scan", wish.scan},
                              {"token", qEnvironmentVariable(activation_token)}};
    socket.write(QJsonDocument(message).toJson(QJsonDocument::Compact) + '\n');
    QByteArray answer;
    while (!answer.endsWith('\n') && socket.waitForReadyRead(answer_ms)) answer += socket.readAll();
    return answer == taken;
}

}

std::unique_ptr<OneWindow> OneWindow::become_or_hand_over(const QString& store_folder, const Wish& wish,
                                                          std::chrono::milliseconds patience) {
    const QString name = socket_name(store_folder), id = QUuid::createUuid().toString();
    QElapsedTimer waited;
    waited.start();
    std::unique_ptr<OneWindow> window(new OneWindow);
    for (;;) {
        if (hand_over(name, wish, id)) return nullptr;
        auto lock = StoreLock::take(store_folder.toStdString(), "window");
        if (lock) {
            window->lock_.emplace(std::move(*lock));
            window->listen(name);
            return window;
        }
        // If no lock is available, or its holder does not answer, the window itself says what is wrong.
        if (lock.error().kind != ErrorKind::Busy || waited.hasExpired(patience.count())) return window;
        QThread::msleep(retry_ms);
    }
}

void OneWindow::listen(const QString& name) {
    QLocalServer::removeServer(name); // of one that was killed: the lock is ours
    server_.setSocketOptions(QLocalServer::UserAccessOption);
    connect(&server_, &QLocalServer::newConnection, this, &OneWindow::answer);
    server_.listen(name);
}

void OneWindow::answer() {
    while (QLocalSocket* socket = server_.nextPendingConnection()) {
        connect(socket, &QLocalSocket::disconnected, socket, &QObject::deleteLater);
        connect(socket, &QLocalSocket::readyRead, this, [this, socket] {
            if (socket->bytesAvailable() > longest_message) return socket->abort();
            if (!socket->canReadLine()) return;
            const QJsonObject message = QJsonDocument::fromJson(socket->readLine()).object();
            Wish wish{{}, message["ticket"].toString(), message["scan"].toBool()};
            for (const auto& file : message["files"].toArray()) wish.files.append(file.toString());
            // The answer is sent before the request is carried out, which may take longer than the other program waits.
            socket->write(taken);
            socket->flush();
            if (const QString id = message["id"].toString(); !id.isEmpty()) {
                if (taken_.contains(id)) return;
                taken_.append(id);
                constexpr qsizetype most_remembered = 100;
                if (taken_.size() > most_remembered) taken_.removeFirst();
            }
            if (const QString token = message["token"].toString(); !token.isEmpty())
                qputenv(activation_token, token.toUtf8());
            emit asked_for(wish);
        });
    }
}

}
