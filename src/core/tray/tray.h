// The out tray: pages not yet saved, grouped into documents. A value: documents and pages sit behind shared pointers to
// const, an edit gives a new tray, and undo is keeping the old one.
#pragma once

#include "core/page/notice.h"
#include "core/reading/text_layer.h"

#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace yelvin {

// An original in the store; never altered.
struct Original {
    std::string file; // name in the store's folder
    int width_px = 0, height_px = 0;
    double dpi = 300;
    Ink ink = Ink::Colour;
    bool operator==(const Original&) const = default;
    SizeMm size_mm() const { return {px_to_mm(width_px, dpi), px_to_mm(height_px, dpi)}; }
};

struct Page {
    std::string id; // unique for ever
    Original original;
    bool noticed = false;
    Notices notices;
    Recipe recipe;
    bool recipe_touched = false; // a person changed it: notices that come later leave it alone
};
using PagePtr = std::shared_ptr<const Page>;

struct Document {
    std::string id;
    std::string name; // chosen by the person; empty: made from the ticket's parts
    std::vector<PagePtr> pages;
    std::string saved_as; // the file it went to, empty while unsaved or changed since
};
using DocumentPtr = std::shared_ptr<const Document>;

struct Tray {
    std::vector<DocumentPtr> documents;           // left to right, none of them empty
    bool operator==(const Tray&) const = default; // the same documents, by identity

    size_t page_count() const;
};

struct PagePlace {
    size_t document = 0, page = 0;
};
std::optional<PagePlace> find_page(const Tray& tray, const std::string& page_id);
PagePtr page_at(const Tray& tray, const std::string& page_id); // null when gone

std::string new_id();

// Edits. Ids that are not in the tray change nothing.
Tray with_page_added(const Tray& tray, PagePtr page, bool new_document);
Tray with_page(const Tray& tray, PagePtr page); // in the place of the page with the same id
Tray without_page(const Tray& tray, const std::string& page_id);
Tray with_divider_at(const Tray& tray, const std::string& page_id);        // the page begins a document
Tray without_divider_at(const Tray& tray, const std::string& document_id); // joined to the document before
Tray with_document_name(const Tray& tray, const std::string& document_id, const std::string& name);
Tray with_document_saved(const Tray& tray, const std::string& document_id, const std::string& file);
Tray without_document(const Tray& tray, const std::string& document_id);
// The page before page `index` of the document (index may be one past the end).
Tray with_page_moved(const Tray& tray, const std::string& page_id, const std::string& document_id, size_t index);

}
