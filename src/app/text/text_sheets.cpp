// The part of TextLook for its sheets and keys.
#include "app/keys.h"
#include "app/models/text/reading.h"
#include "app/models/tray/choice.h"
#include "app/models/tray/document_tickets.h"
#include "app/models/tray/out_tray.h"
#include "app/text/text_look.h"
#include "app/text/text_on_page.h"
#include "app/text/word_slip.h"
#include "app/theme/phrase_sheet.h"
#include "core/text/languages.h"
#include "jobs/page_looker.h"

#include <QKeyEvent>
#include <QPushButton>

#include <algorithm>

namespace yelvin {

void TextLook::open_paragraph_sheet(size_t paragraph, const QRect& anchor) {
    const ShownTextPtr text = models_.words.shown();
    if (!text || paragraph >= text->text.paragraphs.size()) return;
    const TextParagraph about = text->text.paragraphs[paragraph];
    const QString id = QString::fromStdString(text->page->id);
    auto* sheet = new PhraseSheet(this);
    sheet->setObjectName("paragraph-sheet");
    sheet->add_heading(tr("Paragraph %1").arg(paragraph + 1));
    sheet->add_row(about.left_out ? tr("bring back") : tr("leave out"), tr("from all copies and files"), false,
                   [this, id, paragraph, about] { models_.texts.leave_out(id, paragraph, !about.left_out); });
    if (paragraph > 0)
        sheet->add_row(tr("move up"), with_key(tr("or drag its number"), Do::MoveParagraph), false,
                       [this, id, paragraph] { models_.texts.move_paragraph(id, paragraph, paragraph - 1); });
    if (paragraph + 1 < text->text.paragraphs.size())
        sheet->add_row(tr("move down"), {}, false,
                       [this, id, paragraph] { models_.texts.move_paragraph(id, paragraph, paragraph + 1); });
    sheet->add_heading(tr("Paragraph type"));
    const std::pair<ParagraphKind, QString> kinds[] = {{ParagraphKind::Heading, tr("a heading")},
                                                       {ParagraphKind::Paragraph, tr("text")},
                                                       {ParagraphKind::ListItem, tr("part of a list")},
                                                       {ParagraphKind::Table, tr("a table")}};
    for (const auto& [kind, words] : kinds)
        sheet->add_row(words, {}, about.kind == kind,
                       [this, id, paragraph, kind = kind] { models_.texts.say_kind(id, paragraph, kind); });
    sheet->add_heading(tr("Read it again in"));
    for (const std::string& language : models_.reading.installed_languages())
        sheet->add_row(QString::fromStdString(language_words(language)), {}, about.language == language,
                       [this, id, paragraph, language] { models_.texts.read_paragraph(id, paragraph, language); });
    sheet->open_under(anchor);
}

void TextLook::open_again_sheet() {
    const PagePtr page = models_.choice.current();
    if (!page) return;
    auto* sheet = new PhraseSheet(this);
    sheet->setObjectName("again-sheet");
    sheet->add_heading(tr("Read this page again in"));
    const std::string now = models_.reading.languages_of(*page);
    const auto row = [&](const QString& words, const QString& advice, const std::vector<std::string>& languages) {
        sheet->add_row(words, advice, now == joined(languages), [this, languages] { read_again(languages); });
    };
    if (!page->text.languages.empty() && !models_.document_tickets.of_page(page->id).read.languages.empty())
        sheet->add_row(tr("as in the ticket"), {}, false, [this] { read_again({}); });
    if (models_.tray.text_of(*page, std::string(own_words)))
        row(tr("do not read"), tr("use the text in the file"), {std::string(own_words)});
    row(tr("detect the language"), tr("of the installed languages"), {std::string(automatic_language)});
    for (const std::string& language : models_.reading.installed_languages())
        row(QString::fromStdString(language_words(language)), {}, {language});
    sheet->add_advice(tr("More languages: packages tesseract-ocr-…"));
    sheet->open_under({again_->mapToGlobal(QPoint(0, 0)), again_->size()});
}

// Asks before the user's corrections are discarded.
void TextLook::read_again(const std::vector<std::string>& languages) {
    const PagePtr page = models_.choice.current();
    if (!page) return;
    const QString id = models_.choice.current_id();
    const bool said_something = with_reading_given_up(page->text) != page->text;
    if (!said_something) return models_.texts.read_again(id, languages, PageTexts::Corrections::Keep);
    const int words = page->text.corrections();
    auto* sheet = new PhraseSheet(this);
    sheet->setObjectName("corrections-sheet");
    sheet->add_heading(words == 0   ? tr("You corrected paragraphs on this page")
                       : words == 1 ? tr("You corrected 1 word on this page")
                                    : tr("You corrected %1 words on this page").arg(words));
    sheet->add_row(tr("keep them"), tr("applied to the new text"), false,
                   [this, id, languages] { models_.texts.read_again(id, languages, PageTexts::Corrections::Keep); });
    sheet->add_row(tr("discard them"), tr("Ctrl+Z undoes it"), false,
                   [this, id, languages] { models_.texts.read_again(id, languages, PageTexts::Corrections::GiveUp); });
    sheet->add_advice(tr("Esc: the text stays as it is."));
    sheet->open_under({again_->mapToGlobal(QPoint(0, 0)), again_->size()});
}

// ---- keys

std::optional<size_t> TextLook::chosen_paragraph() {
    const ShownTextPtr text = models_.words.shown();
    const auto word = models_.words.word()      ? models_.words.word()
                      : models_.words.stretch() ? std::optional(models_.words.stretch()->first)
                                                : std::nullopt;
    return text && word && *word < text->words.size() ? std::optional(text->words[*word].paragraph) : std::nullopt;
}

bool TextLook::take_paragraph_key(const QKeyEvent& key) {
    const bool menu = key.key() == Qt::Key_Menu || (key.key() == Qt::Key_F10 && key.modifiers() == Qt::ShiftModifier);
    const bool moves = key.modifiers() == Qt::AltModifier && (key.key() == Qt::Key_Up || key.key() == Qt::Key_Down);
    const auto paragraph = menu || moves ? chosen_paragraph() : std::nullopt;
    if (!paragraph) return false;
    if (menu) {
        const QRectF at = on_page_->number_rect(*paragraph);
        open_paragraph_sheet(*paragraph, {page_->mapToGlobal(at.topLeft().toPoint()), at.size().toSize()});
        return true;
    }
    const size_t word = models_.words.word().value_or(models_.words.stretch() ? models_.words.stretch()->first : 0);
    const ShownTextPtr before = models_.words.shown();
    if (key.key() == Qt::Key_Up && *paragraph == 0) return true;
    models_.texts.move_paragraph(QString::fromStdString(before->page->id), *paragraph,
                                 key.key() == Qt::Key_Up ? *paragraph - 1 : *paragraph + 1);
    // The same word remains chosen, although its index may have changed.
    const ShownTextPtr after = models_.words.shown();
    for (size_t i = 0; after && i < after->words.size(); ++i)
        if (after->word(i).box == before->word(word).box) return models_.words.choose(i), true;
    return true;
}

void TextLook::extend(int by) {
    const ShownTextPtr text = models_.words.shown();
    if (!text || text->words.empty()) return;
    if (const auto word = models_.words.word()) models_.words.stretch_from(*word);
    models_.words.stretch_on(by);
}

bool TextLook::take_key(const QKeyEvent& key, bool in_slip) {
    if (take_paragraph_key(key)) return true;
    const bool shift = key.modifiers() == Qt::ShiftModifier, plain = key.modifiers() == Qt::NoModifier;
    const bool up = key.key() == Qt::Key_Up, down = key.key() == Qt::Key_Down;
    if (in_slip) {
        if (plain && (up || down)) return models_.words.step(up ? -1 : 1), true;
        if (shift && (up || down)) return extend(up ? -1 : 1), true;
        return false;
    }
    if (key.key() == Qt::Key_Tab && plain) return models_.words.next_doubtful(1);
    if (key.key() == Qt::Key_Backtab) return models_.words.next_doubtful(-1);
    if (plain && (key.key() == Qt::Key_Return || key.key() == Qt::Key_Enter)) {
        if (const auto stretch = models_.words.stretch()) return models_.words.choose(stretch->first), true;
        if (!models_.words.next_doubtful(1)) models_.words.step(1);
        return true;
    }
    if (key.matches(QKeySequence::Copy)) return copy(), true;
    if (key.matches(QKeySequence::SelectAll)) return models_.words.stretch_over_all(), true;
    if (shift && models_.words.stretch()) {
        const bool left = key.key() == Qt::Key_Left, right = key.key() == Qt::Key_Right;
        if (up || down || left || right) return extend(up || left ? -1 : 1), true;
    }
    return false;
}

bool TextLook::eventFilter(QObject* watched, QEvent* event) {
    const bool in_slip = watched == &slip_->entry();
    if (event->type() == QEvent::ShortcutOverride && !in_slip) {
        const auto* key = static_cast<QKeyEvent*>(event);
        if (key->matches(QKeySequence::SelectAll) || key->matches(QKeySequence::Copy)) {
            event->accept();
            return true;
        }
    }
    if (event->type() == QEvent::KeyPress && take_key(*static_cast<QKeyEvent*>(event), in_slip)) return true;
    return QWidget::eventFilter(watched, event);
}

}
