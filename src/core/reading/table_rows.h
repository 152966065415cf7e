// Rows of tables among the lines of a page: the engine reads cells side by side as lines of their own, or columns one
// after the other.
#pragma once

#include "core/reading/text_layer.h"

namespace yelvin {

// The lines with each row of a table as one of them. A table is at least three rows of short cells (two, where there
// are three columns) whose edges or middles lie under each other; columns of running text are none, and
// what was read across them comes apart.
std::vector<TextLine> with_table_rows(std::vector<TextLine> lines);

}
