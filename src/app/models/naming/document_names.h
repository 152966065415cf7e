// The names of documents: typed by the user, or made of the ticket's parts and the next free number. Lives on the
// window's thread.
#pragma once

#include "core/naming/name_part.h"
#include "core/tray/tray.h"

#include <QString>

#include <chrono>
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

    QString next() const; // name of the next document, without extension
    // The same, with placeholders for what is read on its pages: "2026-11-28 (sender) (kind)".
    QString next_said(const std::function<QString(NamePart::Kind)>& caption) const;
    int
    number_for(const Document* document) const; // its counter, if it has no name of its own; null: the next document's
    QString title_of(const Document& document) const; // its own name, or the one it will get
    void forget() { known_.clear(); }                 // call it after files were added
    // The file to which it will be added; empty: it will be a new file.
    std::filesystem::path added_to(const Document& document) const;
    QString folder_of(const Document& document) const; // folder in which it will be saved, as far as known

  private:
    struct Known {
        std::vector<NamePart> parts;
        std::filesystem::path folder;
        std::chrono::year_month_day date;
        int number = 1;
        std::chrono::steady_clock::time_point seen;
    };
    const Tickets& tickets_; // for the next document
    const DocumentTickets& documents_;
    const GrowingFiles& growing_;
    const OutTray& tray_;
    const Papers& papers_;
    Folders& folders_;
    mutable std::vector<Known> known_;
    std::filesystem::path folder_for(const Document* document) const;
    // The present parts of every document's name, computed once for all.
    struct Filled {
        std::vector<DocumentPtr> documents;
        unsigned tickets = 0, papers = 0; // revisions
        std::vector<std::vector<NamePart>> parts;
        std::vector<std::filesystem::path> folders;
    };
    mutable Filled filled_;
    const Filled& filled() const;
    int numbered_before(const Document& document) const;
    int next_number_of(const std::vector<NamePart>& parts, const std::filesystem::path& folder) const;
};

}
