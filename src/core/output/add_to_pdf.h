// Pages that go into a PDF that exists: whole or not at all.
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
    std::optional<int> behind = {}; // a page; 0: in front of all; nothing: behind all
    Secret password = {};           // opens it; empty: it needs none
    bool although_signed = false;   // its signature will no longer hold
};

// What is known of a PDF before anything is added to it.
struct PdfState {
    int pages = 0;
    bool is_protected = false;
    bool is_signed = false;
    std::optional<int> archive_part = {}; // of ISO 19005, as it says itself
};
// Errors: Missing; Encrypted, where it wants a password or another one than the one given, or forbids changes;
// BadInput, where it is damaged or no PDF.
Result<PdfState> look_into_pdf(const std::filesystem::path& file, const Secret& password);

// Whether pages may go there: an Error where it is signed and that was not given up, or has no such page.
Result<void> check_place(const AddTo& to, const PdfState& state);

// The pages of a PDF of ours, with their tags and bookmarks, become pages of the one that exists. Its own pages,
// bookmarks, attachments, form, properties and protection stay; its page labels move along. The former file stays until
// the new one is in its place; where somebody changed it meanwhile, it stays for good. `steps`: for tests.
Result<void> add_to_pdf(const AddTo& to, const std::filesystem::path& pages, FileSteps& steps = disk());

}
