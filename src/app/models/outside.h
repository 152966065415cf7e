// What is outside of this program and does something with finished files: other programs, the file manager, the mail
// program, printers. Stand-ins do the same for the demo and for tests.
#pragma once

#include "app/models/answer.h"
#include "core/errands/mail_draft.h"
#include "core/errands/programs.h"
#include "core/raster/raster.h"
#include "core/ticket/ticket.h"

#include <QString>
#include <QStringList>

#include <functional>
#include <vector>

namespace yelvin {

struct PrinterSaid {
    QString name, words; // by CUPS' name; as people know it
    SizeMm sheet{210, 297};
    double margin_mm = 4; // what it cannot reach
    bool usual = false;
};

struct PrintJob {
    QString title;
    PrintHow how;
    std::vector<SizeMm> sizes;                         // of the pages
    std::function<Result<Raster>(size_t page)> raster; // may be called on any thread
};

class Outside {
  public:
    // All answers come on the window's thread, not at all once this is gone. Done: a word about how it went, empty
    // where all went as it was wished.
    using Done = Answer<Result<QString>>;
    using Printers = Answer<std::vector<PrinterSaid>>; // the usual one first; may be none
    using Programs = Answer<std::vector<Program>>;     // the usual one first; may be none
    virtual ~Outside() = default;

    // With the program of a desktop entry; empty: the usual one.
    virtual void open(const std::string& program, const QStringList& files, Done done) = 0;
    virtual void show(const QStringList& files, Done done) = 0;
    // Done as soon as the mail program has it: what the person does there is theirs.
    virtual void mail(const MailDraft& draft, Done done) = 0;
    virtual void list_printers(Printers then) = 0;
    virtual void print(PrintJob job, Done done) = 0;
    virtual void list_programs(const std::string& mime, Programs then) = 0; // that open such a file, by its media type
    virtual QString copies_folder() const = 0; // for files that are made only to be given away
};

}
