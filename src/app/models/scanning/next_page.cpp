#include "app/models/scanning/next_page.h"

#include "app/models/naming/document_names.h"
#include "app/models/tray/out_tray.h"
#include "app/models/window/last_choices.h"

namespace yelvin {

namespace {
constexpr const char* kept_as = "the next page goes on in"; // a document's id
constexpr const char *new_one = "a new document", *nothing = "";
}

NextPage::NextPage(LastChoices& last, OutTray& tray, const DocumentNames& names, QObject* parent)
    : QObject(parent), last_(last), tray_(tray), names_(names) {
    tray_.when_loaded([this] {
        restore();
        connect(&tray_, &OutTray::changed, this, &NextPage::keep);
    });
}

void NextPage::restore() {
    const auto kept = last_.get<std::string>(kept_as, nothing);
    const auto& documents = tray_.tray().documents;
    if (documents.empty()) return;
    if (kept == new_one || kept == documents.back()->id) tray_.set_next_page_starts_document(kept == new_one);
}

void NextPage::keep() {
    const auto asked = tray_.asked_for_next_page();
    const std::string now = asked == OutTray::Asked::NewDocument    ? new_one
                            : asked == OutTray::Asked::LastDocument ? tray_.tray().documents.back()->id
                                                                    : nothing;
    if (last_.get<std::string>(kept_as, nothing) != now) last_.set(kept_as, now);
}

QString NextPage::title_of_last() const {
    const Document& last = *tray_.tray().documents.back();
    return last.saved_as.empty() ? names_.title_of(last)
                                 : QString::fromStdString(std::filesystem::path(last.saved_as).stem().string());
}

bool NextPage::can_change() const { return !tray_.tray().documents.empty() && !tray_.landing(); }

void NextPage::change() {
    if (can_change()) tray_.set_next_page_starts_document(!tray_.next_page_starts_document());
}

QString NextPage::words(const std::function<QString(const QString& name)>& shortened) const {
    const auto& documents = tray_.tray().documents;
    if (const auto& landing = tray_.landing()) {
        const auto at = find_page(tray_.tray(), landing->page);
        const auto number = at ? at->page + 1 : 0;
        if (landing->how == Landing::How::Instead) return tr("in place of page %1").arg(number);
        return landing->how == Landing::How::Before ? tr("before page %1").arg(number)
                                                    : tr("after page %1").arg(number);
    }
    if (documents.empty() || tray_.next_page_starts_document()) return tr("a new document");
    const QString name = shortened ? shortened(title_of_last()) : title_of_last();
    return tr("page %1 of %2").arg(documents.back()->kept_pages().size() + 1).arg(name);
}

QString NextPage::advice() const {
    if (!can_change()) return tr("Where the next page goes");
    const bool starts = tray_.next_page_starts_document();
    return starts ? tr("The next page starts a new document; click to add it to %1 instead").arg(title_of_last())
                  : tr("Where the next page goes; click to start a new document instead");
}

}
