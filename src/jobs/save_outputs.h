// The files that one save makes of the same pages: the ticket's own and those of make.also.
#pragma once

#include "core/output/document_writer.h"
#include "jobs/save_job.h"

#include <filesystem>
#include <memory>
#include <optional>
#include <vector>

namespace yelvin {

// One of the files, or series of files, that are made of the same pages.
struct Output {
    Ticket::Make make;
    std::filesystem::path folder;
    bool within_ticket = false;             // its folder is the job's, to which the ticket's save.within is added
    bool is_made = false;                   // its folder is made where it is missing
    std::optional<Ink> ink;                 // pages are brought to it
    int most_dpi = 0;                       // finer pages are brought to it; 0: none are
    std::filesystem::path growing;          // of a whole document: the file being written
    std::unique_ptr<DocumentWriter> writer; // of a whole document; null until its first pages are appended
    std::vector<EncodedPage> before_writer; // pages that wait until the document's title is known

    bool is_whole() const { return make.per == Per::Document && holds_many_pages(make.format); }
};

// Returns the ticket's own output first, then those of make.also in their order. A relative folder of make.also lies in
// the job's folder. Errors: BadInput if a relative folder leads out of the job's folder, or if an absolute one is named
// and the job does not allow that (SaveJob::absolute_folders).
Result<std::vector<Output>> outputs_of(const SaveJob& job);

// Encodes a page for each output, in the order of the outputs. Blocks; may run on any thread. Errors: Stopped, and
// those of encode_page().
Result<std::vector<EncodedPage>> encoded_for(const std::vector<Output>& outputs, const FinishedPage& page,
                                             const PageText& text, const std::string& stamp,
                                             const std::stop_token& stop);

}
