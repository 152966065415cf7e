// Narrowing the matching documents by one of their properties, and counting how many have each of its values. Pure
// functions. Internal to Finder.
#pragma once

#include "core/cabinet/bits.h"
#include "core/cabinet/document_table.h"
#include "core/cabinet/finding.h"

namespace yelvin {

// Rows of the table that fit a filter, and those that fit it without one of its properties: over the latter the values
// of that property are counted, so that another value can be chosen.
struct Narrowed {
    Bits all, but_month, but_folder, but_ticket, but_sender;
};

Narrowed narrowed(const Bits& rows, const SearchFilter& filter, const DocumentTable& table);

// Fills in the numbers of documents and the counts of all properties.
void count_facets(const Narrowed& rows, const DocumentTable& table, SearchResults& found);

}
