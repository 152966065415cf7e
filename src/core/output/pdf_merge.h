// Inserting the pages of one PDF into another. Internal to core/output.
#pragma once

#include <qpdf/QPDF.hh>

namespace yelvin {

// Inserts the pages of `more` after the first `behind` pages of `whole`. Tags (ISO 32000-2, 14.7) go into its structure
// tree, if it has one; the bookmarks of `more` go in front of its own if the pages do, otherwise behind them. Page
// labels stay with their pages; new pages in front of others are labelled by their place. `more` must exist until
// `whole` is written.
void insert_pages(QPDF& whole, QPDF& more, int behind);

}
