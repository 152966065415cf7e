// Where passwords are kept from one session to the next: the desktop's keyring, or a stand-in of tests.
#pragma once

#include "app/models/answer.h"
#include "core/secret.h"

#include <QString>

#include <optional>

namespace yelvin {

class Keyring {
  public:
    virtual ~Keyring() = default;
    using Found = Answer<std::optional<Secret>>; // nothing: it is not there, or there is no keyring
    using Kept = Answer<bool>;
    // Each answers later, on the window's thread; not at all once this is gone, and perhaps never.
    virtual void read(const QString& key, Found then) = 0;
    virtual void write(const QString& key, const Secret& password, Kept then) = 0;
    virtual void forget(const QString& key) = 0;
};

}
