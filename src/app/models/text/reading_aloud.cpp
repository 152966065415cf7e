#include "app/models/text/reading_aloud.h"

#include "app/models/tray/choice.h"
#include "app/models/tray/out_tray.h"

#include <algorithm>

namespace yelvin {

TextChoice::Stretch sentence_from(const ShownText& text, size_t first) {
    constexpr size_t breath = 40; // words
    const auto ends = [&](size_t word) {
        const std::string& said = text.said[word];
        const bool last = word + 1 == text.words.size() || text.words[word + 1].paragraph != text.words[word].paragraph;
        return last || (said.size() > 2 && std::string_view(".!?:;").find(said.back()) != std::string_view::npos);
    };
    size_t last = first;
    while (!ends(last) && last - first < breath) ++last;
    return {first, last};
}

ReadingAloud::ReadingAloud(OutTray& tray, Choice& choice, TextChoice& words, std::unique_ptr<Voice> voice,
                           QObject* parent)
    : QObject(parent), tray_(tray), choice_(choice), words_(words), voice_(std::move(voice)) {
    connect(voice_.get(), &Voice::found, this, &ReadingAloud::changed);
    connect(voice_.get(), &Voice::ended, this, [this] {
        if (speaks_) go_on();
    });
    connect(&choice_, &Choice::changed, this, [this] {
        // The user chose another page than the one that is read aloud.
        const ShownTextPtr now = words_.shown();
        if (speaks_ && !turns_page_ && (!now || !words_.spoken())) stop();
    });
}

void ReadingAloud::begin() {
    if (!has_voice()) return;
    next_ = words_.word() ? *words_.word() : words_.stretch() ? words_.stretch()->first : 0;
    speaks_ = true;
    go_on();
}

void ReadingAloud::stop() {
    if (!std::exchange(speaks_, false)) return;
    voice_->stop();
    words_.mark_spoken(std::nullopt);
    emit changed();
}

bool ReadingAloud::turn_page() {
    const auto place = find_page(tray_.tray(), choice_.current_id().toStdString());
    if (!place) return false;
    const auto pages = tray_.tray().documents[place->document]->kept_pages();
    auto at = std::ranges::find(pages, choice_.current_id().toStdString(), &Page::id);
    if (at == pages.end() || ++at == pages.end()) return false;
    turns_page_ = true;
    choice_.set_current(QString::fromStdString((*at)->id));
    turns_page_ = false;
    next_ = 0;
    return true;
}

void ReadingAloud::go_on() {
    while (true) {
        const ShownTextPtr text = words_.shown();
        const auto left_out = [&](size_t word) { return text->text.paragraphs[text->words[word].paragraph].left_out; };
        while (text && next_ < text->words.size() && left_out(next_)) ++next_;
        if (!text || next_ >= text->words.size()) {
            if (turn_page()) continue;
            return stop();
        }
        const TextChoice::Stretch sentence = sentence_from(*text, next_);
        next_ = sentence.last + 1;
        words_.mark_spoken(sentence);
        emit changed();
        return voice_->say(QString::fromStdString(running_text(text->text, sentence.first, sentence.last)),
                           text->text.layer.lines[text->words[sentence.first].line].language);
    }
}

}
