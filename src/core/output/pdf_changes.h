// Changing existing PDFs: opening them with all checks, and replacing them as a whole or not at all. Internal to
// core/output.
#pragma once

#include "core/error.h"
#include "core/saving/file_steps.h"
#include "core/secret.h"

#include <filesystem>
#include <functional>
#include <memory>

class QPDF;

namespace yelvin {

inline constexpr const char* save_elsewhere = "save the pages as a new file";

// Returns the error BadInput about a damaged PDF.
std::unexpected<Error> cannot_use_pdf(const std::filesystem::path& file, const std::string& detail,
                                      const std::string& instead = save_elsewhere);

// Opens a PDF and visits everything in it, so that damage is found before anything is written. `instead` says in the
// error's sentence what else the user can do. Errors: Missing; Encrypted if it needs a password, or another one;
// BadInput if it is damaged or not a PDF.
Result<std::unique_ptr<QPDF>> opened_pdf(const std::filesystem::path& file, const Secret& password,
                                         const std::string& instead = save_elsewhere);

// Size and time of a file, which change when somebody writes into it.
struct FileTrace {
    std::uintmax_t bytes = 0;
    std::filesystem::file_time_type time;
    bool operator==(const FileTrace&) const = default;
};
FileTrace trace_of(const std::filesystem::path& file);

// Replaces the file by `changed`, protected and linearised as before. The old file stays until the new one is written
// and `opens_again` returns true. Errors: Busy if somebody wrote into the file since `before`; NotWritable; those of
// replace_file_with(). After an error the old file is unchanged.
Result<void> replace_pdf(const std::filesystem::path& file, QPDF& changed, const FileTrace& before,
                         const std::function<bool(const std::filesystem::path& growing)>& opens_again,
                         FileSteps& steps = disk());

}
