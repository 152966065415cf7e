#include "core/tray/tray_edits.h"
#include "core/storage/new_id.h"

#include <algorithm>
#include <charconv>

namespace yelvin {

namespace {

// Applies `edit` to the pages of each document. A changed document becomes unsaved, an empty one is removed.
template <class Edit>
Tray each_document(const Tray& tray, Edit edit) {
    Tray out;
    for (const DocumentPtr& document : tray.documents) {
        std::vector<PagePtr> pages = document->pages;
        edit(*document, pages);
        if (pages == document->pages) {
            out.documents.push_back(document);
        } else if (!pages.empty()) {
            Document changed = *document;
            const auto differs = std::ranges::mismatch(pages, changed.pages).in2;
            set_unsaved(changed, static_cast<size_t>(differs - changed.pages.begin()));
            changed.pages = std::move(pages);
            out.documents.push_back(std::make_shared<const Document>(std::move(changed)));
        }
    }
    return out;
}

std::vector<PagePtr> pages_of(const Tray& tray, const PageIds& ids) {
    std::vector<PagePtr> out;
    for (const auto& document : tray.documents) {
        std::ranges::copy_if(document->pages, std::back_inserter(out),
                             [&](const PagePtr& page) { return ids.contains(page->id); });
    }
    return out;
}

// Returns a copy of the page with new ids for itself and its pieces; the originals are shared.
PagePtr copy_of(const Page& page) {
    Page copy = page;
    copy.id = new_id();
    for (PagePtr& piece : copy.pieces) piece = copy_of(*piece);
    return std::make_shared<const Page>(std::move(copy));
}

ptrdiff_t offset(size_t index) { return static_cast<ptrdiff_t>(index); }

}

std::vector<std::string> page_ids(const Tray& tray) {
    std::vector<std::string> out;
    for (const auto& document : tray.documents) {
        for (const auto& page : document->pages) out.push_back(page->id);
    }
    return out;
}

std::vector<std::string> in_tray_order(const Tray& tray, const PageIds& ids) {
    std::vector<std::string> out;
    for (const PagePtr& page : pages_of(tray, ids)) out.push_back(page->id);
    return out;
}

Tray without_pages(const Tray& tray, const PageIds& ids) {
    return each_document(tray, [&](const Document&, std::vector<PagePtr>& pages) {
        std::erase_if(pages, [&](const PagePtr& page) { return ids.contains(page->id); });
    });
}

Tray with_pages_moved(const Tray& tray, const PageIds& ids, const std::string& document_id, size_t index) {
    const std::vector<PagePtr> moved = pages_of(tray, ids);
    const bool there = std::ranges::any_of(tray.documents, [&](const auto& d) { return d->id == document_id; });
    if (moved.empty() || !there) return tray;
    return each_document(tray, [&](const Document& document, std::vector<PagePtr>& pages) {
        size_t at = std::min(index, pages.size());
        if (document.id == document_id)
            at -= static_cast<size_t>(std::count_if(pages.begin(), pages.begin() + offset(at),
                                                    [&](const PagePtr& page) { return ids.contains(page->id); }));
        std::erase_if(pages, [&](const PagePtr& page) { return ids.contains(page->id); });
        if (document.id == document_id) pages.insert(pages.begin() + offset(at), moved.begin(), moved.end());
    });
}

Tray with_pages_shifted(const Tray& tray, const PageIds& ids, int by) {
    const auto in_order = in_tray_order(tray, ids);
    if (in_order.empty() || by == 0) return tray;
    const PagePlace at = *find_page(tray, by < 0 ? in_order.front() : in_order.back());
    const Document& document = *tray.documents[at.document];
    if (by < 0) {
        if (at.page > 0) return with_pages_moved(tray, ids, document.id, at.page - 1);
        if (at.document == 0) return with_pages_moved(tray, ids, document.id, 0);
        const Document& before = *tray.documents[at.document - 1];
        return with_pages_moved(tray, ids, before.id, before.pages.size());
    }
    if (at.page + 1 < document.pages.size()) return with_pages_moved(tray, ids, document.id, at.page + 2);
    if (at.document + 1 == tray.documents.size())
        return with_pages_moved(tray, ids, document.id, document.pages.size());
    return with_pages_moved(tray, ids, tray.documents[at.document + 1]->id, 0);
}

Tray with_pages_apart(const Tray& tray, const PageIds& ids) {
    const std::vector<PagePtr> moved = pages_of(tray, ids);
    if (moved.empty()) return tray;
    const PagePlace first = *find_page(tray, moved.front()->id);
    if (tray.documents[first.document]->pages == moved) return tray; // The pages already are a document of their own.
    Document apart{new_id(), {}, moved, {}, {}};
    apart.folder = tray.documents[first.document]->folder;
    apart.ticket = tray.documents[first.document]->ticket;
    const auto own = std::make_shared<const Document>(std::move(apart));
    Tray out;
    for (size_t d = 0; d < tray.documents.size(); ++d) {
        const Tray rest = without_pages(Tray{{tray.documents[d]}}, ids);
        out.documents.insert(out.documents.end(), rest.documents.begin(), rest.documents.end());
        if (d == first.document) out.documents.push_back(own);
    }
    return out;
}

Tray with_pages_doubled(const Tray& tray, const PageIds& ids) {
    return each_document(tray, [&](const Document&, std::vector<PagePtr>& pages) {
        std::vector<PagePtr> doubled;
        for (const PagePtr& page : pages) {
            doubled.push_back(page);
            if (!ids.contains(page->id)) continue;
            doubled.push_back(copy_of(*page));
        }
        pages = std::move(doubled);
    });
}

Tray with_changed(const Tray& tray, const PageIds& ids, const std::function<void(Page&)>& change) {
    return each_document(tray, [&](const Document&, std::vector<PagePtr>& pages) {
        for (PagePtr& page : pages) {
            if (!ids.contains(page->id)) continue;
            Page changed = *page;
            change(changed);
            if (changed.recipe != page->recipe || changed.dropped != page->dropped)
                page = std::make_shared<const Page>(std::move(changed));
        }
    });
}

Tray with_divider_moved(const Tray& tray, const std::string& document_id, size_t index) {
    const auto at = std::ranges::find_if(tray.documents, [&](const auto& d) { return d->id == document_id; });
    if (at == tray.documents.end() || at == tray.documents.begin()) return tray;
    Document before = **(at - 1), after = **at;
    std::vector<PagePtr> run = before.pages;
    run.insert(run.end(), after.pages.begin(), after.pages.end());
    index = std::clamp<size_t>(index, 1, run.size() - 1);
    if (index == before.pages.size()) return tray;
    before.pages.assign(run.begin(), run.begin() + offset(index));
    after.pages.assign(run.begin() + offset(index), run.end());
    set_unsaved(before);
    set_unsaved(after);
    Tray out = tray;
    const auto place = static_cast<size_t>(at - tray.documents.begin());
    out.documents[place - 1] = std::make_shared<const Document>(std::move(before));
    out.documents[place] = std::make_shared<const Document>(std::move(after));
    return out;
}

Tray with_page_replaced(const Tray& tray, const std::string& page_id, PagePtr page) {
    if (!page_at(tray, page_id)) return with_page_added(tray, std::move(page), false);
    return each_document(tray, [&](const Document&, std::vector<PagePtr>& pages) {
        for (PagePtr& old : pages) {
            if (old->id == page_id) old = page;
        }
    });
}

namespace {
Tray with_page_next_to(const Tray& tray, const std::string& id, PagePtr page, ptrdiff_t behind) {
    if (!page_at(tray, id)) return with_page_added(tray, std::move(page), false);
    return each_document(tray, [&](const Document&, std::vector<PagePtr>& pages) {
        const auto at = std::ranges::find_if(pages, [&](const PagePtr& old) { return old->id == id; });
        if (at != pages.end()) pages.insert(at + behind, page);
    });
}
}

Tray with_page_inserted(const Tray& tray, const std::string& before_id, PagePtr page) {
    return with_page_next_to(tray, before_id, std::move(page), 0);
}

Tray with_page_behind(const Tray& tray, const std::string& after_id, PagePtr page) {
    return with_page_next_to(tray, after_id, std::move(page), 1);
}

std::optional<std::set<int>> numbers_in(const std::string& text, int last) {
    std::set<int> out;
    const char *at = text.data(), *end = text.data() + text.size();
    const auto skip = [&] {
        while (at < end && *at == ' ') ++at;
    };
    const auto number = [&](int otherwise) {
        int value = otherwise;
        if (at < end && *at == '-') return otherwise; // the dash of a range, not a sign
        const auto read = std::from_chars(at, end, value);
        if (read.ec == std::errc{}) at = read.ptr;
        skip();
        return value;
    };
    for (skip(); at < end; skip()) {
        const char* begin = at;
        const int from = number(1);
        int to = from;
        if (at < end && *at == '-') {
            ++at;
            skip();
            to = number(last);
        }
        if (at == begin || from < 1 || to < from) return std::nullopt;
        for (int i = from; i <= std::min(to, last); ++i) out.insert(i);
        if (at < end && *at++ != ',') return std::nullopt;
    }
    if (out.empty()) return std::nullopt;
    return out;
}

}
