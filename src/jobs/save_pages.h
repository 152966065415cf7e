// The pages of one save, before they are encoded: each is taken from the job and read if its text is needed. Internal
// to save_job.
#pragma once

#include "jobs/save_outputs.h"

#include <optional>
#include <stop_token>
#include <vector>

namespace yelvin {

struct PreparedPage {
    Result<std::optional<FinishedPage>> finished; // nullopt: the page is left out
    PageText text;                                // empty if neither a file nor a name needs it
    PageText unused_text;                         // known beforehand, and not needed; for SaveJob::on_text
};

// Whether a file, a name or a stamp of the job needs the text of the pages.
bool needs_text(const SaveJob& job, const std::vector<Output>& outputs);

// Takes a page from the job. If `with_text` and its text is unknown, it is read in its languages, or in those of the
// ticket. An exception is returned as an error. Blocks; may be called on several threads at the same time.
PreparedPage prepared_page(const SaveJob& job, size_t index, bool with_text, ReaderPool& readers,
                           const std::stop_token& stop);

}
