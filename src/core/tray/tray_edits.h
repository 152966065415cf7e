// Edits of several pages at once. Like the edits in tray.h they are pure, return the tray after the edit, and ignore
// ids that are not in it.
#pragma once

#include "core/tray/tray.h"

#include <functional>
#include <set>

namespace yelvin {

using PageIds = std::set<std::string>;

// Returns the ids of all pages, in order.
std::vector<std::string> page_ids(const Tray& tray);
// Returns those of `ids` that are in the tray, in its order.
std::vector<std::string> in_tray_order(const Tray& tray, const PageIds& ids);

Tray without_pages(const Tray& tray, const PageIds& ids);
// Moves the pages, in their present order, in front of page `index` of the document. The index counts the pages as they
// are before the move and may be one past the end.
Tray with_pages_moved(const Tray& tray, const PageIds& ids, const std::string& document_id, size_t index);
// Moves the pages by one place forwards (`by` 1) or backwards (-1). At a divider they move into the next document.
Tray with_pages_shifted(const Tray& tray, const PageIds& ids, int by);
// Moves the pages into a new document behind the one that the first of them is in.
Tray with_pages_apart(const Tray& tray, const PageIds& ids);
// Adds a copy behind each page: the same original with a new id.
Tray with_pages_doubled(const Tray& tray, const PageIds& ids);
// Applies `change` to each page.
Tray with_changed(const Tray& tray, const PageIds& ids, const std::function<void(Page&)>& change);

// Moves the divider in front of the document: it then begins at page `index` of the pages of the document before it and
// its own together. Neither document becomes empty.
Tray with_divider_moved(const Tray& tray, const std::string& document_id, size_t index);

// Puts `page` in place of, in front of, or behind the page with this id; at the end of the tray if the id is empty or
// not in the tray.
Tray with_page_replaced(const Tray& tray, const std::string& page_id, PagePtr page);
Tray with_page_inserted(const Tray& tray, const std::string& before_id, PagePtr page);
Tray with_page_behind(const Tray& tray, const std::string& after_id, PagePtr page);

// Parses page numbers from 1 to `last` such as "1-3, 7, 9-". Returns nullopt if the text is not such a list.
std::optional<std::set<int>> numbers_in(const std::string& text, int last);

}
