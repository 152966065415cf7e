// A password in memory. Copies share one buffer, which is overwritten when the last copy is destroyed. Never write it
// to a log, a ticket or a database. Copies may be used on different threads.
#pragma once

#include <string.h>

#include <memory>
#include <string>
#include <string_view>

namespace yelvin {

class Secret {
  public:
    Secret() = default;
    explicit Secret(std::string_view letters)
        : letters_(letters.empty() ? nullptr : new std::string(letters), [](std::string* gone) {
              if (gone) ::explicit_bzero(gone->data(), gone->size());
              delete gone;
          }) {}
    bool empty() const { return !letters_; }
    std::string_view letters() const { return letters_ ? std::string_view(*letters_) : std::string_view(); }
    const char* c_str() const { return letters_ ? letters_->c_str() : ""; }
    bool operator==(const Secret& other) const { return letters() == other.letters(); }

  private:
    std::shared_ptr<std::string> letters_; // null if empty
};

// The passwords of a protected PDF: the one that opens it, and the owner's, which lifts its restrictions.
struct Passwords {
    Secret open, owner;
};

}
