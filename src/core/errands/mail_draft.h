// Finished files as an e-mail: the draft that mail programs open, and how many mails it takes.
#pragma once

#include "core/mail_address.h"

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
// the mail program that opens it has one. `file` is made or replaced; after an error its contents are undefined, so
// give the file of save_file(). Errors: Missing, an attachment cannot be read; BadInput, an address (mail_address.h);
// NotWritable; DiskFull.
Result<void> write_mail_draft(const MailDraft& draft, const std::filesystem::path& file);

// What the files take in a mail: base64 makes four bytes of three, and lines have ends (RFC 2045, 6.8).
std::uintmax_t bytes_in_mail(std::uintmax_t file_bytes);

// Files, by their bytes, parted into mails of which each keeps within the limit, in their order. A file that is too
// large by itself has a mail of its own.
std::vector<std::vector<size_t>> parted_into_mails(const std::vector<std::uintmax_t>& files, std::uintmax_t limit);

// What hands the draft to the person's mail program (xdg-utils): its name and arguments.
std::vector<std::string> xdg_email_command(const MailDraft& draft);

std::string mime_type_of(const std::filesystem::path& file); // by its ending; "application/octet-stream": not known

}
