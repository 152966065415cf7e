// Edits of several pages at once. Like those in tray.h they give a new tray, and ids that are not in it change nothing.
#pragma once

#include "core/tray/tray.h"

#include <functional>
#include <set>

namespace yelvin {

using PageIds = std::set<std::string>;

std::vector<std::string> page_ids(const Tray& tray); // all, in order
// Those of `ids` that are there, in the tray's order.
std::vector<std::string> in_tray_order(const Tray& tray, const PageIds& ids);

Tray without_pages(const Tray& tray, const PageIds& ids);
// Before page `index` of the document (counted with all pages where they are now; it may be one past the end), in the
// order they have.
Tray with_pages_moved(const Tray& tray, const PageIds& ids, const std::string& document_id, size_t index);
// One place forwards or back within the tray; at a divider they cross into the next document.
Tray with_pages_shifted(const Tray& tray, const PageIds& ids, int by);
// In a document of their own, behind the one that the first of them is in.
Tray with_pages_apart(const Tray& tray, const PageIds& ids);
// Each page followed by its copy: the same original, a new id.
Tray with_pages_doubled(const Tray& tray, const PageIds& ids);
Tray with_changed(const Tray& tray, const PageIds& ids, const std::function<void(Page&)>& change);

// The document begins at page `index` of the run of pages that it and the one before it make up; nothing is emptied.
Tray with_divider_moved(const Tray& tray, const std::string& document_id, size_t index);

// `page` in the place of the one with `page_id`, before it, or behind it; with an empty id or one that is gone, at the
// end.
Tray with_page_replaced(const Tray& tray, const std::string& page_id, PagePtr page);
Tray with_page_inserted(const Tray& tray, const std::string& before_id, PagePtr page);
Tray with_page_behind(const Tray& tray, const std::string& after_id, PagePtr page);

// Numbers from 1 as people write them: "1-3, 7, 9-". Nothing where it is none of that.
std::optional<std::set<int>> numbers_in(const std::string& text, int last);

}
