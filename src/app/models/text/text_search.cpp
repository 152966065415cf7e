#include "app/models/text/text_search.h"

#include "app/models/text/page_walk.h"
#include "app/models/tray/choice.h"
#include "app/models/tray/out_tray.h"

#include <algorithm>

namespace yelvin {

QString folded(const QString& words) {
    QString out;
    for (const QChar c : words.normalized(QString::NormalizationForm_KD).toCaseFolded())
        if (c.category() != QChar::Mark_NonSpacing) out.append(c);
    return out;
}

std::vector<TextChoice::Stretch> places_of(const QString& words, const ShownText& text) {
    std::vector<TextChoice::Stretch> places;
    const QString wanted = folded(words.simplified());
    if (wanted.isEmpty()) return places;
    // The whole text, and the index of the word that each character belongs to.
    QString all;
    std::vector<size_t> word_at;
    for (size_t i = 0; i < text.words.size(); ++i) {
        all += folded(QString::fromStdString(text.said[i]));
        const bool ends =
            i + 1 < text.words.size() && !joint(text.text, text.words[i], text.words[i + 1]).between.empty();
        if (ends) all += ' ';
        word_at.resize(static_cast<size_t>(all.size()), i);
    }
    for (qsizetype at = all.indexOf(wanted); at >= 0; at = all.indexOf(wanted, at + wanted.size()))
        places.push_back({word_at[static_cast<size_t>(at)], word_at[static_cast<size_t>(at + wanted.size() - 1)]});
    return places;
}

TextSearch::TextSearch(OutTray& tray, Choice& choice, PageTexts& texts, TextChoice& words, QObject* parent)
    : QObject(parent), tray_(tray), choice_(choice), texts_(texts), choice_of_words_(words) {
    connect(&choice_, &Choice::changed, this, &TextSearch::mark);
    connect(&texts_, &PageTexts::changed, this, [this](const QString& id) {
        if (words_.isEmpty()) return;
        // The indices of the page's words have changed.
        const auto of_page = std::ranges::find(matches_, id, &Match::page_id);
        if (of_page == matches_.end()) return;
        const qsizetype page = of_page->page;
        std::erase_if(matches_, [&](const Match& match) { return match.page_id == id; });
        at_ = -1;
        take(page, id, Then::Stay);
    });
}

void TextSearch::look_for(const QString& words) {
    delete walk_;
    words_ = words.simplified();
    matches_.clear();
    at_ = -1;
    const auto place = find_page(tray_.tray(), choice_.current_id().toStdString());
    QStringList ids;
    if (place && !words_.isEmpty())
        for (const PagePtr& page : tray_.tray().documents[place->document]->kept_pages())
            ids.append(QString::fromStdString(page->id));
    const qsizetype from = std::max<qsizetype>(0, ids.indexOf(choice_.current_id()));
    QStringList turned = ids.mid(from) + ids.first(from);
    if (!turned.isEmpty())
        walk_ = new PageWalk(
            turned, [this, ids](const QString& id) { take(ids.indexOf(id), id, Then::Show); },
            [this] {
                walk_ = nullptr;
                emit changed();
            },
            this);
    mark();
    emit changed();
}

void TextSearch::take(qsizetype page, const QString& page_id, Then then) {
    const ShownTextPtr text = texts_.of(page_id);
    if (!text) return;
    std::vector<Match> found;
    for (const auto& words : places_of(words_, *text)) found.push_back({page, page_id, words});
    if (found.empty()) return emit changed();
    const auto behind = std::ranges::find_if(matches_, [&](const Match& match) { return match.page > page; });
    const auto first = static_cast<int>(behind - matches_.begin());
    matches_.insert(behind, found.begin(), found.end());
    if (at_ >= first) at_ += static_cast<int>(found.size());
    if (page_id == choice_.current_id()) mark();
    if (at_ < 0 && then == Then::Show)
        show(first);
    else
        emit changed();
}

void TextSearch::mark() {
    std::vector<TextChoice::Stretch> here;
    for (const Match& match : matches_)
        if (match.page_id == choice_.current_id()) here.push_back(match.words);
    if (!here.empty() || !choice_of_words_.found().empty()) choice_of_words_.mark_found(std::move(here));
}

void TextSearch::show(int match) {
    at_ = match;
    const Match shown = matches_[static_cast<size_t>(match)];
    if (shown.page_id != choice_.current_id()) choice_.set_current(shown.page_id);
    choice_of_words_.stretch_over(shown.words);
    emit changed();
}

void TextSearch::next(int step) {
    if (matches_.empty()) return;
    const int all = count();
    show(at_ < 0 ? 0 : (at_ + step + all) % all);
}

void TextSearch::end() {
    delete walk_;
    words_.clear();
    matches_.clear();
    at_ = -1;
    choice_of_words_.mark_found({});
    emit changed();
}

}
