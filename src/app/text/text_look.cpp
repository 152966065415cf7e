#include "app/text/text_look.h"

#include "app/keys.h"
#include "app/models/text/page_walk.h"
#include "app/models/text/reading.h"
#include "app/models/text/reading_aloud.h"
#include "app/models/text/text_search.h"
#include "app/models/tray/choice.h"
#include "app/models/tray/document_tickets.h"
#include "app/models/tray/out_tray.h"
#include "app/models/tray/pictures.h"
#include "app/models/window/messages.h"
#include "app/text/find_bar.h"
#include "app/text/text_column.h"
#include "app/text/text_on_page.h"
#include "app/text/word_slip.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "core/text/languages.h"
#include "core/text/text_places.h"
#include "jobs/page_looker.h"

#include <QApplication>
#include <QClipboard>
#include <QHBoxLayout>
#include <QPointer>
#include <QPushButton>
#include <QScrollBar>
#include <QVBoxLayout>

namespace yelvin {

namespace {
QString copied_words(int words, qsizetype pages, int unread) {
    if (unread == 1) return TextLook::tr("%1 words were copied; 1 page has not been read.").arg(words);
    if (unread > 1) return TextLook::tr("%1 words were copied; %2 pages have not been read.").arg(words).arg(unread);
    if (words == 1) return TextLook::tr("1 word was copied.");
    return pages == 1 ? TextLook::tr("%1 words were copied.").arg(words)
                      : TextLook::tr("%1 words of %2 pages were copied.").arg(words).arg(pages);
}
}

TextLook::TextLook(const TextModels& models, const PageView::Around& around, QWidget* parent)
    : QWidget(parent), models_(models) {
    setObjectName("text");
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    page_ = new PageView(around, this);
    page_->setObjectName("text-page");
    on_page_ = new TextOnPage(*page_, models_.words, models_.texts);
    slip_ = new WordSlip(page_);
    row->addWidget(page_, 47);
    row->addWidget(make_right(), 53);
    setFocusProxy(page_);
    for (QObject* each : std::initializer_list<QObject*>{page_, column_, &slip_->entry()})
        each->installEventFilter(this);
    join();
}

QWidget* TextLook::make_right() {
    auto* right = new QWidget(this);
    right->setObjectName("text-right");
    const auto& c = theme::colours();
    right->setStyleSheet(
        QString("QWidget#text-right { background: %1; border-left: 1px solid %2; } QWidget#text-foot { "
                "border-top: 1px solid %2; }")
            .arg(c.paper.name(), c.hairline.name()));
    right->setMinimumWidth(380);
    auto* column = new QVBoxLayout(right);
    column->setContentsMargins(1, 0, 0, 0);
    column->setSpacing(0);
    column_ = new TextColumn(models_.words, right);
    column->addWidget(column_, 1);
    auto* foot = new QWidget(right);
    foot->setObjectName("text-foot");
    foot->setFixedHeight(39);
    auto* line = new QHBoxLayout(foot);
    line->setContentsMargins(32, 1, 16, 0);
    links_ = make_links(foot);
    find_bar_ = new FindBar(models_.search, foot);
    find_bar_->hide();
    line->addWidget(links_);
    line->addWidget(find_bar_);
    column->addWidget(foot);
    return right;
}

QWidget* TextLook::make_links(QWidget* parent) {
    auto* made = new QWidget(parent);
    auto* row = new QHBoxLayout(made);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(14);
    const auto link = [&](const QString& words, const char* name, const QString& tip) {
        auto* button = theme::link(words, name, made);
        button->setToolTip(tip);
        row->addWidget(button);
        return button;
    };
    copy_all_ =
        link(tr("copy all"), "copy-all", tr("Copies the text of the document; Ctrl+C copies the selected text"));
    find_ =
        link(tr("find in this document"), "find", with_key(tr("Searches the text of all its pages"), Do::FindInText));
    aloud_ = link(tr("read aloud"), "read-aloud", with_key(tr("From the selected word on"), Do::ReadAloud));
    again_ = link(tr("read again in …"), "read-again", tr("Reads this page again in other languages"));
    row->addStretch();
    connect(copy_all_, &QPushButton::clicked, this, &TextLook::copy_all);
    connect(find_, &QPushButton::clicked, this, &TextLook::find);
    connect(aloud_, &QPushButton::clicked, this, &TextLook::read_aloud);
    connect(again_, &QPushButton::clicked, this, &TextLook::open_again_sheet);
    return made;
}

void TextLook::join() {
    connect(&models_.words, &TextChoice::changed, this, &TextLook::follow);
    connect(&models_.reading, &Reading::changed, this, &TextLook::say_why_not);
    connect(&models_.aloud, &ReadingAloud::changed, this, &TextLook::follow);
    connect(page_, &PageView::moved, this, &TextLook::follow_page);
    connect(page_, &PageView::zoom_changed, this, &TextLook::follow_page);
    connect(column_, &TextColumn::scrolled, this, &TextLook::follow_column);
    connect(column_, &TextColumn::action_wanted, this, &TextLook::do_what_helps);
    connect(column_, &TextColumn::paragraph_pressed, this, &TextLook::open_paragraph_sheet);
    connect(on_page_, &TextOnPage::paragraph_pressed, this, &TextLook::open_paragraph_sheet);
    connect(slip_, &WordSlip::said, &models_.words, &TextChoice::put_right);
    connect(slip_, &WordSlip::walked, this, [this](int step) {
        if (!models_.words.next_doubtful(step)) models_.words.choose_none();
    });
    connect(find_bar_, &FindBar::closed, this, [this] { step_out(); });
}

// ---- what is shown

void TextLook::showEvent(QShowEvent*) {
    models_.aloud.look_for_voice();
    follow();
}
void TextLook::hideEvent(QHideEvent*) { take_what_was_typed(); }
void TextLook::resizeEvent(QResizeEvent*) { follow_page(); }

void TextLook::follow() {
    if (!isVisible()) return;
    const ShownTextPtr text = models_.words.shown();
    for (QPushButton* link : {copy_all_, find_}) link->setEnabled(text != nullptr);
    again_->setEnabled(models_.choice.current() != nullptr);
    aloud_->setVisible(models_.aloud.has_voice());
    aloud_->setEnabled(text != nullptr);
    aloud_->setText(models_.aloud.speaks() ? tr("stop reading aloud") : tr("read aloud"));
    follow_page();
    follow_slip();
    if (const auto stretch = models_.words.stretch(); stretch && stretch->last == stretch->first)
        column_->show_word(stretch->first);
    if (const auto spoken = models_.words.spoken()) column_->show_word(spoken->first);
    say_why_not();
}

void TextLook::follow_page() {
    const ShownTextPtr text = models_.words.shown();
    const double sheet = page_->sheet_rect().top();
    std::vector<double> tops;
    for (size_t i = 0; text && i < text->text.paragraphs.size(); ++i)
        tops.push_back(on_page_->paragraph_rect(i).top() - sheet);
    const bool larger = page_->sheet_rect().height() > page_->height();
    column_->set_page(tops, larger ? 0 : sheet);
    if (larger && !syncing_ && !tops.empty()) {
        // The paragraph in the middle of the page view is aligned with its text.
        syncing_ = true;
        size_t middle = 0;
        for (size_t i = 0; i < tops.size(); ++i)
            if (tops[i] + sheet < page_->height() / 2.0) middle = i;
        column_->verticalScrollBar()->setValue(
            static_cast<int>(column_->paragraph_top(middle) - (tops[middle] + sheet)));
        syncing_ = false;
    }
    if (slipped_ && slip_->isVisible()) slip_->stand_at(on_page_->word_rect(slipped_->word));
}

void TextLook::follow_column() {
    const ShownTextPtr text = models_.words.shown();
    if (syncing_ || !text || page_->sheet_rect().height() <= page_->height()) return;
    const int first = column_->paragraph_in_view();
    if (first < 0) return;
    syncing_ = true;
    const auto paragraph = static_cast<size_t>(first);
    const double top = on_page_->paragraph_rect(paragraph).top() - page_->sheet_rect().top();
    page_->scroll_to(top - (column_->paragraph_top(paragraph) - column_->verticalScrollBar()->value()));
    if (slipped_ && slip_->isVisible()) slip_->stand_at(on_page_->word_rect(slipped_->word));
    syncing_ = false;
}

// Applies the typed text when the user moves on to another word, page or view. Only Esc discards it.
void TextLook::take_what_was_typed() {
    const auto typed = slipped_ ? slip_->take_typed() : std::nullopt;
    if (!typed) return;
    const Slipped about = *std::exchange(slipped_, {});
    const ShownTextPtr before = models_.texts.of(about.page_id);
    if (!before || about.word >= before->words.size() || before->word(about.word).text != about.said) return;
    const auto chosen = models_.choice.current_id() == about.page_id ? models_.words.word() : std::nullopt;
    models_.texts.put_right(about.page_id, about.word, *typed);
    const ShownTextPtr now = models_.texts.of(about.page_id);
    const auto grown =
        static_cast<ptrdiff_t>(now ? now->words.size() : 0) - static_cast<ptrdiff_t>(before->words.size());
    // If the word was replaced by none or several words, the indices of later words have changed.
    if (chosen && *chosen > about.word && grown != 0)
        models_.words.choose(static_cast<size_t>(static_cast<ptrdiff_t>(*chosen) + grown));
}

// Updates the slip without disturbing what the user is typing.
void TextLook::follow_slip() {
    const auto about_now = [this]() -> std::optional<Slipped> {
        const ShownTextPtr text = models_.words.shown();
        const auto word = models_.words.word();
        if (!text || !word || *word >= text->words.size()) return std::nullopt;
        return Slipped{QString::fromStdString(text->page->id), *word, text->word(*word).text};
    };
    if (slipped_ && about_now() != slipped_) take_what_was_typed();
    const auto now = about_now();
    if (!now) {
        const bool had = slip_->isVisible() && slip_->isAncestorOf(QApplication::focusWidget());
        slipped_.reset();
        slip_->hide();
        if (had) page_->setFocus(Qt::OtherFocusReason);
        return;
    }
    if (slipped_ == now && slip_->isVisible()) return;
    const ShownTextPtr text = models_.words.shown();
    const size_t word = now->word;
    slipped_ = now;
    page_->show_part(yelvin::on_page(text->word(word).box, text->text.layer));
    column_->show_word(word);
    slip_->show_for(on_page_->word_rect(word), {}, QString::fromStdString(now->said));
    show_picture(text, word);
    slip_->entry().setFocus(Qt::OtherFocusReason);
}

// Shows the word's picture at once in the resolution of the page view, then in full resolution. It is upright whatever
// the rotation of the page.
void TextLook::show_picture(const ShownTextPtr& text, size_t word) {
    constexpr double around = 0.3; // of its height
    const TextLayer& layer = text->text.layer;
    const cv::Rect box = text->word(word).box;
    const int margin = static_cast<int>(around * box.height) + 1;
    const cv::Rect2d shown = yelvin::on_page(
        cv::Rect(box.x - margin, box.y - margin, box.width + 2 * margin, box.height + 2 * margin), layer);
    const auto upright = [turn = layer.turned_degrees](const QImage& image) {
        return turn == 0 ? image : image.transformed(QTransform().rotate(-turn));
    };
    slip_->set_picture(upright(page_->seen_at(shown)));
    const PagePtr page = text->page;
    const SizePx size =
        developed_size(page->recipe, {page->original.width_px, page->original.height_px}, page->original.dpi);
    const cv::Rect part = cv::Rect(cvRound(shown.x), cvRound(shown.y), cvRound(shown.width), cvRound(shown.height)) &
                          cv::Rect(0, 0, size.width, size.height);
    if (part.empty()) return;
    const Slipped about = *slipped_;
    models_.pictures.cut_out({page->id, page->original, page->recipe, 1, part},
                             [this, about, upright, look = QPointer<TextLook>(this)](const QImage& image) {
                                 if (look && slipped_ == about) slip_->set_picture(upright(image));
                             });
}

// ---- pages without text

void TextLook::say_why_not() {
    if (!isVisible()) return;
    const PagePtr page = models_.choice.current();
    const ShownTextPtr text = models_.words.shown();
    if (!page) return column_->set_sentence({}, {});
    if (text) return column_->set_sentence(tr("No text was found on this page."), tr("read it again in …"));
    const QString why = models_.reading.why_not(*page);
    if (!why.isEmpty()) return column_->set_sentence(why, tr("read it again in …"));
    if (const auto percent = models_.reading.percent_of(models_.choice.current_id())) {
        if (models_.reading.is_stopped()) return column_->set_sentence(tr("Reading was stopped."), tr("go on reading"));
        return column_->set_sentence(
            *percent > 0 ? tr("Reading this page: %1%.").arg(*percent) : tr("This page is about to be read."), {});
    }
    if (!page->noticed) return column_->set_sentence(tr("This page is being checked."), {});
    if (!page->text.languages.empty() || is_read_at_once(*page, models_.document_tickets.of_page(page->id)))
        return column_->set_sentence(tr("This page is about to be read."), {});
    const bool photo = page->notices.kind == PageKind::Photo,
               none = models_.document_tickets.of_page(page->id).read.languages.empty();
    column_->set_sentence(none    ? tr("This ticket reads no text.")
                          : photo ? tr("This page looks like a photograph, which is read only when you ask.")
                                  : tr("This ticket's file format has no text, so none was read."),
                          tr("read this page"));
}

void TextLook::do_what_helps() {
    const PagePtr page = models_.choice.current();
    if (!page) return;
    if (models_.words.shown() || !models_.reading.why_not(*page).isEmpty()) return open_again_sheet();
    if (models_.reading.is_stopped()) return models_.reading.go_on();
    const auto& asked = models_.document_tickets.of_page(page->id).read.languages;
    models_.texts.read_again(models_.choice.current_id(),
                             asked.empty() ? std::vector<std::string>{std::string(automatic_language)} : asked,
                             PageTexts::Corrections::Keep);
}

// ---- actions on the text

bool TextLook::step_out() {
    if (models_.aloud.speaks()) {
        models_.aloud.stop();
        return true;
    }
    if (find_bar_->isVisible()) {
        models_.search.end();
        find_bar_->hide();
        links_->show();
        page_->setFocus(Qt::OtherFocusReason);
        return true;
    }
    if (!models_.words.word() && !models_.words.stretch()) return false;
    (void)slip_->take_typed(); // Discards what was typed.
    models_.words.choose_none();
    return true;
}

void TextLook::find() {
    const auto stretch = models_.words.stretch();
    const QString words =
        stretch && stretch->last - stretch->first < 6 ? models_.words.copied().simplified() : QString();
    models_.words.choose_none();
    links_->hide();
    find_bar_->show();
    find_bar_->begin(words);
}

void TextLook::read_aloud() { models_.aloud.speaks() ? models_.aloud.stop() : models_.aloud.begin(); }

void TextLook::copy() {
    const QString words = models_.words.copied();
    if (!words.isEmpty()) QApplication::clipboard()->setText(words);
}

void TextLook::copy_all() {
    const auto place = find_page(models_.tray.tray(), models_.choice.current_id().toStdString());
    if (!place || copying_) return;
    struct Copied {
        QStringList pages;
        int words = 0, unread = 0;
    };
    const auto copied = std::make_shared<Copied>();
    QStringList ids;
    for (const PagePtr& page : models_.tray.tray().documents[place->document]->kept_pages())
        ids.append(QString::fromStdString(page->id));
    copying_ = new PageWalk(
        ids,
        [this, copied](const QString& id) {
            const ShownTextPtr text = models_.texts.of(id);
            copied->unread += text ? 0 : 1;
            if (!text || text->words.empty()) return;
            copied->pages.append(QString::fromStdString(running_text(text->text, 0, text->words.size() - 1)));
            copied->words += text->text.kept().word_count();
        },
        [this, copied] {
            copying_ = nullptr;
            QApplication::clipboard()->setText(copied->pages.join("\n\n"));
            models_.messages.tell(copied_words(copied->words, copied->pages.size(), copied->unread));
        },
        this);
}

}
