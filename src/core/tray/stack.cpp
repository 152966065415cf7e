#include "core/tray/stack.h"

#include "core/tray/tray_edits.h"

#include <algorithm>

namespace yelvin {

namespace {

bool is_blank(const Page& page, const StackRules& rules) {
    return page.noticed && page.notices.blank(rules.blank_limit_percent);
}

// Returns the text of the separator's barcode, or nullopt if the page is not a separator.
std::optional<std::string> separator_text(const Page& page, const StackRules& rules) {
    for (const std::string& text : page.notices.barcodes) {
        if (text.starts_with(separator_mark)) {
            std::string rest = text.substr(separator_mark.size());
            rest.erase(0, rest.find_first_not_of(" :"));
            return rest;
        }
        if (!rules.separator.empty() && text.starts_with(rules.separator)) return text;
    }
    return std::nullopt;
}

}

StackRules stack_rules(const Ticket& ticket) {
    const Ticket::Pages& pages = ticket.pages;
    return {.drop_blank = pages.drop_blank,
            .blank_limit_percent = pages.blank_limit_percent,
            .split = pages.split,
            .every = pages.split_every,
            .separator = pages.separator,
            .each_sheet = pages.documents == Documents::EachItem};
}

std::vector<Verdict> judged(std::span<const PagePtr> pages, const StackRules& rules) {
    std::vector<Verdict> out(pages.size());
    bool next_starts = false;
    std::string barcode;
    int in_document = 0;
    bool has_sheet = false; // the document, one that is not left out
    for (size_t begin = 0; begin < pages.size();) {
        size_t end = begin + 1;
        while (end < pages.size() && pages[begin]->sheet > 0 && pages[end]->sheet == pages[begin]->sheet) ++end;
        const auto sheet = pages.subspan(begin, end - begin);
        bool all_blank = true;
        std::optional<std::string> separator;
        for (const PagePtr& page : sheet) {
            all_blank = all_blank && is_blank(*page, rules);
            if (auto text = separator_text(*page, rules); text && !separator) separator = std::move(text);
        }
        // If blank sides are left out, a blank sheet is not a document.
        const bool is_left_out = std::ranges::all_of(sheet, [&](const PagePtr& page) {
            return page->dropped_by_hand ? page->dropped != Dropped::No : rules.drop_blank && is_blank(*page, rules);
        });
        const bool divides = (rules.split == SplitAt::BlankSheet && all_blank) ||
                             (rules.split == SplitAt::Separator && separator.has_value());
        for (size_t i = begin; i < end; ++i) {
            const Page& page = *pages[i];
            Verdict& verdict = out[i];
            if (divides)
                verdict.dropped = Dropped::Separator;
            else if (rules.drop_blank && is_blank(page, rules))
                verdict.dropped = Dropped::Blank;
            if (page.dropped_by_hand) verdict.dropped = page.dropped;
            if (divides) continue;
            const bool full = rules.each_sheet
                                  ? i == begin && has_sheet && !is_left_out
                                  : rules.split == SplitAt::Every && in_document >= std::max(1, rules.every);
            // A document begins with a sheet's first side, blank or not, so that its slips are on the right side of the
            // divider.
            if (next_starts || full) {
                verdict.starts_document = true;
                verdict.barcode = std::exchange(barcode, {});
                next_starts = false;
                in_document = 0;
                has_sheet = false;
            }
            ++in_document;
            has_sheet = has_sheet || !is_left_out;
        }
        if (divides) {
            next_starts = true;
            // If two separator sheets follow each other, the document takes the name from the one that has one.
            if (separator && !separator->empty()) barcode = *separator;
        }
        begin = end;
    }
    return out;
}

Tray with_verdicts(const Tray& tray, std::span<const std::string> page_ids, std::span<const Verdict> verdicts) {
    Tray out = tray;
    for (size_t i = 0; i < std::min(page_ids.size(), verdicts.size()); ++i) {
        const PagePtr page = page_at(out, page_ids[i]);
        if (!page) continue;
        const Verdict& verdict = verdicts[i];
        if (page->dropped != verdict.dropped) {
            Page changed = *page;
            changed.dropped = verdict.dropped;
            out = with_page(out, std::make_shared<const Page>(std::move(changed)));
        }
        if (!verdict.starts_document) continue;
        // Slips alone are not a document: a separator at the very beginning is in the document that it names.
        const auto at = find_page(out, page_ids[i]);
        const auto& pages = out.documents[at->document]->pages;
        const auto before = std::span(pages).first(at->page);
        if (std::ranges::any_of(before, [](const PagePtr& p) { return p->dropped == Dropped::No; }))
            out = with_divider_at(out, page_ids[i]);
        if (verdict.barcode.empty()) continue;
        const auto place = find_page(out, page_ids[i]);
        out = with_document_barcode(out, out.documents[place->document]->id, verdict.barcode);
    }
    return out;
}

std::vector<SheetSides> paired(size_t fronts, size_t backs, size_t gap) {
    const size_t sheets = std::max(fronts, backs), missing = sheets - std::min(fronts, backs);
    gap = std::min(gap, sheets - missing);
    // The sheets of the gap lack the side of which there are fewer.
    const auto side = [&](size_t count, size_t sheet) -> std::optional<size_t> {
        if (count == sheets || sheet < gap) return sheet;
        return sheet < gap + missing ? std::nullopt : std::optional(sheet - missing);
    };
    std::vector<SheetSides> out;
    for (size_t sheet = 0; sheet < sheets; ++sheet) {
        SheetSides sides{side(fronts, sheet), side(backs, sheet)};
        if (sides.back) sides.back = backs - 1 - *sides.back;
        out.push_back(sides);
    }
    return out;
}

namespace {

PagePtr side_of_sheet(const PagePtr& page, size_t sheet, bool back) {
    Page placed = *page;
    placed.sheet = static_cast<int>(sheet) + 1;
    placed.back = back;
    return std::make_shared<const Page>(std::move(placed));
}

}

Tray with_sides_paired(const Tray& tray, std::span<const std::string> fronts, std::span<const std::string> backs,
                       size_t gap) {
    const auto there = [&](const std::string& id) { return page_at(tray, id) != nullptr; };
    const auto first = std::ranges::find_if(fronts, there);
    if (first == fronts.end()) return tray;
    const std::vector<SheetSides> sheets = paired(fronts.size(), backs.size(), gap);
    Tray out = without_pages(tray, PageIds(backs.begin(), backs.end()));
    std::string last; // The page behind which the next one is inserted.
    for (size_t sheet = 0; sheet < sheets.size(); ++sheet) {
        if (const auto front = sheets[sheet].front; front && there(fronts[*front])) {
            out = with_page(out, side_of_sheet(page_at(tray, fronts[*front]), sheet, false));
            last = fronts[*front];
        }
        if (const auto back = sheets[sheet].back; back && there(backs[*back])) {
            const PagePtr page = side_of_sheet(page_at(tray, backs[*back]), sheet, true);
            out = last.empty() ? with_page_inserted(out, *first, page) : with_page_behind(out, last, page);
            last = backs[*back];
        }
    }
    return out;
}

}
