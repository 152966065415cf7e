// What documents are called: by the person, or by the ticket's parts and the next free number.
#pragma once

#include "core/saving/file_name.h"
#include "core/tray/tray.h"

#include <QString>

#include <functional>

namespace yelvin {

class DocumentTickets;
class Folders;
class GrowingFiles;
class OutTray;
class Papers;
class Tickets;

class DocumentNames {
  public:
    DocumentNames(const Tickets& tickets, const DocumentTickets& documents, const GrowingFiles& growing,
                  const OutTray& tray, const Papers& papers, Folders& folders)
        : tickets_(tickets), documents_(documents), growing_(growing), tray_(tray), papers_(papers), folders_(folders) {
    }

    QString next() const; // of the next document, without extension
    // The same with what is not known before its pages are read said as what it is: "2026-11-28 (sender) (kind)".
    QString next_said(const std::function<QString(NamePart::Kind)>& caption) const;
    int number_for(const Document* document) const; // of its counter, if it had no name of its own; null: the next one
    QString title_of(const Document& document) const; // its own name, or what it will be called
    void forget() { known_.clear(); }                 // files have come since
    // The file that it will be added to; empty: it will be a file of its own, or begin one.
    std::filesystem::path added_to(const Document& document) const;
    QString folder_of(const Document& document) const; // in which it will be saved, as far as that is known

  private:
    struct Known {
        std::vector<NamePart> parts;
        std::filesystem::path folder;
        std::chrono::year_month_day date;
        int number = 1;
        std::chrono::steady_clock::time_point seen;
    };
    const Tickets& tickets_; // of the next document
    const DocumentTickets& documents_;
    const GrowingFiles& growing_;
    const OutTray& tray_;
    const Papers& papers_;
    Folders& folders_;
    mutable std::vector<Known> known_;
    std::filesystem::path folder_for(const Document* document) const;
    // The parts of every document's name as they are filled now; made once for all of them.
    struct Filled {
        std::vector<DocumentPtr> documents;
        unsigned tickets = 0, papers = 0; // their revisions
        std::vector<std::vector<NamePart>> parts;
        std::vector<std::filesystem::path> folders;
    };
    mutable Filled filled_;
    const Filled& filled() const;
    int numbered_before(const Document& document) const;
    int next_number_of(const std::vector<NamePart>& parts, const std::filesystem::path& folder) const;
};

}
