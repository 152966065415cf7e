#include "app/ticketbar/document_sheets.h"

#include "app/models/naming/document_names.h"
#include "app/models/tickets/tickets.h"
#include "app/models/tray/document_tickets.h"
#include "app/models/tray/out_tray.h"
#include "app/theme/phrase_sheet.h"
#include "app/theme/theme.h"
#include "app/ticketbar/sheet_parts.h"
#include "app/ticketbar/wording.h"

#include <QTimer>

namespace yelvin {

DocumentSheets::DocumentSheets(const TicketModels& models, QWidget* parent)
    : QObject(parent), models_(models), parent_(parent) {}

void DocumentSheets::open(const QStringList& document_ids, const QRect& anchor) {
    models_.for_documents = document_ids;
    anchor_ = anchor;
    if (are_there()) open_overview();
}

// Documents may disappear while a sheet about them is open, for example when they are printed and not kept.
bool DocumentSheets::are_there() {
    const auto is_gone = [this](const QString& id) { return !document_at(models_.tray.tray(), id.toStdString()); };
    models_.for_documents.removeIf(is_gone);
    return !models_.for_documents.isEmpty();
}

namespace {

// "Lease 014", or the number of documents.
QString titles_of(const TicketModels& models) {
    if (models.for_documents.size() > 1) return DocumentSheets::tr("%1 documents").arg(models.for_documents.size());
    const DocumentPtr document = document_at(models.tray.tray(), models.for_documents.front().toStdString());
    return document ? models.names.title_of(*document) : QString();
}

}

void DocumentSheets::open_overview() {
    auto* sheet = new PhraseSheet(parent_);
    sheet->setObjectName("document-ticket-sheet");
    sheet->add_heading(tr("Make %1 as").arg(titles_of(models_)));
    const Ticket& now = sheets::shown(models_);
    const QStringList ids = models_.for_documents;
    bool own = false;
    for (const QString& id : ids)
        if (const DocumentPtr document = document_at(models_.tray.tray(), id.toStdString()))
            own = own || models_.document_tickets.has_own(*document);
    models_.tickets.read_folder();
    for (const KeptTicket& kept : models_.tickets.kept().tickets) {
        const bool is_now = !own && kept.ticket.name == now.name;
        auto* row = sheet->add_row(QString::fromStdString(kept.ticket.name), wording::becomes(kept.ticket), is_now,
                                   [this, ids, file = QString::fromStdString(kept.file.string())] {
                                       models_.document_tickets.put_as(ids, file);
                                   });
        row->set_colour(theme::ticket_colour(QString::fromStdString(kept.ticket.colour)));
    }
    sheet->end_list();
    sheet->add_heading(ids.size() > 1 ? tr("For these documents only") : tr("For this document only"));
    const auto phrase = [&](const QString& words, const QString& is, const char* key) {
        sheet->add_row(words, is, false,
                       [this, key] { QTimer::singleShot(0, this, [this, key] { open_phrase(key); }); });
    };
    phrase(tr("make …"), wording::format(now), "make");
    phrase(tr("named …"), sheets::name_pattern(now.save.name), "name");
    phrase(tr("in the folder …"), wording::where(now), "folder");
    phrase(tr("then …"), wording::then(now).isEmpty() ? tr("no actions") : wording::then(now), "then");
    if (own)
        sheet->add_row(tr("as its ticket says"), tr("discards what was chosen for it"), false,
                       [this, ids] { models_.document_tickets.give_up_own(ids); });
    sheet->open_under(anchor_);
}

void DocumentSheets::open_phrase(const QString& key) {
    if (!are_there()) return;
    auto* sheet = new PhraseSheet(parent_);
    sheet->setObjectName("document-" + key + "-sheet");
    sheet->add_heading(tr("For %1 only").arg(titles_of(models_)));
    const auto later = [this](const char* phrase) {
        return [this, phrase] { QTimer::singleShot(0, this, [this, phrase] { open_phrase(phrase); }); };
    };
    sheets::fill(*sheet, key, models_, sheets::doors_to(later));
    sheet->open_under(anchor_);
}

}
