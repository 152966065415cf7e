// The desktop's keyring by QtKeychain: the Secret Service of freedesktop.org, or KWallet. Used on the window's thread;
// see keyring.h for what is promised.
#pragma once

#include "app/models/saving/keyring.h"

#include <QObject>

namespace yelvin {

class SystemKeyring : public QObject, public Keyring {
    Q_OBJECT
  public:
    using QObject::QObject;
    void read(const QString& key, Found then) override;
    void write(const QString& key, const Secret& password, Kept then) override;
    void forget(const QString& key) override;
};

}
