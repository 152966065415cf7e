#include "core/output/protection.h"

#include <fmt/format.h>
#include <qpdf/QPDFWriter.hh>

namespace yelvin {

Result<void> check_protection(const Ticket::Make& make, const Passwords& passwords) {
    if (!make.is_protected() && passwords.open.empty() && passwords.owner.empty()) return {};
    const auto refuse = [](std::string sentence) { return fail(ErrorKind::BadInput, std::move(sentence)); };
    if (make.format == Format::PdfA)
        return refuse("An archive PDF cannot be protected (ISO 19005); choose PDF, or remove the protection.");
    if (make.format != Format::Pdf)
        return refuse(fmt::format("The format {} cannot be protected; choose PDF, or remove the protection.",
                                  format_words(make.format)));
    if (make.password && passwords.open.empty())
        return refuse("The PDF needs a password to open and none was entered; enter one or remove the protection.");
    if (!make.permissions.all() && passwords.owner.empty())
        return refuse("Without an owner password anyone can lift the restrictions; enter one, or allow everything.");
    if (!make.permissions.all() && passwords.owner == passwords.open)
        return refuse("Both passwords are the same, so nothing would be restricted; use two different ones.");
    constexpr size_t most_bytes = 127;
    for (const Secret& each : {passwords.open, passwords.owner})
        if (each.letters().size() > most_bytes)
            return refuse("The password is longer than 127 bytes; use a shorter one.");
    return {};
}

void protect(QPDFWriter& writer, const Permissions& permissions, const Passwords& passwords) {
    if (passwords.open.empty() && passwords.owner.empty()) return;
    using Print = Permissions::Print;
    const auto print = permissions.print == Print::Full     ? qpdf_r3p_full
                       : permissions.print == Print::Coarse ? qpdf_r3p_low
                                                            : qpdf_r3p_none;
    // If no owner password was given, the opening password is used for both.
    const Secret& owner = passwords.owner.empty() ? passwords.open : passwords.owner;
    constexpr bool for_accessibility = true, metadata_too = true;
    writer.setR6EncryptionParameters(passwords.open.c_str(), owner.c_str(), for_accessibility, permissions.copy,
                                     permissions.change, permissions.change, permissions.change, permissions.change,
                                     print, metadata_too);
}

}
