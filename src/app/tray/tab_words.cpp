#include "app/tray/tab_words.h"

#include "app/models/naming/document_names.h"
#include "app/models/naming/papers.h"
#include "app/models/saving/password_keeper.h"
#include "app/models/saving/save_places.h"
#include "app/models/saving/saving.h"
#include "app/models/tickets/growing_files.h"
#include "app/models/tray/choice.h"
#include "app/models/tray/document_tickets.h"
#include "app/models/tray/out_tray.h"
#include "app/theme/theme.h"

#include <QFontMetrics>

namespace yelvin {

namespace {

constexpr const char* not_begun = "-";

QString words_of(const ErrandState& state) {
    return state.is == ErrandState::Is::Waits || state.is == ErrandState::Is::Runs ? errand_word(state.errand) + "…"
                                                                                   : errand_word(state.errand);
}

}

bool TabWord::is_over() const {
    return begun && (state.is == ErrandState::Is::Done || state.is == ErrandState::Is::Failed);
}

QList<ErrandState> TabWords::errands_on(const QString& document_id) const {
    const std::string id = document_id.toStdString();
    if (!models_.errands.has_files(id)) return {};
    QList<ErrandState> out;
    const auto begun = models_.errands.of(id);
    for (const Errand errand : models_.errands.used()) {
        if (errand == Errand::OpenWith) continue; // Only the ticket names a program.
        out.append({errand, ErrandState::Is::Waits, not_begun});
    }
    for (const ErrandState& state : begun) {
        const auto at = std::ranges::find(out, state.errand, &ErrandState::errand);
        if (at != out.end())
            *at = state;
        else
            out.append(state);
    }
    return out;
}

QList<TabWord> TabWords::of(const QString& document_id) const {
    const QFontMetrics metrics(theme::measure());
    const std::string id = document_id.toStdString();
    QList<TabWord> words;
    int x = 0;
    const auto add = [&](TabWord word) {
        x += between;
        word.x = x;
        word.width = metrics.horizontalAdvance(word.words) + (word.is_over() ? mark_width : 0);
        x += word.width;
        words.append(word);
    };
    const DocumentPtr there = document_at(models_.tray.tray(), id);
    if (const QString ticket = there ? ticket_words(*there) : QString(); !ticket.isEmpty())
        add({.is = TabWord::Is::Ticket, .words = ticket});
    if (const QString growth = there ? growth_words(*there) : QString(); !growth.isEmpty())
        add({.is = TabWord::Is::Grows, .words = growth});
    if (const DocumentPtr document = growing(document_id)) {
        add({.is = TabWord::Is::Adds, .words = growing_words(*document)});
        return words;
    }
    // While the keyring is being asked, there is no question for the user.
    if (models_.saving.is_asked_about(id) && (models_.places.asks() || models_.passwords.asked()))
        add({.is = TabWord::Is::WaitsForAnswer, .words = tr("waiting for your answer")});
    if (!models_.saving.why_waits(id).isEmpty())
        add({.is = TabWord::Is::WaitsForFolder, .words = tr("waiting for folder")});
    if (const auto names = proposals_for(document_id); !names.empty())
        add({.is = TabWord::Is::Proposes,
             .words = names.size() == 1 ? tr("1 proposed name") : tr("%1 proposed names").arg(names.size())});
    const bool looked_at = there && contains_current(*there);
    for (const ErrandState& state : errands_on(document_id)) {
        const bool begun = state.why != not_begun;
        if (!looked_at && (!begun || state.is == ErrandState::Is::Done)) continue;
        add({.words = begun ? words_of(state) : errand_word(state.errand), .state = state, .begun = begun});
    }
    return words;
}

// The name of the document's ticket, if it is not the one in the sentence.
QString TabWords::ticket_words(const Document& document) const {
    const bool own = models_.document_tickets.has_own(document);
    if (!own && models_.document_tickets.follows(document)) return {};
    constexpr int widest = 130;
    const QString name =
        QFontMetrics(theme::measure())
            .elidedText(QString::fromStdString(models_.document_tickets.of(document).name), Qt::ElideRight, widest);
    return own ? tr("%1, own choices").arg(name) : name;
}

QString TabWords::growth_words(const Document& document) const {
    const Ticket& ticket = models_.document_tickets.of(document);
    const bool has_first = !document.part_of.empty(); // Its new pages are described by growing_words().
    if (!document.saved_as.empty() || has_first || !document.folder.empty() || !adds_to_file(ticket)) return {};
    const QString until = GrowingFiles::until(ticket);
    return models_.names.added_to(document).empty() ? tr("starts a file, %1").arg(until)
                                                    : tr("added to it, %1").arg(until);
}

bool TabWords::contains_current(const Document& document) const {
    const std::string current = models_.choice.current_id().toStdString();
    return std::ranges::any_of(document.pages, [&](const PagePtr& page) { return page->id == current; });
}

int TabWords::width(const QString& document_id) const {
    const auto words = of(document_id);
    return words.isEmpty() ? 0 : words.back().x + words.back().width;
}

// Only proposals that would change something.
std::vector<NameProposal> TabWords::proposals_for(const QString& document_id) const {
    const DocumentPtr document = document_at(models_.tray.tray(), document_id.toStdString());
    if (!document || !document->saved_as.empty() || !models_.names.added_to(*document).empty()) return {};
    auto all = models_.papers.proposals_for(*document);
    std::erase_if(all, [&](const NameProposal& each) {
        const bool same_folder = each.folder.empty() || each.folder == models_.names.folder_of(*document).toStdString();
        return same_folder && QString::fromStdString(each.name) == models_.names.title_of(*document);
    });
    return all;
}

DocumentPtr TabWords::growing(const QString& document_id) const {
    const DocumentPtr document = document_at(models_.tray.tray(), document_id.toStdString());
    return document && document->part_of.ends_with(".pdf") && !document->pages_to_add().empty() ? document : nullptr;
}

QString TabWords::growing_words(const Document& document) {
    const auto count = document.pages_to_add().size();
    const QString file = QString::fromStdString(std::filesystem::path(document.part_of).filename().string());
    const QString shown = QFontMetrics(theme::measure()).elidedText(file, Qt::ElideMiddle, 180);
    return count == 1 ? tr("add its new page to %1").arg(shown) : tr("add %1 pages to %2").arg(count).arg(shown);
}

}
