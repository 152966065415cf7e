// The Text view in the real window, with OCR results whose uncertain words the test knows.
#pragma once

#include "app/models/text/page_texts.h"
#include "app/models/text/reading_aloud.h"
#include "app/models/text/text_choice.h"
#include "app/models/text/text_search.h"
#include "app/text/text_column.h"
#include "app/text/text_look.h"
#include "app/text/text_on_page.h"
#include "app/text/word_slip.h"
#include "app/window_fixture.h"

#include <QClipboard>

#include <sstream>

namespace yelvin::test {

// A voice that is silent; the test decides when it has ended.
class Stand : public Voice {
  public:
    QStringList said;
    bool speaks = false;
    bool is_there() const override { return true; }
    void say(const QString& words, const std::string& language) override {
        said.append(words + " (" + QString::fromStdString(language) + ")");
        speaks = true;
    }
    void stop() override { speaks = false; }
};

class TextWindow : public Window {
  protected:
    Stand* voice_ = nullptr;
    TextWindow() {
        tray_full_ = false;
        voice_made_ = [this] {
            auto made = std::make_unique<Stand>();
            voice_ = made.get();
            return made;
        };
    }

    // Scans leases from the feeder and reads them; the first of them is shown.
    void scan(int sheets) {
        start();
        BenchSetup bench;
        for (int i = 0; i < sheets; ++i) bench.stack.push_back({{original("lease-1")}, {}});
        desk_->scanners.set_bench(bench);
        choose([](Ticket& t) {
            t.from.source = Source::FeederFront;
            t.how.dpi = 150;
            t.how.ink = Ink::Grey;
            t.read.languages = {"eng"};
            t.make.format = Format::Pdf;
        });
        press("scan");
        ASSERT_TRUE(wait([&] {
            return desk_->tray.tray().page_count() == static_cast<size_t>(sheets) && !desk_->run.passing() && at_rest();
        }));
        desk_->choice.set_current(page_id(0, 0));
        key("Alt+3");
        ASSERT_TRUE(wait([&] { return text() && look().page().is_sharp(); }));
    }
    TextLook& look() { return window_->text_look(); }
    PageView& page() { return look().page(); }
    SlipEntry& entry() { return *part<SlipEntry>("slip-entry"); }
    WordSlip& slip() { return *part<WordSlip>("word-slip"); }
    TextColumn& column() { return *part<TextColumn>("text-column"); }
    ShownTextPtr text() { return desk_->words.shown(); }
    std::string all() { return running_text(text()->text, 0, text()->words.size() - 1); }
    size_t find(const std::string& word) {
        for (size_t i = 0; i < text()->words.size(); ++i)
            if (text()->word(i).text == word) return i;
        ADD_FAILURE() << "no " << word;
        return 0;
    }
    bool says(const std::string& words) { return all().find(words) != std::string::npos; }
    // Sets the text of the page. The i-th of `doubtful` is read as `as`, and all other words are certain.
    void plant(size_t page_number, const std::vector<std::pair<std::string, std::string>>& doubtful) {
        const PagePtr page = desk_->tray.tray().documents.at(0)->pages.at(page_number);
        auto layer = desk_->tray.text_of(*page, "eng");
        ASSERT_TRUE(layer);
        size_t next = 0;
        for (TextLine& line : layer->lines) {
            for (Word& word : line.words) {
                word.confidence = 96;
                if (next == doubtful.size() || word.text != doubtful[next].first) continue;
                word.text = doubtful[next++].second;
                word.confidence = 40;
            }
        }
        ASSERT_EQ(next, doubtful.size()) << doubtful[next].first;
        desk_->tray.keep_text(page, "eng", *layer);
    }
    // Sets the text of the page as lines of words at places of the page, 15 px for a letter.
    void say_read(size_t page_number, const std::vector<std::tuple<int, int, std::string>>& lines) {
        const PagePtr page = desk_->tray.tray().documents.at(0)->pages.at(page_number);
        auto layer = desk_->tray.text_of(*page, "eng");
        ASSERT_TRUE(layer);
        layer->lines.clear();
        for (auto [x, y, words] : lines) {
            TextLine line{{}, {double(x), y + 20.0}, {}, 20, 5, "eng"};
            std::istringstream in(words);
            for (std::string word; in >> word; x += 15) {
                line.words.push_back({word, {x, y, 15 * int(word.size()), 20}, 96});
                x = line.words.back().box.br().x;
            }
            line.baseline_end = {double(x), y + 20.0};
            layer->lines.push_back(line);
        }
        desk_->tray.keep_text(page, "eng", *layer);
    }
    QWidget* focus() { return QApplication::focusWidget(); }
    void type(const char* keys) { QTest::keyClicks(focus(), keys); }
    void tap(Qt::Key what, Qt::KeyboardModifiers with = {}) { QTest::keyClick(focus(), what, with); }
    void press_word(const std::string& word, QEvent::Type how = QEvent::MouseButtonPress) {
        const QPoint at = look().on_page().word_rect(find(word)).center().toPoint();
        if (how == QEvent::MouseButtonDblClick)
            QTest::mouseDClick(&page(), Qt::LeftButton, {}, at);
        else
            QTest::mouseClick(&page(), Qt::LeftButton, {}, at);
    }
    void press_row(const QString& words) {
        QApplication::processEvents();
        for (auto* row : window_->findChildren<SheetRow*>())
            if (row->isVisible() && row->text() == words) return QTest::mouseClick(row, Qt::LeftButton);
        FAIL() << "no row " << qPrintable(words);
    }
    std::string saved_words() {
        key("Ctrl+S");
        EXPECT_TRUE(wait([&] { return !saved_.isEmpty() && at_rest(); }));
        return saved_.isEmpty() ? "" : text_of_pdf(saved_.takeFirst().toStdString());
    }
};

}
