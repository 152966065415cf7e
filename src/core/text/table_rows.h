// Restoring the rows of tables, because the engine returns cells side by side as separate lines, or one column after
// the other. A pure function.
#pragma once

#include "core/text/text_layer.h"

namespace yelvin {

// Returns the lines with each row of a table as one line. A table has at least three rows of short cells (two rows if
// there are three columns) whose edges or middles are aligned. Columns of running text are not tables; lines that were
// read across them are divided.
std::vector<TextLine> with_table_rows(std::vector<TextLine> lines);

}
