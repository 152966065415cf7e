#include "app/secrets/system_keyring.h"

#include <qt6keychain/keychain.h>

namespace yelvin {

namespace {

constexpr const char* service = "Yelvin";

// Without a keyring, nothing is written anywhere else.
template <class Job, class Then>
void begin(Job* job, const QString& key, QObject* parent, Then then) {
    job->setKey(key);
    job->setInsecureFallback(false);
    QObject::connect(job, &QKeychain::Job::finished, parent, [job, then] { then(*job); });
    job->start(); // deletes itself
}

}

void SystemKeyring::read(const QString& key, Found then) {
    begin(new QKeychain::ReadPasswordJob(service), key, this, [then](QKeychain::ReadPasswordJob& job) {
        QByteArray bytes = job.binaryData();
        std::optional<Secret> found;
        if (job.error() == QKeychain::NoError && !bytes.isEmpty())
            found = Secret(std::string_view(bytes.constData(), static_cast<size_t>(bytes.size())));
        bytes.fill('\0');
        then(found);
    });
}

void SystemKeyring::write(const QString& key, const Secret& password, Kept then) {
    auto* job = new QKeychain::WritePasswordJob(service);
    const std::string_view letters = password.letters();
    job->setBinaryData(QByteArray(letters.data(), static_cast<qsizetype>(letters.size())));
    begin(job, key, this, [then](QKeychain::WritePasswordJob& done) { then(done.error() == QKeychain::NoError); });
}

void SystemKeyring::forget(const QString& key) {
    begin(new QKeychain::DeletePasswordJob(service), key, this, [](QKeychain::DeletePasswordJob&) {});
}

}
