// Adding pages to an existing PDF, which is replaced as a whole or not at all. The functions block on the disk; they
// may be called on any thread.
#pragma once

#include "core/error.h"
#include "core/saving/file_steps.h"
#include "core/secret.h"

#include <filesystem>
#include <functional>
#include <optional>

namespace yelvin {

struct AddTo {
    std::filesystem::path file;
    std::optional<int> behind = {}; // number of the page to add after; 0: at the start; nullopt: at the end
    Secret password = {};           // to open the PDF; may be empty
    bool although_signed = false;   // whether its signature may become invalid
};

// Properties of a PDF before anything is added to it.
struct PdfState {
    int pages = 0;
    bool is_protected = false;
    bool is_signed = false;
    std::optional<int> archive_part = {}; // the part of ISO 19005 that its metadata claim
};
// Reads the properties. Errors: Missing; Encrypted if it needs a password, another one than the given one, or forbids
// changes; BadInput if it is damaged or not a PDF.
Result<PdfState> look_into_pdf(const std::filesystem::path& file, const Secret& password);

// Checks that pages can be added. Errors: BadInput if the PDF is signed and although_signed is false, or has no such
// page.
Result<void> check_place(const AddTo& to, const PdfState& state);

// Adds the pages of `pages`, a PDF that we made, with their tags and bookmarks. The PDF's own pages, bookmarks,
// attachments, form, properties and protection stay; its page labels move along. The old file stays until the new one
// is complete. Errors: those of look_into_pdf() and check_place(); Busy if somebody changed the file meanwhile, which
// then stays; those of replace_file_with().
Result<void> add_to_pdf(const AddTo& to, const std::filesystem::path& pages, FileSteps& steps = disk());

}
