// The out tray: pages grouped into documents, until they are cleared.
//
// A tray is a value. Documents and pages are immutable and shared between trays, so copying a tray is cheap, an edit
// returns a new tray, and undo means keeping the old one. All functions are pure and may be called on any thread.
#pragma once

#include "core/seeing/notice.h"
#include "core/text/page_text.h"

#include <memory>
#include <optional>
#include <span>
#include <string>
#include <vector>

namespace yelvin {

// The scan of a page as the scanner delivered it, a file in the store. Never altered.
struct Original {
    std::string file; // its name in the store's folder
    int width_px = 0, height_px = 0;
    double dpi = 300;
    Ink ink = Ink::Colour;
    bool operator==(const Original&) const = default;
    SizeMm size_mm() const { return {px_to_mm(width_px, dpi), px_to_mm(height_px, dpi)}; }
};

// Why a page is left out: it stays in the tray as a slip and can be brought back, but is not saved.
enum class Dropped { No, Blank, Separator };

struct Page;
using PagePtr = std::shared_ptr<const Page>;

// A page: the original, what was noticed on it, and what is done to it. The page itself is develop(original, recipe).
struct Page {
    std::string id; // never used for another page
    Original original;
    bool noticed = false; // whether `notices` were determined
    Notices notices;
    Recipe recipe;
    bool recipe_touched = false; // the user changed the recipe, so notices that come later do not
    int sheet = 0;               // number of its sheet in the run, from 1; 0: not from a stack
    bool back = false;           // whether it is the back of the sheet
    Dropped dropped = Dropped::No;
    bool dropped_by_hand = false; // the user left it out or brought it back, so rules do not change that
    std::vector<PagePtr> pieces;  // the pages that it was stitched from
    bool left_alone = false;      // the program crashed while checking it, so it is not checked again automatically
    TextEdits text = {};          // the user's corrections of its text
    bool incomplete = false;      // a part of it was missing in the file that it came from
    std::string ticket = {};      // id of the TicketInUse that it was scanned with; empty: none
};

// How the page lies: its geometry, as text corrections need it.
PageLies lies_of(const Page& page);
// Returns the text of the page with the user's corrections; paragraphs that are left out are marked.
PageText text_of_page(const Page& page, const TextLayer& read);
// Returns the text that goes into a file, without the paragraphs that are left out.
PageText text_for_file(const Page& page, const TextLayer& read);

// Pages that are saved together.
struct Document {
    std::string id;   // never used for another document
    std::string name; // typed by the user; empty: made from the ticket's parts
    std::vector<PagePtr> pages;
    std::string saved_as;     // path of the saved file; empty if the document is unsaved or was changed since
    std::string barcode;      // text of the separator sheet in front of it; may be empty
    std::string part_of = {}; // if unsaved: path of the file that holds its first `in_file` pages; may be empty
    size_t in_file = 0;       // number of pages in `part_of`, pages that are left out included
    std::string folder = {};  // chosen for this document; empty: the ticket's folder
    std::string ticket = {};  // id of its TicketInUse; empty: none yet

    std::vector<PagePtr> pages_to_add() const; // the pages to be added to `part_of`
    std::vector<PagePtr> kept_pages() const;   // the pages that are not left out
};
using DocumentPtr = std::shared_ptr<const Document>;

// Whether both would be saved as the same file: the same pages in the same order with the same corrections.
bool same_pages(const Document& a, const Document& b);

struct Tray {
    std::vector<DocumentPtr> documents;           // from left to right; none is null or empty
    bool operator==(const Tray&) const = default; // compares pointers: the same document objects

    size_t page_count() const; // without pages that are left out
};

// Whether there are pages and all of them were noticed and are photographs.
bool all_photographs(std::span<const PagePtr> pages);

// Indices of a page's document in the tray and of the page in the document.
struct PagePlace {
    size_t document = 0, page = 0;
};
// Each returns null, or nullopt, if the tray has no such document or page.
DocumentPtr document_at(const Tray& tray, const std::string& document_id);
std::optional<PagePlace> find_page(const Tray& tray, const std::string& page_id);
PagePtr page_at(const Tray& tray, const std::string& page_id);

// Returns a sentence about a document or page (pieces included) that is in the tray twice, so that the tray cannot be
// stored; empty if there is none.
std::string contradiction_in(const Tray& tray);

// Calls `each` with the file name of each original that a page needs, those of its pieces included.
template <class Each>
void for_originals(const Page& page, const Each& each) {
    each(page.original.file);
    for (const PagePtr& piece : page.pieces) for_originals(*piece, each);
}

// Edits. Each returns the tray after the edit; an id that is not in the tray changes nothing. A document whose pages
// change becomes unsaved, and a document without pages is removed.

// Adds the page at the end of the last document, or in a new document behind it.
Tray with_page_added(const Tray& tray, PagePtr page, bool new_document);
// Replaces the page that has the same id.
Tray with_page(const Tray& tray, PagePtr page);
// Replaces a stitched page by its pieces; a page without pieces stays.
Tray with_pieces_taken_out(const Tray& tray, const std::string& page_id);
// Divides the document in front of the page.
Tray with_divider_at(const Tray& tray, const std::string& page_id);
// Joins the document to the one before it.
Tray without_divider_at(const Tray& tray, const std::string& document_id);
Tray with_document_name(const Tray& tray, const std::string& document_id, const std::string& name);
// Sets the document's ticket. It becomes unsaved, because another ticket makes another file.
Tray with_document_ticket(const Tray& tray, const std::string& document_id, const std::string& ticket);
Tray with_document_folder(const Tray& tray, const std::string& document_id, const std::string& folder);
// Records that the document's file was renamed or moved.
Tray with_document_file(const Tray& tray, const std::string& document_id, const std::string& file);
Tray with_document_saved(const Tray& tray, const std::string& document_id, const std::string& file);
// For implementing edits: records that the pages from index `first_changed` on differ from the saved file. Call it
// before the pages are changed.
void set_unsaved(Document& document, size_t first_changed = 0);
Tray with_document_barcode(const Tray& tray, const std::string& document_id, const std::string& barcode);
// Leaves the page out or brings it back, as a decision of the user.
Tray with_page_dropped(const Tray& tray, const std::string& page_id, Dropped dropped);
Tray without_document(const Tray& tray, const std::string& document_id);

}
