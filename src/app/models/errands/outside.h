// What is outside of this program: other programs, the file manager, the e-mail program, printers. The demo and the
// tests use stand-ins.
#pragma once

#include "app/models/threads/answer.h"
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
    QString name, words; // CUPS' name; description
    SizeMm sheet{210, 297};
    double margin_mm = 4; // width along each edge that it cannot print
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
    // Answers are called on the window's thread, if this object still exists. Done gets a remark, which is empty if
    // everything went as wished.
    using Done = Answer<Result<QString>>;
    using Printers = Answer<std::vector<PrinterSaid>>; // the default one first; may be empty
    using Programs = Answer<std::vector<Program>>;     // the default one first; may be empty
    virtual ~Outside() = default;

    // Opens files with the program of a desktop entry; empty: the default one.
    virtual void open(const std::string& program, const QStringList& files, Done done) = 0;
    virtual void show(const QStringList& files, Done done) = 0;
    // Done as soon as the e-mail program has the draft.
    virtual void mail(const MailDraft& draft, Done done) = 0;
    virtual void list_printers(Printers then) = 0;
    virtual void print(PrintJob job, Done done) = 0;
    virtual void list_programs(const std::string& mime, Programs then) = 0; // programs for a media type
    virtual QString copies_folder() const = 0;                              // folder for files that are only given away
};

}
