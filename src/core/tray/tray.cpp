#include "core/tray/tray.h"

#include "core/storage/new_id.h"

#include <fmt/format.h>

#include <algorithm>
#include <string_view>
#include <unordered_set>

namespace yelvin {

size_t Tray::page_count() const {
    size_t count = 0;
    for (const auto& document : documents) count += document->kept_pages().size();
    return count;
}

std::vector<PagePtr> Document::kept_pages() const {
    std::vector<PagePtr> kept;
    std::ranges::copy_if(pages, std::back_inserter(kept),
                         [](const PagePtr& page) { return page->dropped == Dropped::No; });
    return kept;
}

bool all_photographs(std::span<const PagePtr> pages) {
    return !pages.empty() && std::ranges::all_of(pages, [](const PagePtr& page) {
        return page->noticed && page->notices.kind == PageKind::Photo;
    });
}

DocumentPtr document_at(const Tray& tray, const std::string& document_id) {
    const auto at = std::ranges::find_if(tray.documents, [&](const auto& each) { return each->id == document_id; });
    return at == tray.documents.end() ? nullptr : *at;
}

std::optional<PagePlace> find_page(const Tray& tray, const std::string& page_id) {
    for (size_t d = 0; d < tray.documents.size(); ++d) {
        const auto& pages = tray.documents[d]->pages;
        for (size_t p = 0; p < pages.size(); ++p) {
            if (pages[p]->id == page_id) return PagePlace{d, p};
        }
    }
    return std::nullopt;
}

PagePtr page_at(const Tray& tray, const std::string& page_id) {
    const auto place = find_page(tray, page_id);
    return place ? tray.documents[place->document]->pages[place->page] : nullptr;
}

namespace {
bool takes_ids(const Page& page, std::unordered_set<std::string_view>& taken) {
    return taken.insert(page.id).second &&
           std::ranges::all_of(page.pieces, [&](const PagePtr& piece) { return takes_ids(*piece, taken); });
}
}

std::string contradiction_in(const Tray& tray) {
    std::unordered_set<std::string_view> documents, pages;
    for (const DocumentPtr& document : tray.documents) {
        if (!documents.insert(document->id).second) return "a document stands in the tray twice";
        if (document->pages.empty()) return "a document has no pages";
        for (const PagePtr& page : document->pages) {
            if (!takes_ids(*page, pages)) return "a page stands in the tray twice";
        }
    }
    return {};
}

namespace {

// Applies `edit` to a copy of the document at `index`. A document without pages is removed.
template <class Edit>
Tray edited(const Tray& tray, size_t index, Edit edit) {
    Tray out = tray;
    Document document = *tray.documents[index];
    edit(document);
    if (document.pages.empty())
        out.documents.erase(out.documents.begin() + static_cast<ptrdiff_t>(index));
    else
        out.documents[index] = std::make_shared<const Document>(std::move(document));
    return out;
}

std::optional<size_t> find_document(const Tray& tray, const std::string& id) {
    const auto at = std::ranges::find_if(tray.documents, [&](const auto& document) { return document->id == id; });
    if (at == tray.documents.end()) return std::nullopt;
    return static_cast<size_t>(at - tray.documents.begin());
}

}

PageLies lies_of(const Page& page) {
    return {page.recipe, {page.original.width_px, page.original.height_px}, page.original.dpi};
}

PageText text_of_page(const Page& page, const TextLayer& read) { return text_with(read, page.text, lies_of(page)); }

PageText text_for_file(const Page& page, const TextLayer& read) { return without_left_out(text_of_page(page, read)); }

bool same_pages(const Document& a, const Document& b) {
    return std::ranges::equal(a.pages, b.pages, [](const PagePtr& x, const PagePtr& y) {
        return x->id == y->id && x->recipe == y->recipe && x->dropped == y->dropped && same_words(x->text, y->text);
    });
}

Tray with_page_added(const Tray& tray, PagePtr page, bool new_document) {
    if (tray.documents.empty() || new_document) {
        Tray out = tray;
        out.documents.push_back(std::make_shared<const Document>(Document{new_id(), {}, {std::move(page)}, {}, {}}));
        return out;
    }
    return edited(tray, tray.documents.size() - 1, [&](Document& document) {
        set_unsaved(document, document.pages.size());
        document.pages.push_back(std::move(page));
    });
}

Tray with_page(const Tray& tray, PagePtr page) {
    const auto place = find_page(tray, page->id);
    if (!place) return tray;
    return edited(tray, place->document, [&](Document& document) {
        const Page& before = *document.pages[place->page];
        if (before.recipe != page->recipe || before.dropped != page->dropped || !same_words(before.text, page->text))
            set_unsaved(document, place->page);
        document.pages[place->page] = std::move(page);
    });
}

Tray with_pieces_taken_out(const Tray& tray, const std::string& page_id) {
    const auto place = find_page(tray, page_id);
    if (!place || tray.documents[place->document]->pages[place->page]->pieces.empty()) return tray;
    return edited(tray, place->document, [&](Document& document) {
        set_unsaved(document, place->page);
        const auto at = document.pages.begin() + static_cast<ptrdiff_t>(place->page);
        const std::vector<PagePtr> pieces = (*at)->pieces;
        const auto after = document.pages.erase(at);
        document.pages.insert(after, pieces.begin(), pieces.end());
    });
}

Tray with_divider_at(const Tray& tray, const std::string& page_id) {
    const auto place = find_page(tray, page_id);
    if (!place || place->page == 0) return tray;
    Tray out = tray;
    const Document& whole = *tray.documents[place->document];
    const auto middle = whole.pages.begin() + static_cast<ptrdiff_t>(place->page);
    Document before{whole.id, whole.name, {whole.pages.begin(), middle}, {}, whole.barcode};
    Document behind{new_id(), {}, {middle, whole.pages.end()}, {}, {}};
    for (Document* part : {&before, &behind}) part->folder = whole.folder, part->ticket = whole.ticket;
    out.documents[place->document] = std::make_shared<const Document>(std::move(before));
    out.documents.insert(out.documents.begin() + static_cast<ptrdiff_t>(place->document) + 1,
                         std::make_shared<const Document>(std::move(behind)));
    return out;
}

Tray without_divider_at(const Tray& tray, const std::string& document_id) {
    const auto index = find_document(tray, document_id);
    if (!index || *index == 0) return tray;
    Tray out = tray;
    out.documents.erase(out.documents.begin() + static_cast<ptrdiff_t>(*index));
    return edited(out, *index - 1, [&](Document& before) {
        const auto& pages = tray.documents[*index]->pages;
        set_unsaved(before, before.pages.size());
        before.pages.insert(before.pages.end(), pages.begin(), pages.end());
    });
}

Tray with_document_name(const Tray& tray, const std::string& document_id, const std::string& name) {
    const auto index = find_document(tray, document_id);
    return index ? edited(tray, *index, [&](Document& document) { document.name = name; }) : tray;
}

Tray with_document_ticket(const Tray& tray, const std::string& document_id, const std::string& ticket) {
    const auto index = find_document(tray, document_id);
    if (!index || tray.documents[*index]->ticket == ticket) return tray;
    return edited(tray, *index, [&](Document& document) {
        set_unsaved(document);
        document.ticket = ticket;
    });
}

Tray with_document_folder(const Tray& tray, const std::string& document_id, const std::string& folder) {
    const auto index = find_document(tray, document_id);
    return index ? edited(tray, *index, [&](Document& document) { document.folder = folder; }) : tray;
}

Tray with_document_file(const Tray& tray, const std::string& document_id, const std::string& file) {
    const auto index = find_document(tray, document_id);
    return index ? edited(tray, *index,
                          [&](Document& document) {
                              (document.saved_as.empty() ? document.part_of : document.saved_as) = file;
                          })
                 : tray;
}

Tray with_document_saved(const Tray& tray, const std::string& document_id, const std::string& file) {
    const auto index = find_document(tray, document_id);
    return index ? edited(tray, *index,
                          [&](Document& document) {
                              document.saved_as = file;
                              document.part_of.clear();
                              document.in_file = 0;
                          })
                 : tray;
}

void set_unsaved(Document& document, size_t first_changed) {
    const size_t in_file = document.saved_as.empty() ? document.in_file : document.pages.size();
    if (!document.saved_as.empty()) document.part_of = document.saved_as;
    document.saved_as.clear();
    document.in_file = in_file;
    if (first_changed < in_file) document.part_of.clear(), document.in_file = 0;
}

std::vector<PagePtr> Document::pages_to_add() const {
    std::vector<PagePtr> out;
    for (size_t i = in_file; i < pages.size(); ++i)
        if (pages[i]->dropped == Dropped::No) out.push_back(pages[i]);
    return out;
}

Tray with_document_barcode(const Tray& tray, const std::string& document_id, const std::string& barcode) {
    const auto index = find_document(tray, document_id);
    return index ? edited(tray, *index, [&](Document& document) { document.barcode = barcode; }) : tray;
}

Tray with_page_dropped(const Tray& tray, const std::string& page_id, Dropped dropped) {
    const PagePtr page = page_at(tray, page_id);
    if (!page) return tray;
    Page changed = *page;
    changed.dropped = dropped;
    changed.dropped_by_hand = true;
    return with_page(tray, std::make_shared<const Page>(std::move(changed)));
}

Tray without_document(const Tray& tray, const std::string& document_id) {
    const auto index = find_document(tray, document_id);
    return index ? edited(tray, *index, [](Document& document) { document.pages.clear(); }) : tray;
}

}
