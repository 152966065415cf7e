// What a saved document's tab offers to do with its file, and how it went.
#include "app/models/choice.h"
#include "app/models/copies_folder.h"
#include "app/models/document_names.h"
#include "app/models/errands.h"
#include "app/models/out_tray.h"
#include "app/models/saving.h"
#include "app/models/tickets.h"
#include "app/theme/theme.h"
#include "app/ticketbar/phrase_sheet.h"
#include "app/tray/add_sheet.h"
#include "app/tray/tray_metrics.h"
#include "app/tray/tray_strip.h"

#include <QDrag>
#include <QFileInfo>
#include <QMimeData>
#include <QPainter>
#include <QPointer>
#include <QUrl>

namespace yelvin {

namespace {
constexpr int between_words = 12, mark_width = 12;

QString words_of(const ErrandState& state) {
    return state.is == ErrandState::Is::Waits || state.is == ErrandState::Is::Runs ? errand_word(state.errand) + " …"
                                                                                   : errand_word(state.errand);
}
}

// Those that the person uses, and those that the ticket began.
QList<ErrandState> TrayStrip::errands_on(const QString& document_id) const {
    const std::string id = document_id.toStdString();
    if (!models_.errands.has_files(id)) return {};
    QList<ErrandState> out;
    const auto begun = models_.errands.of(id);
    for (const Errand errand : models_.errands.used()) {
        if (errand == Errand::OpenWith) continue; // which program is the ticket's to say
        out.append({errand, ErrandState::Is::Waits, "-"});
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

QList<TrayStrip::TabWord> TrayStrip::tab_words(const QString& document_id) const {
    const QFontMetrics metrics(theme::measure());
    QList<TabWord> words;
    int x = 0;
    if (const DocumentPtr document = growing(document_id)) {
        const QString said = growing_words(*document);
        return {{.words = said, .adds = true, .x = between_words, .width = metrics.horizontalAdvance(said)}};
    }
    const auto add = [&](const QString& said, bool waits) {
        words.append({.words = said,
                      .proposes = !waits,
                      .waits = waits,
                      .x = x + between_words,
                      .width = metrics.horizontalAdvance(said)});
        x += between_words + words.back().width;
    };
    if (models_.saving.is_asked_about(document_id.toStdString())) {
        add(tr("waits for your answer"), true);
        words.back().asks = true;
    }
    if (!models_.saving.why_waits(document_id.toStdString()).isEmpty()) add(tr("waits for its folder"), true);
    if (const auto names = proposals_for(document_id); !names.empty())
        add(names.size() == 1 ? tr("1 name") : tr("%1 names").arg(names.size()), false);
    for (const ErrandState& state : errands_on(document_id)) {
        const bool begun = state.why != "-";
        const QString said = begun ? words_of(state) : errand_word(state.errand);
        const bool marked = begun && (state.is == ErrandState::Is::Done || state.is == ErrandState::Is::Failed);
        x += between_words;
        words.append({.state = state,
                      .words = said,
                      .begun = begun,
                      .x = x,
                      .width = metrics.horizontalAdvance(said) + (marked ? mark_width : 0)});
        x += words.back().width;
    }
    return words;
}

int TrayStrip::words_width(const QString& document_id) const {
    const auto words = tab_words(document_id);
    return words.isEmpty() ? 0 : words.back().x + words.back().width;
}

// Each is a word to press, with a check or a cross in front once it is over.
void TrayStrip::paint_tab_words(QPainter& painter, const DocumentBox& box, int x) {
    const auto& c = theme::colours();
    painter.setFont(theme::measure());
    for (const TabWord& word : tab_words(box.id)) {
        const bool done = word.begun && word.state.is == ErrandState::Is::Done,
                   failed = word.begun && word.state.is == ErrandState::Is::Failed;
        int at = x + word.x;
        if (done) theme::icon("check", c.moss).paint(&painter, at - 2, 11, 11, 11);
        if (failed) {
            painter.setPen(QPen(c.brick, 1.5));
            painter.drawLine(at, 13, at + 7, 20);
            painter.drawLine(at + 7, 13, at, 20);
        }
        if (done || failed) at += mark_width;
        painter.setPen(failed || word.waits ? c.brick : done ? c.moss : word.proposes ? c.amber : c.plum);
        painter.drawText(QRect(at, 2, word.width + 4, tray::tab_height), Qt::AlignVCenter, word.words);
    }
}

const TrayStrip::DocumentBox* TrayStrip::box_at(QPoint at) const {
    const auto box = std::ranges::find_if(boxes_, [&](const auto& each) { return each.tab.contains(at); });
    return box == boxes_.end() ? nullptr : &*box;
}

std::optional<TrayStrip::TabWord> TrayStrip::tab_word_at(QPoint at) const {
    const DocumentBox* box = box_at(at);
    if (!box) return std::nullopt;
    const int x = words_begin(*box);
    for (const TabWord& word : tab_words(box->id))
        if (at.x() >= x + word.x - between_words / 2 && at.x() < x + word.x + word.width + between_words / 2)
            return word;
    return std::nullopt;
}

QRect TrayStrip::errand_rect(const QString& document_id, Errand errand) const {
    for (const DocumentBox& box : boxes_) {
        if (box.id != document_id) continue;
        for (const TabWord& word : tab_words(document_id))
            if (!word.proposes && !word.waits && word.state.errand == errand)
                return {words_begin(box) + word.x, 0, word.width, tray::tab_height};
    }
    return {};
}

QRect TrayStrip::add_rect(const QString& document_id) const {
    for (const DocumentBox& box : boxes_) {
        if (box.id != document_id) continue;
        for (const TabWord& word : tab_words(document_id))
            if (word.adds) return {words_begin(box) + word.x, 0, word.width, tray::tab_height};
    }
    return {};
}

DocumentPtr TrayStrip::growing(const QString& document_id) const {
    for (const DocumentPtr& each : models_.tray.tray().documents) {
        const bool is = QString::fromStdString(each->id) == document_id && each->part_of.ends_with(".pdf");
        if (is && !each->pages_to_add().empty()) return each;
    }
    return nullptr;
}

QString TrayStrip::growing_words(const Document& document) const {
    const auto count = document.pages_to_add().size();
    const QString file = QString::fromStdString(std::filesystem::path(document.part_of).filename().string());
    const QString shown = QFontMetrics(theme::measure()).elidedText(file, Qt::ElideMiddle, 180);
    return count == 1 ? tr("add its new page to %1").arg(shown) : tr("add %1 pages to %2").arg(count).arg(shown);
}

void TrayStrip::add_to_file(const QString& document_id) {
    const DocumentPtr document = growing(document_id);
    if (document) models_.saving.add(document->id, {document->part_of});
}

void TrayStrip::add_to_another(const QString& document_id, const QRect& anchor) {
    open_add_sheet(models_.saving, document_id.toStdString(), anchor, this);
}

void TrayStrip::begin_errand(const QString& document_id, Errand errand, const QRect& anchor) {
    const std::string id = document_id.toStdString();
    const auto states = models_.errands.of(id);
    const auto at = std::ranges::find(states, errand, &ErrandState::errand);
    const bool failed = at != states.end() && at->is == ErrandState::Is::Failed;
    const Errands::MailSaid mail = models_.errands.mail_said(id);
    if (errand != Errand::Mail || !failed || mail.fits) return models_.errands.begin(id, errand);
    // Too large: what to do is the person's.
    auto* sheet = new PhraseSheet(this);
    sheet->setObjectName("mail-sheet");
    sheet->add_heading(tr("Larger than one mail may be"));
    if (mail.fewer_dots)
        sheet->add_row(tr("with fewer dots: %1 dpi").arg(*mail.fewer_dots), tr("the saved file stays as it is"), false,
                       [this, id, dpi = *mail.fewer_dots] { models_.errands.mail_with_fewer_dots(id, dpi); });
    if (mail.mails > 1)
        sheet->add_row(tr("in %1 mails").arg(mail.mails), tr("each within the limit"), false,
                       [this, id] { models_.errands.mail_anyway(id, Mailing::Mails::AsManyAsItTakes); });
    sheet->add_row(tr("in one mail all the same"), tr("the server may send it back"), false,
                   [this, id] { models_.errands.mail_anyway(id, Mailing::Mails::One); });
    sheet->add_advice(tr("The limit is set under \"then …\" in the ticket."));
    sheet->open_under(anchor);
}

// The file itself, into another program's window.
bool TrayStrip::drag_out(const QString& document_id) {
    const QStringList files = models_.errands.files_of(document_id.toStdString());
    if (files.isEmpty() || !models_.errands.is_there(files.front())) return false;
    drag_files(files);
    return true;
}

void TrayStrip::drag_files(const QStringList& files) {
    auto* drag = new QDrag(this);
    auto* data = new QMimeData;
    QList<QUrl> urls;
    for (const QString& file : files) urls.append(QUrl::fromLocalFile(file));
    data->setUrls(urls);
    drag->setMimeData(data);
    const bool moved = !dragging_.isEmpty() || divider_moves_;
    pressed_divider_.clear();
    pressed_page_.clear();
    dragging_.clear();
    divider_moves_ = makes_files_ = choose_on_release_ = look_on_release_ = false;
    update();
    if (moved) emit dragging(false);
    drag->exec(Qt::CopyAction);
}

// The chosen ones of the document of the page that is dragged, as the ticket makes files.
void TrayStrip::make_dragged_pages() {
    const auto place = find_page(models_.tray.tray(), dragging_.toStdString());
    if (!place) return;
    const Document& document = *models_.tray.tray().documents[place->document];
    const auto folder = new_copies_folder(models_.errands.outside().copies_folder().toStdString());
    if (!folder) return emit said(QString::fromStdString(folder.error().sentence));
    Saving::Aside aside{models_.tickets.ticket(), *folder, models_.names.title_of(document).toStdString()};
    const auto& chosen = models_.choice.chosen();
    const bool several = chosen.contains(dragging_.toStdString());
    for (const PagePtr& page : document.pages)
        if (several ? chosen.contains(page->id) : page->id == dragging_.toStdString()) aside.of.push_back(page->id);
    if (aside.of.size() == 1) aside.name += tr(" page %1").arg(place->page + 1).toStdString();
    makes_files_ = true;
    emit said(tr("A file is being made to be dragged out; keep the button pressed."));
    models_.saving.make_aside(document.id, aside, [here = QPointer(this)](const Result<std::vector<MadeFile>>& made) {
        if (!here || !here->makes_files_) return; // let go before
        if (!made) {
            here->makes_files_ = false;
            return emit here->said(QString::fromStdString(made.error().sentence));
        }
        QStringList files;
        for (const MadeFile& file : *made) files.append(QString::fromStdString(file.path.string()));
        here->drag_files(files);
    });
}

}
