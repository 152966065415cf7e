// What documents are called: by the person, or by the ticket's parts and the next free number.
#pragma once

#include "core/saving/file_name.h"
#include "core/tray/tray.h"

#include <QString>

namespace yelvin {

class OutTray;
class Tickets;

class DocumentNames {
  public:
    DocumentNames(const Tickets& tickets, const OutTray& tray) : tickets_(tickets), tray_(tray) {}

    QString next() const;                             // of the next document, without extension
    QString title_of(const Document& document) const; // its own name, or what it will be called
    void forget() { known_.clear(); }                 // files have come since

  private:
    struct Known {
        std::vector<NamePart> parts;
        std::filesystem::path folder;
        std::chrono::year_month_day date;
        int number = 1;
        std::chrono::steady_clock::time_point seen;
    };
    const Tickets& tickets_;
    const OutTray& tray_;
    mutable std::vector<Known> known_;
    int next_number_of(const std::vector<NamePart>& parts) const;
};

}
