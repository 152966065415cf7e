#include "app/models/text/text_choice.h"

#include "app/models/tray/choice.h"
#include "app/models/tray/out_tray.h"

#include <algorithm>

namespace yelvin {

TextChoice::TextChoice(OutTray& tray, Choice& choice, PageTexts& texts, QObject* parent)
    : QObject(parent), tray_(tray), choice_(choice), texts_(texts) {
    connect(&choice_, &Choice::changed, this, &TextChoice::follow);
    connect(&texts_, &PageTexts::changed, this, [this](const QString& id) {
        if (id == page_id_) follow();
    });
}

ShownTextPtr TextChoice::shown() { return texts_.of(choice_.current_id()); }

// Clears the chosen word if another page is shown or if the word no longer exists.
void TextChoice::follow() {
    const bool other = std::exchange(page_id_, choice_.current_id()) != choice_.current_id();
    const ShownTextPtr now = shown();
    const size_t words = now ? now->words.size() : 0;
    const auto gone = [&](const std::optional<Stretch>& stretch) { return stretch && stretch->last >= words; };
    if (other || (word_ && *word_ >= words)) word_.reset();
    for (auto* stretch : {&stretch_, &spoken_})
        if (other || gone(*stretch)) stretch->reset();
    std::erase_if(found_, [&](const Stretch& stretch) { return other || stretch.last >= words; });
    emit changed();
}

void TextChoice::choose(size_t word) {
    word_ = word;
    stretch_.reset();
    emit changed();
}

void TextChoice::choose_none() {
    if (!word_ && !stretch_) return;
    word_.reset();
    stretch_.reset();
    emit changed();
}

bool TextChoice::next_doubtful(int step) {
    const auto place = find_page(tray_.tray(), choice_.current_id().toStdString());
    if (!place) return false;
    const auto pages = tray_.tray().documents[place->document]->kept_pages();
    const auto at = std::ranges::find(pages, choice_.current_id().toStdString(), &Page::id) - pages.begin();
    const auto count = static_cast<ptrdiff_t>(pages.size());
    if (count == 0) return false; // all of the document's pages are left out
    // The current page is visited a second time at the end, for the words before the chosen one.
    for (ptrdiff_t away = 0; away <= count; ++away) {
        const PagePtr& page = pages[static_cast<size_t>(((at + step * away) % count + count) % count)];
        if (away > 0 && !texts_.may_be_doubtful(*page)) continue;
        const QString id = QString::fromStdString(page->id);
        const ShownTextPtr text = texts_.of(id);
        if (!text) continue;
        std::optional<size_t> next;
        for (const size_t word : text->doubtful) {
            const bool behind = away > 0 || !word_ || (step > 0 ? word > *word_ : word < *word_);
            if (behind && (step < 0 || !next)) next = word;
        }
        if (!next) continue;
        if (id != choice_.current_id()) choice_.set_current(id);
        choose(*next);
        return true;
    }
    return false;
}

void TextChoice::put_right(const QString& is) {
    if (!word_) return;
    const size_t word = *word_, words = shown() ? shown()->words.size() : 0;
    texts_.put_right(choice_.current_id(), word, is);
    const ShownTextPtr now = shown();
    // If the word was replaced by none or several, the search continues after its replacement.
    const size_t became = now ? now->words.size() + 1 - std::min(words, now->words.size() + 1) : 1;
    if (became > 0) word_ = word + became - 1;
    if (became == 0) word_ = word > 0 ? std::optional(word - 1) : std::nullopt;
    if (!next_doubtful(1)) choose_none();
}

void TextChoice::step(int by) {
    const ShownTextPtr now = shown();
    if (!now || now->words.empty()) return;
    const auto last = static_cast<ptrdiff_t>(now->words.size()) - 1;
    const auto from = word_ ? static_cast<ptrdiff_t>(*word_) : (by > 0 ? -1 : last + 1);
    choose(static_cast<size_t>(std::clamp<ptrdiff_t>(from + by, 0, last)));
}

// ---- ranges of words

void TextChoice::stretch_from(size_t word) {
    stretch_from_ = stretch_to_ = word;
    word_.reset();
    stretch_ = Stretch{word, word};
    emit changed();
}

void TextChoice::stretch_to(size_t word) {
    const Stretch to{std::min(stretch_from_, word), std::max(stretch_from_, word)};
    if (stretch_ && stretch_->first == to.first && stretch_->last == to.last) return;
    word_.reset();
    stretch_ = to;
    stretch_to_ = word;
    emit changed();
}

void TextChoice::stretch_on(int by) {
    const ShownTextPtr now = shown();
    if (!now || now->words.empty() || !stretch_) return;
    const auto last = static_cast<ptrdiff_t>(now->words.size()) - 1;
    stretch_to(static_cast<size_t>(std::clamp<ptrdiff_t>(static_cast<ptrdiff_t>(stretch_to_) + by, 0, last)));
}

void TextChoice::stretch_over_paragraph(size_t word) {
    const ShownTextPtr now = shown();
    if (!now || word >= now->words.size()) return;
    const auto same = [&](const WordPlace& other) { return other.paragraph == now->words[word].paragraph; };
    const auto first = std::ranges::find_if(now->words, same);
    stretch_from(static_cast<size_t>(first - now->words.begin()));
    stretch_to(stretch_from_ + static_cast<size_t>(std::ranges::count_if(now->words, same)) - 1);
}

void TextChoice::stretch_over_all() {
    const ShownTextPtr now = shown();
    if (!now || now->words.empty()) return;
    stretch_from(0);
    stretch_to(now->words.size() - 1);
}

QString TextChoice::copied() {
    const ShownTextPtr now = shown();
    if (!now || (!stretch_ && !word_)) return {};
    const Stretch what = stretch_ ? *stretch_ : Stretch{*word_, *word_};
    return QString::fromStdString(running_text(now->text, what.first, what.last));
}

void TextChoice::stretch_over(Stretch what) {
    stretch_from(what.first);
    stretch_to(what.last);
}

void TextChoice::mark_found(std::vector<Stretch> found) {
    found_ = std::move(found);
    emit changed();
}

void TextChoice::point_at(std::optional<size_t> paragraph) {
    if (std::exchange(pointed_at_, paragraph) != paragraph) emit pointed();
}

void TextChoice::mark_spoken(std::optional<Stretch> spoken) {
    spoken_ = spoken;
    emit changed();
}

}
