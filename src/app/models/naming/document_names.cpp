#include "app/models/naming/document_names.h"

#include "app/models/naming/folders.h"
#include "app/models/naming/papers.h"
#include "app/models/tickets/growing_files.h"
#include "app/models/tickets/tickets.h"
#include "app/models/tray/document_tickets.h"
#include "app/models/tray/out_tray.h"

#include <fmt/format.h>

namespace yelvin {

// The next free number according to the latest listing of the folder. Does not wait for a new listing.
int DocumentNames::next_number_of(const std::vector<NamePart>& parts, const std::filesystem::path& folder) const {
    constexpr std::chrono::milliseconds lifetime{1500};
    const auto now = std::chrono::steady_clock::now();
    std::erase_if(known_, [&](const Known& known) { return now - known.seen > lifetime; });
    const auto date = today();
    for (const Known& known : known_) {
        if (known.parts == parts && known.folder == folder && known.date == date) return known.number;
    }
    const FolderState state = folders_.of(folder);
    known_.push_back({parts, folder, date, state.names ? next_number(parts, date, *state.names) : 1, now});
    return known_.back().number;
}

std::filesystem::path DocumentNames::folder_for(const Document* document) const {
    const Ticket& ticket = document ? documents_.of(*document) : tickets_.ticket();
    if (document && !document->folder.empty()) return document->folder;
    const NameValues values = document ? papers_.values_of(*document, ticket) : name_values({}, {}, ticket.name);
    return folder_within(expanded_folder(ticket.save.folder), ticket.save.within, values, today());
}

QString DocumentNames::folder_of(const Document& document) const {
    return QString::fromStdString(folder_for(&document).string());
}

QString DocumentNames::next() const {
    const Ticket& ticket = tickets_.ticket();
    if (const auto file = growing_.current(ticket); !file.empty()) return QString::fromStdString(file.stem().string());
    const auto parts = with_values(ticket.save.name, name_values({}, {}, ticket.name));
    return QString::fromStdString(make_name(parts, today(), next_number_of(parts, folder_for(nullptr))));
}

QString DocumentNames::next_said(const std::function<QString(NamePart::Kind)>& caption) const {
    const Ticket& ticket = tickets_.ticket();
    if (const auto file = growing_.current(ticket); !file.empty()) return QString::fromStdString(file.stem().string());
    const NameValues values = name_values({}, {}, ticket.name);
    std::vector<NamePart> said = ticket.save.name;
    for (NamePart& part : said) {
        const bool unknown = is_read_on_paper(part.kind) || with_values({part}, values).empty();
        if (unknown) part = {NamePart::Kind::Words, fmt::format("({})", caption(part.kind).toStdString())};
    }
    const int number = next_number_of(with_values(ticket.save.name, values), folder_for(nullptr));
    return QString::fromStdString(make_name(with_values(said, values), today(), number));
}

int DocumentNames::number_for(const Document* document) const {
    const Ticket& ticket = document ? documents_.of(*document) : tickets_.ticket();
    const NameValues values = document ? papers_.values_of(*document, ticket) : name_values({}, {}, ticket.name);
    const int first = next_number_of(with_values(ticket.save.name, values), folder_for(document));
    return first + (document ? numbered_before(*document) : 0);
}

const DocumentNames::Filled& DocumentNames::filled() const {
    const auto& documents = tray_.tray().documents;
    const bool same = filled_.documents == documents && filled_.tickets == documents_.revision() &&
                      filled_.papers == papers_.revision();
    if (same) return filled_;
    filled_ = {documents, documents_.revision(), papers_.revision(), {}, {}};
    for (const DocumentPtr& each : documents) {
        const Ticket& ticket = documents_.of(*each);
        filled_.parts.push_back(with_values(ticket.save.name, papers_.values_of(*each, ticket)));
        filled_.folders.push_back(folder_for(each.get()));
    }
    return filled_;
}

// The number of documents that will take a number before this one.
int DocumentNames::numbered_before(const Document& document) const {
    const Filled& all = filled();
    size_t at = 0;
    while (at < all.documents.size() && all.documents[at]->id != document.id) ++at;
    int before = 0;
    for (size_t i = 0; i < at && at < all.documents.size(); ++i) {
        const Document& other = *all.documents[i];
        const bool counts = !adds_to_file(documents_.of(other)) && other.name.empty() && other.saved_as.empty() &&
                            !other.kept_pages().empty();
        if (counts && all.parts[i] == all.parts[at] && all.folders[i] == all.folders[at]) ++before;
    }
    return before;
}

std::filesystem::path DocumentNames::added_to(const Document& document) const {
    const bool is_unsaved = document.saved_as.empty() && document.folder.empty();
    return is_unsaved ? growing_.current(documents_.of(document)) : std::filesystem::path();
}

QString DocumentNames::title_of(const Document& document) const {
    if (!document.name.empty()) return QString::fromStdString(document.name);
    if (const auto file = added_to(document); !file.empty()) return QString::fromStdString(file.stem().string());
    // Documents without a name of their own are numbered in the order of the tray, separately for each pattern.
    const Ticket& ticket = documents_.of(document);
    const auto parts = with_values(ticket.save.name, papers_.values_of(document, ticket));
    const int first = next_number_of(parts, folder_for(&document));
    return QString::fromStdString(numbered_name(parts, today(), first, numbered_before(document)));
}

}
