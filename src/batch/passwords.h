// Passwords from where nobody else reads along: a file or a descriptor, never the command line itself.
#pragma once

#include "core/error.h"
#include "core/secret.h"

#include <string>

namespace yelvin {

struct PasswordArguments {
    std::string open_file, owner_file; // may be empty: none
    int open_descriptor = -1, owner_descriptor = -1;
};
// The first line of each. Errors: one that cannot be read, or is empty.
Result<Passwords> passwords_from(const PasswordArguments& arguments);

}
