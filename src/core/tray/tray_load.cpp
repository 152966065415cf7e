// Loading a store that may be damaged. All rows and files are read before anything is changed; then what was not
// understood is set aside, and what was understood is stored again.
#include "core/storage/set_aside.h"
#include "core/tray/originals.h"
#include "core/tray/tray_reading.h"

namespace yelvin {

// Deletes tickets; those for which that fails are deleted at the next start.
void TrayStore::forget_tickets(const std::vector<std::string>& ids) {
    try {
        SQLite::Statement gone(*database_, "DELETE FROM tickets WHERE id = ?");
        for (const std::string& id : ids) {
            gone.reset();
            gone.bind(1, id);
            gone.exec();
        }
    } catch (const SQLite::Exception&) {
    }
}

// Takes over what was read from an undamaged store, without writing anything.
void TrayStore::take_over(Reading& reading) {
    states_ = std::move(reading.states);
    kept_ = std::move(reading.kept);
    in_database_ = reading.out.tray;
    for (const std::string& file : reading.going) {
        if (!reading.known.contains(file)) remove_file_of(file); // committed, but not deleted before a power cut
    }
    const auto hold = [&](const std::string& file) { held_.insert(file); };
    for (const DocumentPtr& document : reading.out.tray.documents) {
        for (const PagePtr& page : document->pages) for_originals(*page, hold);
    }
    forget_tickets(reading.unnamed_tickets);
}

Result<LoadedTray> TrayStore::load() {
    for (const std::string& name : names_in(folder_)) {
        if (!name.ends_with(growing_suffix)) continue; // an unfinished page, which nothing names
        steps_->remove(folder_ / name);
        const std::string original = name.substr(0, name.size() - std::string_view(growing_suffix).size());
        for (const char* each : beside_original) steps_->remove(folder_ / (original + each));
    }
    auto begun = std::make_unique<Reading>(*this);
    begun->read_rows();
    // An error of the disk is not damage: data are read again, and only what fails twice counts as lost.
    if (begun->disk_failed) {
        begun = std::make_unique<Reading>(*this);
        begun->read_rows();
    }
    Reading& reading = *begun;
    reading.read_folder();
    if (reading.perfect()) {
        take_over(reading);
        return std::move(reading.out);
    }
    if (!afresh_) {
        if (auto aside = set_database_aside(reading.list_damaged); !aside) return std::unexpected(aside.error());
        if (reading.list_damaged) {
            if (auto connected = connect(); !connected) return std::unexpected(connected.error());
        }
    }
    afresh_ = false;
    for (const std::string& file : reading.unreadable) {
        const auto into = set_aside_folder();
        if (!into) return std::unexpected(into.error());
        if (auto moved = move_aside(folder_ / file, *into, *steps_); !moved) return std::unexpected(moved.error());
    }
    // No original is deleted below, because the database knows no states now.
    try {
        database_->exec("DELETE FROM steps; DELETE FROM states; DELETE FROM kept; DELETE FROM kept_pages; "
                        "DELETE FROM tickets;");
        written_.reset();
        steps_written_.reset();
        removed_ = reading.odd_going;
        kept_.clear();
        write_kept(reading.kept);
        kept_ = std::move(reading.kept);
    } catch (const std::exception& failure) {
        return failed(failure);
    }
    states_.clear();
    held_.clear();
    for (const auto& [id, ticket] : reading.out.tickets)
        if (auto kept = keep_ticket(id, *ticket); !kept) return std::unexpected(kept.error());
    if (auto kept = keep(reading.out.tray, &reading.out.history); !kept) return std::unexpected(kept.error());
    reading.out.trouble = trouble_words(reading.trouble(), set_aside_);
    reading.out.set_aside = set_aside_;
    return std::move(reading.out);
}

}
