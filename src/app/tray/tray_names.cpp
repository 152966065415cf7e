// Names and folders of documents, behind their tabs: what is proposed, what waits, and how both are chosen.
#include "app/models/document_names.h"
#include "app/models/out_tray.h"
#include "app/models/papers.h"
#include "app/models/renaming.h"
#include "app/models/save_places.h"
#include "app/models/saving.h"
#include "app/ticketbar/phrase_sheet.h"
#include "app/tray/name_entry.h"
#include "app/tray/tray_metrics.h"
#include "app/tray/tray_strip.h"

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

// Those that would change something.
std::vector<NameProposal> TrayStrip::proposals_for(const QString& document_id) const {
    const DocumentPtr document = document_at(models_.tray.tray(), document_id.toStdString());
    if (!document || !document->saved_as.empty()) return {};
    auto all = models_.papers.proposals_for(*document);
    std::erase_if(all, [&](const NameProposal& each) {
        const bool same_folder = each.folder.empty() || each.folder == models_.names.folder_of(*document).toStdString();
        return same_folder && QString::fromStdString(each.name) == models_.names.title_of(*document);
    });
    return all;
}

QRect TrayStrip::word_rect(const QString& document_id, const QString& words) const {
    for (const DocumentBox& box : boxes_) {
        if (box.id != document_id) continue;
        for (const TabWord& word : tab_words(document_id))
            if (word.words == words) return {words_begin(box) + word.x, 0, word.width, tray::tab_height};
    }
    return {};
}

void TrayStrip::rename_current() {
    for (const auto& box : boxes_) {
        if (box.current) return rename(QString(box.id));
    }
}

void TrayStrip::rename(const QString& document_id) {
    if (editor_) editor_->clearFocus(); // what was typed on another tab is taken, which may lay the boxes out anew
    const auto box = std::ranges::find_if(boxes_, [&](const auto& b) { return b.id == document_id; });
    if (box == boxes_.end()) return;
    auto* editor = new NameEntry(box->title, this);
    editor_ = editor;
    editor->setAccessibleName(tr("name of the document"));
    editor->setGeometry(box->tab.adjusted(3, 3, -16, -2));
    editor->show();
    editor->setFocus();
    emit show_rect(box->tab);
    // Ended once: whatever happens to the entry afterwards names nothing.
    const auto ended = [this, editor] {
        if (editor != editor_) return false;
        editor_ = nullptr;
        editor->deleteLater();
        setFocus();
        return true;
    };
    connect(editor, &NameEntry::given_up, this, ended);
    connect(editor, &QLineEdit::editingFinished, this, [this, document_id, editor, ended, before = box->title] {
        if (!ended()) return;
        const QString name = editor->text().trimmed();
        if (!name.isEmpty() && name != before) models_.renaming.rename(document_id.toStdString(), name);
    });
}

void TrayStrip::press_word(const QString& document_id, const TabWord& word) {
    const QRect at = word_rect(document_id, word.words);
    const QRect anchor(mapToGlobal(at.topLeft()), at.size());
    if (word.adds) return add_to_file(document_id);
    if (word.proposes) return open_names_sheet(document_id, anchor);
    if (word.asks) return emit question_wanted();
    if (word.waits) return open_waits_sheet(document_id, anchor);
    begin_errand(document_id, word.state.errand, anchor);
}

void TrayStrip::open_names_of_current() {
    const QString id = document_of_current();
    const QRect tab = tab_rect(id);
    if (!id.isEmpty()) open_names_sheet(id, {mapToGlobal(tab.topLeft()), tab.size()});
}

void TrayStrip::open_names_sheet(const QString& document_id, const QRect& anchor) {
    const DocumentPtr document = document_at(models_.tray.tray(), document_id.toStdString());
    if (!document) return;
    const auto proposals = proposals_for(document_id);
    auto* sheet = new PhraseSheet(this);
    sheet->setObjectName("names-sheet");
    sheet->add_heading(proposals.empty() ? tr("No name is proposed") : tr("A name for it"));
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
    sheet->add_row(tr("another name …"), tr("F2"), false, [this, document_id] { rename(document_id); });
    sheet->add_row(tr("another folder …"), shown_folder(models_.names.folder_of(*document)), false,
                   [this, document_id, anchor] {
                       auto* folders = new PhraseSheet(this);
                       folders->setObjectName("folder-sheet");
                       folders->add_heading(tr("Where this document goes"));
                       add_folder_rows(*folders, document_id);
                       folders->open_under(anchor);
                   });
    if (!like.empty())
        sheet->add_row(tr("forget those it is like"), tr("nothing is proposed from them any more"), false,
                       [this, like] { models_.papers.forget(like); });
    if (proposals.empty())
        sheet->add_advice(tr("Names are proposed once the pages were read and something on them says what they are."));
    sheet->open_under(anchor);
}

void TrayStrip::add_folder_rows(PhraseSheet& sheet, const QString& document_id) {
    const auto put = [this, document_id](const QString& folder) {
        models_.renaming.put_into(document_id.toStdString(), folder);
    };
    for (const QString& folder : models_.places.used(5))
        sheet.add_row(QDir(folder).dirName(), shown_folder(folder), false, [put, folder] { put(folder); });
    const DocumentPtr document = document_at(models_.tray.tray(), document_id.toStdString());
    const QString now = document ? models_.names.folder_of(*document) : QString();
    sheet.add_row(tr("choose …"), tr("on this computer"), false, [this, put, now] {
        const QString chosen = QFileDialog::getExistingDirectory(window(), tr("Where the document goes"), now);
        if (!chosen.isEmpty()) put(chosen);
    });
}

void TrayStrip::add_waiting_rows(PhraseSheet& sheet, const QString& document_id) {
    const std::string id = document_id.toStdString();
    if (models_.saving.is_asked_about(id))
        sheet.add_row(tr("answer its question"), tr("its folder or its passwords"), false,
                      [this] { emit question_wanted(); });
    if (models_.saving.why_waits(id).isEmpty()) return;
    sheet.add_row(tr("try again"), tr("now"), false, [this, document_id] { models_.saving.save({document_id}); });
    sheet.add_row(tr("wait no longer"), tr("it stays in the tray, unsaved"), false,
                  [this, id] { models_.saving.wait_no_longer(id); });
}

void TrayStrip::open_waits_sheet(const QString& document_id, const QRect& anchor) {
    const std::string id = document_id.toStdString();
    auto* sheet = new PhraseSheet(this);
    sheet->setObjectName("waits-sheet");
    sheet->add_heading(tr("Saved as soon as its folder is there"));
    add_waiting_rows(*sheet, document_id);
    sheet->add_heading(tr("Or into another folder"));
    add_folder_rows(*sheet, document_id);
    sheet->add_advice(models_.saving.why_waits(id));
    sheet->open_under(anchor);
}

}
