// Which files can be protected, and by what (ISO 32000-2, 7.6).
#pragma once

#include "core/error.h"
#include "core/secret.h"
#include "core/ticket/ticket.h"

class QPDFWriter;

namespace yelvin {

// An Error where the wished protection would be none: a format without passwords, permissions that anybody lifts, a
// password that is missing or longer than the standard's 127 bytes. make.format is not Auto.
Result<void> check_protection(const Ticket::Make& make, const Passwords& passwords);

// AES-256 (the standard's revision 6), where the file is to be protected. Copying for accessibility stays allowed.
void protect(QPDFWriter& writer, const Permissions& permissions, const Passwords& passwords);

}
