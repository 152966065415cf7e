// The sheets of names and folders at the tabs of documents: proposals, documents that wait, and how both are chosen.
#include "app/models/errands/renaming.h"
#include "app/models/naming/document_names.h"
#include "app/models/naming/papers.h"
#include "app/models/saving/save_places.h"
#include "app/models/saving/saving.h"
#include "app/models/tray/out_tray.h"
#include "app/theme/phrase_sheet.h"
#include "app/tray/tray_sheets.h"

#include <QDir>
#include <QFileDialog>

namespace yelvin {

namespace {

QString reason_words(const NameProposal& proposal) {
    const QString reason = QString::fromStdString(proposal.reason);
    return proposal.folder.empty() || !proposal.like.empty()
               ? reason
               : reason + QStringLiteral(" · ") + shown_folder(QString::fromStdString(proposal.folder));
}

}

void TraySheets::open_names(const QString& document_id, const QRect& anchor) {
    const DocumentPtr document = document_at(models_.tray.tray(), document_id.toStdString());
    if (!document) return;
    const auto proposals = words_.proposals_for(document_id);
    auto* sheet = new PhraseSheet(parent_);
    sheet->setObjectName("names-sheet");
    sheet->add_heading(proposals.empty() ? tr("No name is proposed") : tr("Proposed names"));
    std::vector<long long> like;
    for (const NameProposal& each : proposals) {
        SheetRow* row =
            sheet->add_row(QString::fromStdString(each.name), reason_words(each), false,
                           [this, document_id, each] { models_.renaming.take(document_id.toStdString(), each); });
        connect(row, &SheetRow::pointed, this, [this, document, each](bool is) {
            models_.papers.point_at(*document, is ? each.facts : std::vector<PaperFact>{});
        });
        if (!each.like.empty()) like = each.like;
    }
    connect(sheet, &QObject::destroyed, &models_.papers, [papers = &models_.papers] { papers->point_at({}, {}); });
    sheet->add_row(tr("another name…"), tr("F2"), false, [this, document_id] { emit rename_wanted(document_id); });
    sheet->add_row(tr("another folder…"), shown_folder(models_.names.folder_of(*document)), false,
                   [this, document_id, anchor] { open_folders(tr("Choose a folder"), document_id, anchor); });
    if (!like.empty())
        sheet->add_row(tr("ignore similar documents"), tr("no names are proposed from them"), false,
                       [this, like] { models_.papers.forget(like); });
    if (proposals.empty())
        sheet->add_advice(tr("Names are proposed when the pages have been read and their text says what they are."));
    sheet->open_under(anchor);
}

void TraySheets::open_folders(const QString& heading, const QString& document, const QRect& anchor) {
    auto* folders = new PhraseSheet(parent_);
    folders->setObjectName("folder-sheet");
    folders->add_heading(heading);
    add_folder_rows(*folders, document);
    folders->open_under(anchor);
}

void TraySheets::add_folder_rows(PhraseSheet& sheet, const QString& document_id) {
    const auto put = [this, document_id](const QString& folder) {
        models_.renaming.put_into(document_id.toStdString(), folder);
    };
    for (const QString& folder : models_.places.used(5))
        sheet.add_row(QDir(folder).dirName(), shown_folder(folder), false, [put, folder] { put(folder); });
    const DocumentPtr document = document_at(models_.tray.tray(), document_id.toStdString());
    const QString now = document ? models_.names.folder_of(*document) : QString();
    sheet.add_row(tr("choose…"), tr("a folder on this computer"), false, [this, put, now] {
        const QString chosen = QFileDialog::getExistingDirectory(parent_->window(), tr("Choose a folder"), now);
        if (!chosen.isEmpty()) put(chosen);
    });
}

void TraySheets::add_waiting_rows(PhraseSheet& sheet, const QString& document_id) {
    const std::string id = document_id.toStdString();
    if (models_.saving.is_asked_about(id))
        sheet.add_row(tr("answer the question"), tr("about its folder or its passwords"), false,
                      [this] { emit question_wanted(); });
    if (models_.saving.why_waits(id).isEmpty()) return;
    sheet.add_row(tr("try again"), tr("saves the document now"), false,
                  [this, document_id] { models_.saving.save({document_id}); });
    sheet.add_row(tr("stop waiting"), tr("the document stays in the tray, unsaved"), false,
                  [this, id] { models_.saving.wait_no_longer(id); });
}

void TraySheets::open_waits(const QString& document_id, const QRect& anchor) {
    auto* sheet = new PhraseSheet(parent_);
    sheet->setObjectName("waits-sheet");
    sheet->add_heading(tr("Saved when its folder is available"));
    add_waiting_rows(*sheet, document_id);
    sheet->add_heading(tr("Or save in another folder"));
    add_folder_rows(*sheet, document_id);
    sheet->add_advice(models_.saving.why_waits(document_id.toStdString()));
    sheet->open_under(anchor);
}

}
