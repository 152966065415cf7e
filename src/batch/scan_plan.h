// What a run of `yelvin-batch scan` asks of the scanner, and what is checked before its first sheet moves. Used on the
// program's main thread.
#pragma once

#include "batch/batch.h"
#include "core/scanner/scanner.h"
#include "core/secret.h"
#include "jobs/pass.h"
#include "jobs/save_job.h"

namespace yelvin {

// Returns what the ticket asks for, as near as this scanner can do it.
ScanRequest planned_request(const Ticket& ticket, const Scanner& scanner);

// Returns the pass that carries out the request.
PassPlan planned_pass(const Ticket& ticket, const ScanRequest& request, const Capabilities& can);

// Returns the job that saves the documents of the run, without their pages.
SaveJob planned_save(const Ticket& ticket, bool only_photographs, const ScanArguments& arguments,
                     const Passwords& passwords);

// Checks that the scanner has the source that the ticket names. Errors: Device, saying which sources there are.
Result<void> check_source(const Ticket& ticket, const Scanner& scanner);

// Checks all that the run needs afterwards: languages, folders, passwords, and free disk space for one page in the
// scanner's raw size and for the files in a typical size. Blocks on the disk. Errors: those of can_read(), check_job()
// and check_folder().
Result<void> check_before_scan(const Ticket& ticket, const ScanRequest& request, const Scanner& scanner,
                               const ScanArguments& arguments, const Passwords& passwords);

}
