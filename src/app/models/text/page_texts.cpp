#include "app/models/text/page_texts.h"

#include "app/models/text/reading.h"
#include "app/models/threads/pools.h"
#include "app/models/tray/document_tickets.h"
#include "app/models/tray/looking.h"
#include "app/models/tray/out_tray.h"
#include "app/models/window/messages.h"
#include "jobs/trouble.h"

#include <algorithm>

namespace yelvin {

namespace {

constexpr qsizetype most_texts = 200; // in memory

ShownTextPtr shown_of(const PagePtr& page, const TextLayer& read) {
    auto shown = std::make_shared<ShownText>();
    shown->page = page;
    shown->text = text_with(read, page->text, lies_of(*page));
    shown->words = shown->text.words();
    for (size_t i = 0; i < shown->words.size(); ++i) {
        const Word& word = shown->word(i);
        if (word.confidence < doubtful_confidence && !shown->text.paragraphs[shown->words[i].paragraph].left_out)
            shown->doubtful.push_back(i);
        shown->said.push_back(word.text);
        if (i + 1 < shown->words.size() && joint(shown->text, shown->words[i], shown->words[i + 1]).hyphen_goes)
            shown->said.back().pop_back();
    }
    return shown;
}

}

PageTexts::PageTexts(Messages& messages, OutTray& tray, DocumentTickets& tickets, Reading& reading, Looking& looking,
                     Pools& pools, QObject* parent)
    : QObject(parent), messages_(messages), tray_(tray), tickets_(tickets), reading_(reading), looking_(looking),
      background_(pools.reading()), here_(on_thread_of(this)), stop_(pools.stop_token()) {
    connect(&tray_, &OutTray::text_kept, this, [this](const PagePtr& page) {
        const QString id = QString::fromStdString(page->id);
        if (kept_.remove(id) > 0) emit changed(id);
    });
    connect(&tray_, &OutTray::changed, this, &PageTexts::follow_tray);
    connect(&tickets_, &DocumentTickets::changed, this, &PageTexts::follow_tray);
}

// Emits a signal for the texts in the cache that have changed.
void PageTexts::follow_tray() {
    QStringList ids;
    for (auto at = kept_.begin(); at != kept_.end();) {
        const PagePtr page = tray_.page(at.key().toStdString());
        const bool same = page && at->shown && at->shown->page == page && at->languages == reading_.languages_of(*page);
        if (!same) ids.append(at.key());
        at = page ? std::next(at) : kept_.erase(at);
    }
    for (const QString& id : ids) emit changed(id);
}

ShownTextPtr PageTexts::of(const QString& page_id) {
    const PagePtr page = tray_.page(page_id.toStdString());
    if (!page) return nullptr;
    Kept& kept = kept_[page_id];
    kept.used = ++uses_;
    const std::string languages = reading_.languages_of(*page);
    if (kept.shown && kept.shown->page == page && kept.languages == languages) return kept.shown;
    if (!kept.read || kept.recipe != page->recipe || kept.languages != languages) {
        kept.read = tray_.text_of(*page, languages);
        kept.recipe = page->recipe;
        kept.languages = languages;
    }
    kept.shown = kept.read ? shown_of(page, *kept.read) : nullptr;
    ShownTextPtr shown = kept.shown;
    forget_oldest();
    return shown;
}

void PageTexts::forget_oldest() {
    if (kept_.size() <= most_texts) return;
    auto oldest = kept_.begin();
    for (auto at = kept_.begin(); at != kept_.end(); ++at)
        if (at->used < oldest->used) oldest = at;
    kept_.erase(oldest);
}

bool PageTexts::may_be_doubtful(const Page& page) const {
    return !page.text.empty() || reading_.doubtful_words(QString::fromStdString(page.id)) > 0;
}

int PageTexts::doubtful_left(const Document& document) {
    int left = 0;
    for (const PagePtr& page : document.kept_pages()) {
        const auto kept = kept_.constFind(QString::fromStdString(page->id));
        const bool is_shown = kept != kept_.constEnd() && kept->shown && kept->shown->page == page;
        left += is_shown ? static_cast<int>(kept->shown->doubtful.size())
                         : reading_.doubtful_words(QString::fromStdString(page->id));
    }
    return left;
}

// ---- changes by the user

void PageTexts::say(const PagePtr& page, TextEdits text, const QString& step) {
    if (text == page->text) return;
    Page changed = *page;
    changed.text = std::move(text);
    tray_.edit(with_page(tray_.tray(), std::make_shared<const Page>(std::move(changed))), step);
}

void PageTexts::put_right(const QString& page_id, size_t word, const QString& is) {
    const ShownTextPtr now = of(page_id);
    if (!now || word >= now->words.size()) return;
    const std::string typed = is.simplified().toStdString();
    const bool right = typed == now->word(word).text;
    if (right && now->word(word).confidence >= 100) return;
    say(now->page, with_word(now->page->text, now->text, lies_of(*now->page), now->words[word], typed),
        right ? tr("confirm word") : tr("correct word"));
}

void PageTexts::say_kind(const QString& page_id, size_t paragraph, ParagraphKind kind) {
    if (const ShownTextPtr now = of(page_id); now && paragraph < now->text.paragraphs.size())
        say(now->page, with_kind(now->page->text, now->text.paragraphs[paragraph], kind), tr("set paragraph type"));
}

void PageTexts::leave_out(const QString& page_id, size_t paragraph, bool out) {
    if (const ShownTextPtr now = of(page_id); now && paragraph < now->text.paragraphs.size())
        say(now->page, with_left_out(now->page->text, now->text.paragraphs[paragraph], out),
            out ? tr("leave out paragraph") : tr("bring back paragraph"));
}

void PageTexts::move_paragraph(const QString& page_id, size_t from, size_t to) {
    const ShownTextPtr now = of(page_id);
    if (!now || from == to || from >= now->text.paragraphs.size() || to >= now->text.paragraphs.size()) return;
    say(now->page, with_paragraph_moved(now->page->text, now->text, from, to), tr("move paragraph"));
}

void PageTexts::read_again(const QString& page_id, const std::vector<std::string>& languages, Corrections corrections) {
    const PagePtr page = tray_.page(page_id.toStdString());
    if (!page) return;
    TextEdits text = corrections == Corrections::Keep ? page->text : with_reading_given_up(page->text);
    text.languages = languages;
    say(page, std::move(text), tr("read page again"));
}

void PageTexts::read_paragraph(const QString& page_id, size_t paragraph, const std::string& language) {
    const ShownTextPtr now = of(page_id);
    PageLooker* looker = looking_.looker();
    if (!now || !looker || paragraph >= now->text.paragraphs.size()) return;
    background_([this, now, paragraph, language, looker] {
        const TextParagraph& about = now->text.paragraphs[paragraph];
        auto read = caught("reading a paragraph",
                           [&] { return looker->read_part(now->page, now->text.layer, about.box, {language}, stop_); });
        here_([this, now, about, read = std::move(read)] {
            const PagePtr page = tray_.page(now->page->id);
            if (!read && read.error().kind != ErrorKind::Stopped) return messages_.complain(read.error());
            if (!read || !page) return;
            if (read->lines.empty()) return messages_.complain(tr("No text was found there in this language."));
            say(page, with_part_read(page->text, about, {now->page->recipe, *read}), tr("read paragraph again"));
        });
    });
}

}
