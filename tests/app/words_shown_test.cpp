// No text on the screen is clipped or outside of its place: every sheet of the sentence and of the window, in a large
// and in a small window, with long names, in both looks.
#include "app/models/sending/servers.h"
#include "app/window/keeping_sheet.h"
#include "app/window_fixture.h"

#include <QAbstractSpinBox>
#include <QAccessible>
#include <QCheckBox>
#include <QComboBox>
#include <QScrollArea>
#include <QTextDocument>

namespace yelvin::test {
namespace {

class WordsShown : public Window {
  protected:
    const QString long_name = "Agreements, leases and what was written about them since the lock was rebuilt";

    void size_to(int width, int height) {
        window_->resize(width, height);
        ASSERT_TRUE(wait([&] { return window_->size() == QSize(width, height); }));
        QApplication::processEvents();
    }

    // Text that scrolls may be longer than its frame.
    static bool scrolls(const QWidget& widget) {
        for (const QWidget* at = widget.parentWidget(); at; at = at->parentWidget())
            if (qobject_cast<const QScrollArea*>(at)) return true;
        return false;
    }
    // Text that is shortened must be complete in its tooltip.
    static bool is_shortened(const QString& text, const QWidget& widget) {
        return text.contains(QChar(0x2026)) && !widget.toolTip().isEmpty();
    }
    static QString named(const QWidget& widget, const QString& text) {
        return widget.objectName() + " \"" + text + "\" " + QString("%1 x %2").arg(widget.width()).arg(widget.height());
    }

    // Returns the room that rich text needs, as Qt lays it out.
    static QSizeF rich_size(const QLabel& label, int across) {
        QTextDocument laid_out;
        laid_out.setDefaultFont(label.font());
        laid_out.setDocumentMargin(0);
        laid_out.setHtml(label.text());
        if (label.wordWrap()) laid_out.setTextWidth(across);
        return {laid_out.idealWidth(), laid_out.size().height()};
    }
    static QString wrong_with(const QLabel& label) {
        const QString text = label.text();
        if (text.isEmpty() || is_shortened(text, label)) return {};
        const QMargins margins = label.contentsMargins();
        const int across = label.width() - margins.left() - margins.right() - 2 * label.margin();
        const int down = label.height() - margins.top() - margins.bottom();
        const bool is_rich =
            label.textFormat() == Qt::RichText || (label.textFormat() == Qt::AutoText && Qt::mightBeRichText(text));
        QSizeF needed(label.fontMetrics().horizontalAdvance(text), 0);
        if (is_rich)
            needed = rich_size(label, across);
        else if (label.wordWrap())
            needed = label.fontMetrics().boundingRect(QRect(0, 0, across, 10000), Qt::TextWordWrap, text).size();
        return needed.height() <= down + 2 && needed.width() <= across + 1 ? QString() : "is cut off";
    }
    static QString wrong_with(const QAbstractButton& button) {
        if (button.text().isEmpty() || is_shortened(button.text(), button)) return {};
        if (const auto* row = qobject_cast<const SheetRow*>(&button))
            return row->sizeHint().width() <= row->width() + 1 &&
                           (row->value_width() < row->width() || !row->toolTip().isEmpty())
                       ? QString()
                       : "is cut off";
        QString text = button.text();
        text.remove('&');
        const int needed = button.fontMetrics().horizontalAdvance(text);
        const int mark = qobject_cast<const QCheckBox*>(&button) ? 20 : 0;
        return needed + mark <= button.width() + 1 ? QString() : "is cut off";
    }

    struct Looked {
        int seen = 0;
        QStringList wrong;
    };
    // Checks every widget with text in it.
    static Looked looked_through(const QWidget& sheet) {
        QApplication::processEvents();
        Looked out;
        const auto tell = [&](const QWidget& widget, const QString& text, const QString& wrong) {
            if (!wrong.isEmpty()) out.wrong.append(named(widget, text) + " " + wrong);
        };
        for (const auto* widget : sheet.findChildren<QWidget*>()) {
            if (!widget->isVisible() || widget->window() != sheet.window()) continue;
            QString text;
            if (const auto* label = qobject_cast<const QLabel*>(widget)) {
                text = label->text();
                tell(*widget, text, wrong_with(*label));
            } else if (const auto* button = qobject_cast<const QAbstractButton*>(widget)) {
                text = button->text();
                tell(*widget, text, wrong_with(*button));
            } else if (const auto* edit = qobject_cast<const QLineEdit*>(widget)) {
                text = edit->placeholderText();
                const int needed = edit->fontMetrics().horizontalAdvance(text);
                if (edit->text().isEmpty() && needed > edit->width() - 8) tell(*widget, text, "has no room for it");
            } else {
                continue;
            }
            ++out.seen;
            const QRect at(widget->mapTo(&sheet, QPoint(0, 0)), widget->size());
            if (!text.isEmpty() && !scrolls(*widget) && !sheet.rect().contains(at)) tell(*widget, text, "is outside");
        }
        return out;
    }
    int look_through(const QWidget& sheet, const QString& where) {
        const Looked looked = looked_through(sheet);
        EXPECT_TRUE(looked.wrong.isEmpty()) << qPrintable(where + ": " + looked.wrong.join("\n"));
        return looked.seen;
    }
    // WCAG 2.1, 4.1.2: people who hear the screen instead of seeing it are told what each control is. Two controls of a
    // kind with the same name say nothing, unless their descriptions differ.
    static QStringList unheard(const QWidget& all) {
        QStringList wrong, heard;
        for (auto* widget : all.findChildren<QWidget*>()) {
            const bool is_control = widget->isVisible() && widget->window() == all.window() &&
                                    (widget->focusPolicy() & Qt::TabFocus) != 0 && widget->isEnabled();
            const bool is_inside = qobject_cast<QAbstractSpinBox*>(widget->parentWidget()) != nullptr;
            if (!is_control || is_inside || qobject_cast<QScrollArea*>(widget)) continue;
            const QAccessibleInterface* told = QAccessible::queryAccessibleInterface(widget);
            QString name = told ? told->text(QAccessible::Name).trimmed() : QString();
            // The text before the control is read out too.
            for (const auto& [label, relation] : told
                                                     ? told->relations(QAccessible::Label)
                                                     : QList<std::pair<QAccessibleInterface*, QAccessible::Relation>>{})
                name = label->text(QAccessible::Name) + " " + name;
            const QString which = QString("%1 \"%2\"").arg(widget->metaObject()->className(), widget->objectName());
            if (name.isEmpty()) {
                wrong.append(which + " is not named");
                continue;
            }
            const QString said =
                QString("%1 %2 %3").arg(widget->metaObject()->className(), name, told->text(QAccessible::Description));
            if (heard.contains(said)) wrong.append(which + " is named as another one: " + said);
            heard.append(said);
        }
        return wrong;
    }
    static void listen_to(const QWidget& all, const QString& where) {
        const QStringList wrong = unheard(all);
        EXPECT_TRUE(wrong.isEmpty()) << qPrintable(where + ": " + wrong.join("\n"));
    }
    // Checks the open sheet and closes it. It may cover the window but must not be larger.
    void look_at_sheet(const QString& where) {
        QApplication::processEvents();
        QWidget* sheet = QApplication::activePopupWidget();
        ASSERT_TRUE(sheet) << qPrintable(where);
        EXPECT_GT(look_through(*sheet, where), 0) << qPrintable(where);
        listen_to(*sheet, where);
        EXPECT_LE(sheet->width(), window_->width()) << qPrintable(where);
        EXPECT_LE(sheet->height(), window_->height()) << qPrintable(where);
        sheet->close();
        QApplication::processEvents();
        window_->activateWindow();
        ASSERT_TRUE(QTest::qWaitForWindowActive(window_.get()));
    }
    void choose_long_names() {
        choose([&](Ticket& t) {
            t.name = long_name.toStdString();
            t.save.folder = (base_ / long_name.toStdString()).string();
        });
    }
};

TEST_F(WordsShown, AreNotClippedInTheSheetsOfTheSentence) {
    start();
    demo::set_up(*desk_, QString::fromStdString(base_.path().string()));
    desk_->servers.put({long_name.toStdString(), "https://files.example/papers/of/the/office"}, {});
    choose_long_names();
    for (const QSize& size : {QSize(1280, 800), QSize(1024, 640)}) {
        size_to(size.width(), size.height());
        for (const char* phrase :
             {"source",     "scanner",    "area",  "ink",  "dpi",    "pages",         "documents", "read",
              "make",       "growth",     "name",  "more", "folder", "other-formats", "then",      "file",
              "protection", "properties", "stamp", "also", "uses",   "tickets"}) {
            window_->ticket_bar().open_phrase(phrase);
            look_at_sheet(QString("%1 at %2").arg(phrase).arg(size.width()));
        }
    }
}

TEST_F(WordsShown, AreNotClippedInTheWindowItsSheetsAndTheCabinet) {
    start();
    scan_quickly();
    desk_->servers.put({long_name.toStdString(), "https://files.example/papers"}, {});
    for (const QSize& size : {QSize(1280, 800), QSize(1024, 640)}) {
        size_to(size.width(), size.height());
        const QString at = QString(" at %1").arg(size.width());
        listen_to(*window_, "the page");
        EXPECT_GT(look_through(*window_, "the page" + at), 12);
        open_keeping_sheet(desk_->kept, QRect(window_->mapToGlobal(QPoint(20, 500)), QSize(60, 20)), window_.get());
        look_at_sheet("keeping" + at);
        key("Ctrl+F");
        QApplication::processEvents();
        listen_to(*window_, "the cabinet");
        EXPECT_GT(look_through(*window_, "the cabinet" + at), 6);
        for (const char* sheet : {"cabinet-take-in", "cabinet-older"}) {
            auto* button = window_->findChild<QPushButton*>(sheet);
            if (!button || !button->isVisible()) continue;
            press(sheet);
            ASSERT_TRUE(wait([] { return QApplication::activePopupWidget() != nullptr; })) << sheet;
            look_at_sheet(sheet + at);
        }
        key("Alt+1");
        listen_to(*window_, "the glass");
        EXPECT_GT(look_through(*window_, "the glass" + at), 6);
        key("Alt+4");
        listen_to(*window_, "the strip");
        EXPECT_GT(look_through(*window_, "the strip" + at), 4);
        key("Alt+3");
        QApplication::processEvents();
        listen_to(*window_, "the text");
        EXPECT_GT(look_through(*window_, "the text" + at), 4);
        key("Alt+2");
    }
}

TEST_F(WordsShown, ClippedTextIsDetected) {
    QWidget sheet;
    sheet.resize(300, 200);
    const auto wrong_with_label = [&](const QString& text, bool wraps, QSize size) {
        QLabel label(text, &sheet);
        label.setWordWrap(wraps);
        label.resize(size);
        sheet.show();
        label.show();
        return looked_through(sheet).wrong.size();
    };
    const QString words = "As soon as its folder is there again";
    for (const QString& text : {words, "<b>" + words + "</b>"}) {
        EXPECT_EQ(wrong_with_label(text, false, {290, 20}), 0) << qPrintable(text);
        EXPECT_EQ(wrong_with_label(text, false, {90, 20}), 1) << qPrintable(text) << " is cut off at its end";
        EXPECT_EQ(wrong_with_label(text, true, {150, 80}), 0) << qPrintable(text);
        EXPECT_EQ(wrong_with_label(text, true, {150, 14}), 1) << qPrintable(text) << " loses its second line";
        EXPECT_EQ(wrong_with_label(text, false, {320, 20}), 1) << qPrintable(text) << " stands outside";
    }
    QLineEdit nameless(&sheet);
    nameless.show();
    EXPECT_EQ(unheard(sheet).size(), 1) << "a control without a name";
    nameless.setAccessibleName("Page");
    EXPECT_TRUE(unheard(sheet).isEmpty());
    QLineEdit other(&sheet);
    other.setAccessibleName("Page");
    other.show();
    EXPECT_EQ(unheard(sheet).size(), 1) << "two that are called alike";
    other.setToolTip("the last one");
    other.setAccessibleDescription("the last one");
    EXPECT_TRUE(unheard(sheet).isEmpty());
}

}
}
