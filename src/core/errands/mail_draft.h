// Finished files as e-mails: the draft that e-mail programs open, and dividing files into several e-mails.
#pragma once

#include "core/error.h"

#include <cstdint>
#include <filesystem>
#include <string>
#include <vector>

namespace yelvin {

struct MailDraft {
    std::vector<std::string>
        to;                    // addresses, with or without a name: "keeper@example.org", "Keeper <keeper@example.org>"
    std::string subject, text; // UTF-8
    std::vector<std::filesystem::path> files;
};

// Writes the message by GMime (RFC 5322; RFC 2045 to 2047 and 2231 for what is not ASCII), unsent and without a sender:
// the e-mail program that opens it has one. `file` is created or replaced; after an error its contents are undefined,
// so pass the file of save_file(). Errors: Missing if an attachment cannot be read; BadInput for an address
// (mail_address.h); NotWritable; DiskFull.
Result<void> write_mail_draft(const MailDraft& draft, const std::filesystem::path& file);

// Returns the size of files in an e-mail: base64 makes four bytes of three and adds line ends (RFC 2045, 6.8).
std::uintmax_t bytes_in_mail(std::uintmax_t file_bytes);

// Divides files, given by their sizes, into e-mails within the limit, in order; returns indices. A file that is too
// large gets an e-mail of its own. A pure function.
std::vector<std::vector<size_t>> parted_into_mails(const std::vector<std::uintmax_t>& files, std::uintmax_t limit);

// Returns the command of xdg-utils, with its arguments, that opens the draft in the user's e-mail program.
std::vector<std::string> xdg_email_command(const MailDraft& draft);

std::string
mime_type_of(const std::filesystem::path& file); // by its extension; "application/octet-stream" if not known

}
