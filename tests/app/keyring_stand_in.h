// A keyring in memory, whose answers may be as unreliable as those of the desktop's.
#pragma once

#include "app/comes.h"
#include "app/models/saving/keyring.h"

#include <map>

namespace yelvin::test {

struct KeptPasswords {
    std::map<QString, Secret> passwords;
    bool is_there = true; // false: it takes nothing
    Answers answers;      // wrongly: as if it had nothing and took nothing
};

class KeyringStandIn : public Keyring {
  public:
    explicit KeyringStandIn(KeptPasswords& kept) : kept_(kept) {}
    void read(const QString& key, Found then) override {
        const auto at = kept_.passwords.find(key);
        kept_.answers.tell(&here_, then, at == kept_.passwords.end() ? std::nullopt : std::optional(at->second),
                           std::optional<Secret>());
    }
    void write(const QString& key, const Secret& password, Kept then) override {
        if (kept_.is_there) kept_.passwords[key] = password;
        kept_.answers.tell(&here_, then, kept_.is_there, false);
    }
    void forget(const QString& key) override { kept_.passwords.erase(key); }

  private:
    KeptPasswords& kept_;
    QObject here_;
};

}
