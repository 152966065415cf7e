// The out tray: pages not yet saved, grouped into documents. A value: documents and pages sit behind shared pointers to
// const, an edit gives a new tray, and undo is keeping the old one.
#pragma once

#include "core/reading/page_text.h"
#include "core/seeing/notice.h"

#include <memory>
#include <optional>
#include <span>
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

// Why a page lies in the tray as a slip: it is kept and can be brought back, but does not go into the file.
enum class Dropped { No, Blank, Separator };

struct Page;
using PagePtr = std::shared_ptr<const Page>;

struct Page {
    std::string id; // unique for ever
    Original original;
    bool noticed = false;
    Notices notices;
    Recipe recipe;
    bool recipe_touched = false; // a person changed it: notices that come later leave it alone
    int sheet = 0;               // of its run through the feeder, from 1; 0: not from a stack
    bool back = false;           // the sheet's back
    Dropped dropped = Dropped::No;
    bool dropped_by_hand = false; // a person dropped it or brought it back: rules leave that alone
    std::vector<PagePtr> pieces;  // what it was stitched from, as they lay in the tray; kept with it
    bool left_alone = false;      // looking at it broke the program once: it is not looked at again by itself
    TextEdits text = {};          // what a person said about its words
    bool incomplete = false;      // a part of it was missing in the file it came from
    std::string ticket = {};      // the id of the TicketInUse that it was scanned with; empty: it was not
};

PageLies lies_of(const Page& page);
// A reading of the page as a person put it right, with what is left out marked; and what a file gets of it.
PageText text_of_page(const Page& page, const TextLayer& read);
PageText text_for_file(const Page& page, const TextLayer& read);

struct Document {
    std::string id;
    std::string name; // chosen by the person; empty: made from the ticket's parts
    std::vector<PagePtr> pages;
    std::string saved_as;     // the file it went to, empty while unsaved or changed since
    std::string barcode;      // the text of the separator sheet in front of it; may be empty
    std::string part_of = {}; // while unsaved: the file that its first pages stand in as they are; may be empty
    size_t in_file = 0;       // how many, slips counted
    std::string folder = {};  // chosen for this document; empty: where the ticket says
    std::string ticket = {};  // the id of the TicketInUse that it goes by; empty: none was given to it yet

    std::vector<PagePtr> pages_to_add() const; // those that go into that file too
    std::vector<PagePtr> kept_pages() const;   // those that go into the file
};
using DocumentPtr = std::shared_ptr<const Document>;

// They would give the same file: the same pages in the same order with the same corrections.
bool same_pages(const Document& a, const Document& b);

struct Tray {
    std::vector<DocumentPtr> documents;           // left to right, none of them empty
    bool operator==(const Tray&) const = default; // the same documents, by identity

    size_t page_count() const; // slips left out
};

// Whether they are, as far as they were looked at; none are not.
bool all_photographs(std::span<const PagePtr> pages);

struct PagePlace {
    size_t document = 0, page = 0;
};
DocumentPtr document_at(const Tray& tray, const std::string& document_id); // null when gone
std::optional<PagePlace> find_page(const Tray& tray, const std::string& page_id);
PagePtr page_at(const Tray& tray, const std::string& page_id); // null when gone

std::string new_id(); // 64 bits of the system's randomness

// What keeps a tray from being kept: a document or page that stands in it twice, its pieces counted. Empty: nothing.
std::string contradiction_in(const Tray& tray);

// Calls `each` with the names of all originals that a page needs, those of its pieces too.
template <class Each>
void for_originals(const Page& page, const Each& each) {
    each(page.original.file);
    for (const PagePtr& piece : page.pieces) for_originals(*piece, each);
}

// Edits. Ids that are not in the tray change nothing.
Tray with_page_added(const Tray& tray, PagePtr page, bool new_document);
Tray with_page(const Tray& tray, PagePtr page); // in the place of the page with the same id
Tray without_page(const Tray& tray, const std::string& page_id);
// The page's pieces in its place; a page without any stays.
Tray with_pieces_taken_out(const Tray& tray, const std::string& page_id);
Tray with_divider_at(const Tray& tray, const std::string& page_id);        // the page begins a document
Tray without_divider_at(const Tray& tray, const std::string& document_id); // joined to the document before
Tray with_document_name(const Tray& tray, const std::string& document_id, const std::string& name);
// Another ticket makes another file, so a saved document is unsaved.
Tray with_document_ticket(const Tray& tray, const std::string& document_id, const std::string& ticket);
Tray with_document_folder(const Tray& tray, const std::string& document_id, const std::string& folder);
// The same file under another name or in another folder.
Tray with_document_file(const Tray& tray, const std::string& document_id, const std::string& file);
Tray with_document_saved(const Tray& tray, const std::string& document_id, const std::string& file);
// For edits: what stands in a page from `first_changed` on is no longer what the file has. To be called before the
// pages are changed.
void set_unsaved(Document& document, size_t first_changed = 0);
Tray with_document_barcode(const Tray& tray, const std::string& document_id, const std::string& barcode);
Tray with_page_dropped(const Tray& tray, const std::string& page_id, Dropped dropped); // by hand
// The document's pages in another order or changed; ids must be the same ones.
Tray with_document_pages(const Tray& tray, const std::string& document_id, std::vector<PagePtr> pages);
Tray without_document(const Tray& tray, const std::string& document_id);
// The page before page `index` of the document (index may be one past the end).
Tray with_page_moved(const Tray& tray, const std::string& page_id, const std::string& document_id, size_t index);

}
