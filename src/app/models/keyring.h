// Where passwords are kept from one session to the next: the desktop's keyring, or a stand-in of tests.
#pragma once

#include "core/secret.h"

#include <QString>

#include <functional>
#include <optional>

namespace yelvin {

class Keyring {
  public:
    virtual ~Keyring() = default;
    // Each is told later, on the window's thread, not at all once this is gone. Nothing: it is not there, or there is
    // no keyring.
    virtual void read(const QString& key, std::function<void(std::optional<Secret>)> then) = 0;
    virtual void write(const QString& key, const Secret& password, std::function<void(bool kept)> then) = 0;
    virtual void forget(const QString& key) = 0;
};

}
