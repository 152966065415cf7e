#include "core/output/pdf_merge.h"

#include <fmt/format.h>
#include <qpdf/QPDFNumberTreeObjectHelper.hh>
#include <qpdf/QPDFPageDocumentHelper.hh>
#include <qpdf/QPDFPageLabelDocumentHelper.hh>

#include <algorithm>
#include <map>

namespace yelvin {

namespace {

using Handle = QPDFObjectHandle;

// Shifts the page labels to make room for the new pages.
void move_labels(QPDF& whole, long long behind, long long added, long long before) {
    QPDFPageLabelDocumentHelper labels(whole);
    if (!labels.hasPageLabels()) return;
    std::vector<Handle> moved; // index, label, index, label …
    if (behind > 0) labels.getLabelsForPageRange(0, behind - 1, 0, moved);
    if (behind < before) { // At the end the numbering of the last pages continues.
        moved.push_back(Handle::newInteger(behind));
        moved.push_back(Handle::parse(fmt::format("<< /S /D /St {} >>", behind + 1)));
        labels.getLabelsForPageRange(behind, before - 1, behind + added, moved);
    }
    Handle tree = Handle::newDictionary();
    tree.replaceKey("/Nums", Handle::newArray(moved));
    whole.getRoot().replaceKey("/PageLabels", tree);
}

long long next_parent(QPDF& whole, Handle& tree) {
    Handle root = whole.getRoot().getKey("/StructTreeRoot");
    long long next =
        root.getKey("/ParentTreeNextKey").isInteger() ? root.getKey("/ParentTreeNextKey").getIntValue() : 0;
    QPDFNumberTreeObjectHelper numbers(tree, whole);
    if (numbers.begin() != numbers.end()) next = std::max(next, numbers.getMax() + 1);
    return next;
}

std::vector<Handle> listed(Handle kids) {
    if (kids.isArray()) return kids.getArrayAsVector();
    return kids.isNull() ? std::vector<Handle>{} : std::vector<Handle>{kids};
}

// Returns the only element below the root, if it is a document.
Handle only_document(Handle root) {
    auto kids = listed(root.getKey("/K"));
    const bool is = kids.size() == 1 && kids.front().isDictionary() && kids.front().getKey("/S").isName() &&
                    kids.front().getKey("/S").getName() == "/Document";
    return is ? kids.front() : Handle::newNull();
}

// Returns the page on which an element begins, or null if that is unknown.
Handle page_of(Handle element) {
    constexpr int deep = 30;
    for (int i = 0; i < deep && element.isDictionary(); ++i) {
        if (Handle page = element.getKey("/Pg"); page.isDictionary()) return page;
        const auto kids = listed(element.getKey("/K"));
        element = kids.empty() ? Handle::newNull() : kids.front();
    }
    return Handle::newNull();
}

// Returns the index of the first element that begins after the page, or the number of elements if none does.
size_t first_behind(QPDF& whole, const std::vector<Handle>& elements, const Handle& page) {
    std::map<QPDFObjGen, size_t> numbers;
    for (const Handle& each : whole.getAllPages()) numbers.emplace(each.getObjGen(), numbers.size());
    for (size_t i = 0; i < elements.size(); ++i) {
        const auto at = numbers.find(page_of(elements[i]).getObjGen());
        if (at != numbers.end() && at->second > numbers.at(page.getObjGen())) return i;
    }
    return elements.size();
}

// Adds the structure elements of the new pages to the existing structure tree. The pages are in `whole` already, so
// that references to them refer to their copies.
void add_structure(QPDF& whole, QPDF& more, const std::vector<Handle>& copies) {
    Handle root = whole.getRoot().getKey("/StructTreeRoot"), theirs = more.getRoot().getKey("/StructTreeRoot");
    const bool both = root.isDictionary() && theirs.isDictionary() && root.getKey("/K").isInitialized();
    if (!both || !theirs.getKey("/ParentTree").isDictionary()) {
        for (Handle page : copies) page.removeKey("/StructParents"), page.removeKey("/Tabs");
        return;
    }
    if (!root.getKey("/ParentTree").isDictionary())
        root.replaceKey("/ParentTree", whole.makeIndirectObject(Handle::parse("<< /Nums [] >>")));
    Handle tree = root.getKey("/ParentTree");
    const long long first = next_parent(whole, tree);
    Handle parent = root, kids = theirs.getKey("/K");
    // If both trees have a single document element (14.8.4.3), the children of the new one are moved into the existing
    // one.
    Handle document = only_document(root), our_document = only_document(theirs);
    if (document.isDictionary() && our_document.isDictionary()) parent = document, kids = our_document.getKey("/K");
    std::vector<Handle> parts;
    for (Handle part : listed(kids)) {
        if (!part.isDictionary()) continue;
        part.removeKey("/P"); // Otherwise copying the element would copy its whole tree.
        Handle copy = whole.copyForeignObject(part.isIndirect() ? part : more.makeIndirectObject(part));
        copy.replaceKey("/P", parent);
        parts.push_back(copy);
    }
    std::vector<Handle> all = listed(parent.getKey("/K"));
    const auto at = all.begin() + static_cast<std::ptrdiff_t>(first_behind(whole, all, copies.back()));
    all.insert(at, parts.begin(), parts.end());
    parent.replaceKey("/K", Handle::newArray(all));
    QPDFNumberTreeObjectHelper ours(tree, whole);
    long long next = first;
    for (const auto& [number, elements] : QPDFNumberTreeObjectHelper(theirs.getKey("/ParentTree"), more)) {
        Handle there = elements.isIndirect() ? elements : more.makeIndirectObject(elements);
        ours.insert(first + number, whole.copyForeignObject(there));
        next = std::max(next, first + number + 1);
    }
    for (Handle page : copies)
        if (Handle number = page.getKey("/StructParents"); number.isInteger())
            page.replaceKey("/StructParents", Handle::newInteger(first + number.getIntValue()));
    root.replaceKey("/ParentTreeNextKey", Handle::newInteger(next));
}

long long shown(Handle outline) {
    Handle count = outline.getKey("/Count");
    return count.isInteger() ? std::max(0LL, count.getIntValue()) : 0;
}

void add_outline(QPDF& whole, QPDF& more, bool in_front) {
    Handle theirs = more.getRoot().getKey("/Outlines");
    if (!theirs.isDictionary() || !theirs.getKey("/First").isDictionary()) return;
    Handle copy = whole.copyForeignObject(theirs);
    Handle outline = whole.getRoot().getKey("/Outlines");
    if (!outline.isDictionary() || !outline.getKey("/First").isDictionary()) {
        whole.getRoot().replaceKey("/Outlines", copy);
        return;
    }
    Handle first = copy.getKey("/First"), last = copy.getKey("/Last");
    for (Handle item = first; item.isDictionary(); item = item.getKey("/Next")) item.replaceKey("/Parent", outline);
    Handle old_first = outline.getKey("/First"), old_last = outline.getKey("/Last");
    Handle before = in_front ? last : old_last, after = in_front ? old_first : first;
    before.replaceKey("/Next", after);
    after.replaceKey("/Prev", before);
    outline.replaceKey(in_front ? "/First" : "/Last", in_front ? first : last);
    outline.replaceKey("/Count", Handle::newInteger(shown(outline) + shown(copy)));
}

}

void insert_pages(QPDF& whole, QPDF& more, int behind) {
    const auto pages = more.getAllPages();
    const auto there = whole.getAllPages();
    std::vector<Handle> copies;
    move_labels(whole, behind, static_cast<long long>(pages.size()), static_cast<long long>(there.size()));
    for (const Handle& page : pages) {
        if (behind == 0 && !there.empty())
            whole.addPageAt(page, true, there.front()); // one after the other in front of the first
        else if (copies.empty() && behind > 0)
            whole.addPageAt(page, false, there.at(static_cast<size_t>(behind) - 1));
        else if (!copies.empty())
            whole.addPageAt(page, false, copies.back());
        else
            whole.addPage(page, false);
        // The copy follows the earlier copies directly.
        copies.push_back(whole.getAllPages().at(static_cast<size_t>(behind) + copies.size()));
    }
    add_structure(whole, more, copies);
    add_outline(whole, more, behind == 0 && !there.empty());
}

}
