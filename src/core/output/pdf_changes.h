// PDFs that exist and are changed: opened with care, replaced whole or not at all.
#pragma once

#include "core/error.h"
#include "core/saving/file_steps.h"
#include "core/secret.h"

#include <filesystem>
#include <functional>
#include <memory>

class QPDF;

namespace yelvin {

inline constexpr const char* save_elsewhere = "save the pages as a file of their own";

std::unexpected<Error> cannot_use_pdf(const std::filesystem::path& file, const std::string& detail,
                                      const std::string& instead = save_elsewhere);

// Open, with everything in it looked at: damage is found before anything is written. `instead`: what else can be done,
// for the sentence. Errors: Missing; Encrypted, where it wants a password or another one; BadInput, where it is damaged
// or no PDF.
Result<std::unique_ptr<QPDF>> opened_pdf(const std::filesystem::path& file, const Secret& password,
                                         const std::string& instead = save_elsewhere);

// Size and time of a file, which differ once somebody wrote into it.
struct FileTrace {
    std::uintmax_t bytes = 0;
    std::filesystem::file_time_type time;
    bool operator==(const FileTrace&) const = default;
};
FileTrace trace_of(const std::filesystem::path& file);

// What was changed in memory takes the place of its file, protected and linear as it was. The former file stays until
// the new one is written and `opens_again`; for good where somebody wrote into it since `before`.
Result<void> replace_pdf(const std::filesystem::path& file, QPDF& changed, const FileTrace& before,
                         const std::function<bool(const std::filesystem::path& growing)>& opens_again,
                         FileSteps& steps = disk());

}
