// One PDF's pages among another's, as QPDF's objects.
#pragma once

#include <qpdf/QPDF.hh>

namespace yelvin {

// `behind` so many pages of `whole`, 0 to all. Tags (ISO 32000-2, 14.7) go into its structure tree, where it has one;
// bookmarks of `more` in front of its own where the pages are, else behind them. Page labels stay with their pages; new
// pages in front of others are labelled by their place. `more` must be there until `whole` is written.
void insert_pages(QPDF& whole, QPDF& more, int behind);

}
