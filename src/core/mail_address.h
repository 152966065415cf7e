// E-mail addresses (RFC 5322, 3.4), by GMime. Thread-safe.
#pragma once

#include "core/error.h"

#include <string>
#include <vector>

namespace yelvin {

struct MailAddress {
    std::string name;    // as shown, UTF-8; may be empty
    std::string address; // "keeper@example.org"
};

// Takes one address with or without a name: "keeper@example.org" or "Keeper <keeper@example.org>". Errors: BadInput for
// anything else, such as several addresses, a group or a line break, which could begin another header.
Result<MailAddress> mail_address(const std::string& text);

// Returns the first address that mail_address() refuses, as its Error.
Result<void> check_addresses(const std::vector<std::string>& to);

}
