#include "app/models/document_names.h"

#include "app/models/out_tray.h"
#include "app/models/tickets.h"

namespace yelvin {

// Listing a folder, a network's at times, for every document at every change would hold the window up.
int DocumentNames::next_number_of(const std::vector<NamePart>& parts) const {
    constexpr std::chrono::milliseconds lifetime{1500};
    const auto now = std::chrono::steady_clock::now();
    std::erase_if(known_, [&](const Known& known) { return now - known.seen > lifetime; });
    const auto date = today();
    const auto folder = expanded_folder(tickets_.ticket().save.folder);
    for (const Known& known : known_) {
        if (known.parts == parts && known.folder == folder && known.date == date) return known.number;
    }
    known_.push_back({parts, folder, date, next_number(parts, date, folder), now});
    return known_.back().number;
}

QString DocumentNames::next() const {
    const auto& parts = tickets_.ticket().save.name;
    return QString::fromStdString(made_name(parts, today(), next_number_of(parts)));
}

QString DocumentNames::title_of(const Document& document) const {
    if (!document.name.empty()) return QString::fromStdString(document.name);
    // Documents without a name of their own will be numbered in the order in which they lie, each kind by itself.
    const auto& pattern = tickets_.ticket().save.name;
    const auto parts = with_barcode(pattern, document.barcode);
    int before = 0;
    for (const auto& other : tray_.tray().documents) {
        if (other->id == document.id) break;
        const bool counts = other->name.empty() && other->saved_as.empty() && !other->kept_pages().empty();
        if (counts && with_barcode(pattern, other->barcode) == parts) ++before;
    }
    return QString::fromStdString(numbered_name(parts, today(), next_number_of(parts), before));
}

}
