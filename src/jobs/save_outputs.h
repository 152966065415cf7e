// The outputs of one save: the ticket's own files and those of make.also. Internal to save_job.
#pragma once

#include "core/output/document_writer.h"
#include "jobs/save_job.h"

#include <filesystem>
#include <memory>
#include <optional>
#include <vector>

namespace yelvin {

// One file, or series of files, made of the same pages.
struct Output {
    Ticket::Make make;
    std::filesystem::path folder;
    bool within_ticket = false;             // whether save.within is added to its folder
    bool is_made = false;                   // whether its folder is created if it is missing
    std::optional<Ink> ink;                 // colour mode to which pages are reduced
    int most_dpi = 0;                       // resolution to which finer pages are reduced; 0: none
    std::filesystem::path growing;          // whole document: the temporary file
    std::unique_ptr<DocumentWriter> writer; // whole document: null until its first pages are appended
    std::vector<EncodedPage> before_writer; // pages that wait until the document's title is known

    bool is_whole() const { return make.per == Per::Document && holds_many_pages(make.format); }
};

// Returns the ticket's own output first, then those of make.also in their order. A relative folder of make.also is in
// the job's folder. Errors: BadInput if a relative folder leads out of the job's folder, or if an absolute one is named
// and the job does not allow that (SaveJob::absolute_folders).
Result<std::vector<Output>> outputs_of(const SaveJob& job);

// Encodes a page for each output, in the order of the outputs. Blocks; may run on any thread. Errors: Stopped, and
// those of encode_page().
Result<std::vector<EncodedPage>> encoded_for(const std::vector<Output>& outputs, const FinishedPage& page,
                                             const PageText& text, const std::string& stamp,
                                             const std::stop_token& stop);

}
