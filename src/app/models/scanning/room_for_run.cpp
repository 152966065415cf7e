#include "app/models/scanning/room_for_run.h"

#include "app/models/naming/folders.h"
#include "app/models/scanning/scanners.h"
#include "app/models/scanning/scanning.h"
#include "app/models/tickets/tickets.h"
#include "app/models/window/messages.h"

namespace yelvin {

namespace {
// The estimate for a page of unknown size, in colour at 300 dpi and on the large side; and the smallest amount of free
// space that is required.
constexpr std::uint64_t page_bytes = 1'500'000, least_bytes = 5'000'000;

QString too_little_room(const std::filesystem::path& folder, std::uint64_t free, std::uint64_t needed) {
    constexpr std::uint64_t mb = 1'000'000;
    const QString where = QString::fromStdString(folder.string()), about = QString::number(needed / mb);
    return free < mb ? RoomForRun::tr("The folder %1 is almost full; this scan may need about %2 MB.").arg(where, about)
                     : RoomForRun::tr("The folder %1 has only %2 MB free; this scan may need about %3 MB.")
                           .arg(where, QString::number(free / mb), about);
}
}

RoomForRun::RoomForRun(const Around& around, QObject* parent) : QObject(parent), around_(around) {
    connect(&around_.run, &Scanning::changed, this, [this] {
        const bool runs = around_.run.passing();
        if (runs && !std::exchange(runs_, runs)) look();
        runs_ = runs;
    });
}

void RoomForRun::look() {
    const Ticket& ticket = around_.tickets.ticket();
    if (ticket.save.where != Ticket::Save::Where::Fixed || !around_.scanners.scanner()) return;
    const bool fed = ticket.from.source != Source::Glass;
    const auto sheets = fed ? around_.scanners.scanner()->sheets_waiting().value_or(1) : 1;
    const std::uint64_t needed = std::max(least_bytes, page_bytes * static_cast<std::uint64_t>(std::max(1, sheets)));
    const std::filesystem::path folder = around_.tickets.folder().toStdString();
    around_.folders.ask(folder, [this, folder, needed, makes = ticket.save.make_folder](const FolderState& state) {
        if (makes && state.is == FolderState::Is::Missing) return;
        const bool short_of_room = state.is == FolderState::Is::Good && state.free_bytes < needed;
        if (state.is == FolderState::Is::Good && !short_of_room) return;
        const QString why = short_of_room ? too_little_room(folder, state.free_bytes, needed)
                                          : QString::fromStdString(state.why.sentence);
        around_.messages.complain(tr("%1 The pages still come into the tray.").arg(why));
    });
}

}
