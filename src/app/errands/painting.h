// Painting finished pages on the sheets of a printer or of a PDF.
#pragma once

#include "app/models/errands/outside.h"

class QPrinter;

namespace yelvin {

// Paints each page in its place (core/errands/print_layout.h) at its size. Blocks; may be called on any thread. Errors:
// those of the pages; Device if the printer does not start.
Result<void> paint_sheets(QPrinter& printer, const PrintJob& job);

// Paints into a new PDF in the folder and returns its path.
Result<QString> print_to_pdf(const PrintJob& job, const QString& folder);

}
