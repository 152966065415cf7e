// Protection of PDFs by passwords (ISO 32000-2, 7.6). The functions may be called on any thread.
#pragma once

#include "core/error.h"
#include "core/secret.h"
#include "core/ticket/ticket.h"

class QPDFWriter;

namespace yelvin {

// Checks that the wanted protection is effective. make.format must not be Auto. Errors: BadInput for a format without
// passwords, permissions that anybody could lift, a missing password, or one longer than the standard's 127 bytes.
Result<void> check_protection(const Ticket::Make& make, const Passwords& passwords);

// Sets AES-256 (revision 6 of the standard) if the file is to be protected. Copying for accessibility stays allowed.
void protect(QPDFWriter& writer, const Permissions& permissions, const Passwords& passwords);

}
