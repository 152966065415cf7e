// The store of passwords between sessions: the desktop's keyring, or a stand-in of the tests.
#pragma once

#include "app/models/threads/answer.h"
#include "core/secret.h"

#include <QString>

#include <optional>

namespace yelvin {

class Keyring {
  public:
    virtual ~Keyring() = default;
    using Found = Answer<std::optional<Secret>>; // nullopt: no such password, or no keyring
    using Kept = Answer<bool>;
    // Each answers later on the window's thread, if this object still exists, and perhaps never.
    virtual void read(const QString& key, Found then) = 0;
    virtual void write(const QString& key, const Secret& password, Kept then) = 0;
    virtual void forget(const QString& key) = 0;
};

}
