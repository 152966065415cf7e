#include "core/ticket/ticket_effects.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

namespace yelvin {

namespace {

std::string folder_line(const Ticket::Save& save) {
    switch (save.where) {
    case Ticket::Save::Where::Asked:
        return "asks for the folder each time";
    case Ticket::Save::Where::Temporary:
        return "saves in a temporary folder";
    case Ticket::Save::Where::Fixed:
        break;
    }
    return fmt::format("saves in {}{}{}", save.folder, save.within.empty() ? "" : ", in subfolders",
                       save.make_folder ? ", which it creates" : "");
}

std::string errand_line(Errand errand, const Ticket::Then& then) {
    switch (errand) {
    case Errand::Open:
        return "opens each file with its usual program";
    case Errand::OpenWith:
        return fmt::format("starts the program {} with each file",
                           then.program.empty() ? "that is chosen each time" : then.program);
    case Errand::Show:
        return "shows each file in its folder";
    case Errand::Print:
        return fmt::format("prints each file{}{}", then.print.printer.empty() ? "" : " on " + then.print.printer,
                           then.print.as_copy ? " and keeps nothing" : "");
    case Errand::Mail:
        return then.mail.to.empty()
                   ? "attaches each file to an e-mail"
                   : fmt::format("attaches each file to an e-mail to {}", fmt::join(then.mail.to, ", "));
    case Errand::Clipboard:
        return "puts each file on the clipboard";
    case Errand::Send:
        break;
    }
    return fmt::format("sends each file to {}", then.send.address.empty()
                                                    ? "the server " + then.send.server
                                                    : fmt::format("{} ({})", then.send.address, then.send.server));
}

}

std::vector<std::string> effects_of(const Ticket& ticket) {
    std::vector<std::string> lines{folder_line(ticket.save)};
    for (const FurtherFile& also : ticket.make.also)
        if (!also.folder.empty())
            lines.push_back(fmt::format("also saves a {} in {}", format_words(also.format), also.folder));
    if (adds_to_file(ticket)) lines.emplace_back("adds its documents to one file, which it changes each time");
    if (ticket.save.at_once) lines.emplace_back("saves automatically when scanned and read");
    for (const Errand errand : ticket.then.errands) lines.push_back(errand_line(errand, ticket.then));
    return lines;
}

}
