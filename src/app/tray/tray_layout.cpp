#include "app/tray/tray_layout.h"

#include "app/tray/tray_metrics.h"

#include <algorithm>
#include <limits>

namespace yelvin {

using namespace tray;

namespace {

constexpr int least_card = 150;
constexpr int empty_slip_width = 150, new_slip_width = 92, slim_slip_width = 30;

int words_of_tab(const TrayLayout::Document& document) {
    return document.title_width + behind_title + document.facts_width + (document.saved ? saved_mark : 0) +
           document.words_width;
}

}

int TrayLayout::thumb_height_in(int height) { return height - thumb_top - number_height - foot; }

TrayLayout::TrayLayout(const QList<Document>& documents, int height, bool slim)
    : slim_(slim), thumb_height_(thumb_height_in(height)) {
    int x = 0;
    for (qsizetype i = 0; i < documents.size(); ++i) {
        DocumentBox box{documents[i], {}, {}, {}};
        const bool last = i + 1 == documents.size();
        const int for_pages = slim ? 0 : lay_out_pages(box, x + pad, last) - between + pad - x;
        const int width = std::max({for_pages, 2 * pad + words_of_tab(box), least_card});
        box.card = QRect(x, 0, width, height - 1);
        box.tab = QRect(x, 0, width, tab_height);
        documents_.append(box);
        x += width + (slim ? slim_gap : card_gap);
    }
    const bool empty = documents.isEmpty();
    new_slip_ = slim ? QRect(x, 3, empty ? empty_slip_width : slim_slip_width, height - 6)
                     : QRect(x, thumb_top, empty ? empty_slip_width : new_slip_width, thumb_height_);
    width_ = new_slip_.right() + 4;
}

int TrayLayout::lay_out_pages(DocumentBox& box, int x, bool last) {
    int number = 0;
    for (const Page& page : box.pages) {
        const bool slip = page.dropped != Dropped::No;
        const int width = slip ? dropped_width : page.width;
        number += slip ? 0 : 1;
        box.boxes.append({page.id, QRect(x, thumb_top, width, thumb_height_), page.dropped, number});
        x += width + between;
    }
    if (last) {
        next_slip_ = QRect(x, thumb_top, slip_width, thumb_height_);
        x += slip_width + between;
    }
    return x;
}

const TrayLayout::DocumentBox* TrayLayout::document(const QString& id) const {
    const auto at = std::ranges::find(documents_, id, &DocumentBox::id);
    return at == documents_.end() ? nullptr : &*at;
}

const TrayLayout::DocumentBox* TrayLayout::current() const {
    const auto at = std::ranges::find_if(documents_, &DocumentBox::current);
    return at == documents_.end() ? nullptr : &*at;
}

const TrayLayout::DocumentBox* TrayLayout::tab_at(QPoint at) const {
    const auto box = std::ranges::find_if(documents_, [&](const DocumentBox& each) { return each.tab.contains(at); });
    return box == documents_.end() ? nullptr : &*box;
}

QRect TrayLayout::ticket_edge(const DocumentBox& box, int left_seen) {
    return {name_left(box, left_seen) - pad, box.tab.top(), ticket_edge_width, box.tab.height()};
}

const TrayLayout::PageBox* TrayLayout::page_at(QPoint at) const {
    for (const DocumentBox& box : documents_)
        for (const PageBox& page : box.boxes)
            if (page.rect.adjusted(-3, -3, 3, number_height).contains(at)) return &page;
    return nullptr;
}

QRect TrayLayout::page_rect(const QString& page_id) const {
    for (const DocumentBox& box : documents_)
        for (const PageBox& page : box.boxes)
            if (page.id == page_id) return page.rect;
    return {};
}

int TrayLayout::name_left(const DocumentBox& box, int left_seen) {
    const int furthest = box.tab.right() - words_of_tab(box) - 2 * pad;
    return std::clamp(left_seen, box.tab.left(), std::max(box.tab.left(), furthest)) + pad;
}

int TrayLayout::words_left(const DocumentBox& box, int left_seen) {
    return name_left(box, left_seen) + words_of_tab(box) - box.words_width;
}

TrayLayout::Drop TrayLayout::drop_at(QPoint at) const {
    Drop best;
    int nearest = std::numeric_limits<int>::max();
    for (const DocumentBox& box : documents_) {
        for (qsizetype i = 0; i <= box.boxes.size() && !box.boxes.isEmpty(); ++i) {
            const int x = i < box.boxes.size() ? box.boxes[i].rect.left() - between / 2 - 1
                                               : box.boxes.back().rect.right() + between / 2 + 1;
            if (std::abs(x - at.x()) >= nearest) continue;
            nearest = std::abs(x - at.x());
            best = {box.id, static_cast<size_t>(i), x};
        }
    }
    return best;
}

TrayLayout::Drop TrayLayout::divider_drop(const QString& document_id, QPoint at) const {
    const auto divided = std::ranges::find(documents_, document_id, &DocumentBox::id);
    if (divided == documents_.end() || divided == documents_.begin()) return {};
    Drop best;
    int nearest = std::numeric_limits<int>::max();
    size_t index = 0;
    for (const DocumentBox* box : {&*(divided - 1), &*divided}) {
        for (const PageBox& page : box->boxes) {
            const int x = page.rect.left() - between / 2;
            if (index > 0 && std::abs(x - at.x()) < nearest) {
                nearest = std::abs(x - at.x());
                best = {document_id, index, x};
            }
            ++index;
        }
    }
    return best;
}

}
