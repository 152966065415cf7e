// Reading passwords from a file or a descriptor, because others can read the command line. The functions block until
// the line has come; a descriptor may be a terminal or a pipe. Used on the program's main thread.
#pragma once

#include "core/error.h"
#include "core/secret.h"

#include <string>

namespace yelvin {

struct PasswordArguments {
    std::string open_file, owner_file; // may be empty
    int open_descriptor = -1, owner_descriptor = -1;
};
// Returns the first line of each. Errors: Missing if one cannot be read; BadInput if it is empty.
Result<Passwords> passwords_from(const PasswordArguments& arguments);

}
