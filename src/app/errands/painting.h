// Finished pages onto the sheets of a printer, or of a PDF that stands for one.
#pragma once

#include "app/models/outside.h"

class QPrinter;

namespace yelvin {

// Each page in its place (core/errands/print_layout.h), as large as its sizes say. May run on any thread. Errors: a
// page that cannot be read, a printer that does not begin.
Result<void> paint_sheets(QPrinter& printer, const PrintJob& job);

// Into a new file in the folder; its name.
Result<QString> print_to_pdf(const PrintJob& job, const QString& folder);

}
