// Choosing in the real window: phrases and tickets by the keyboard, items on the glass.
#pragma once

#include "app/window_fixture.h"

#include "app/ticketbar/wording.h"
#include "core/developing/develop.h"

namespace yelvin::test {

class Choosing : public Window {
  protected:
    // Types into the widget that has the focus.
    static void type(Qt::Key key, Qt::KeyboardModifiers with = {}) {
        QWidget* where = QApplication::activePopupWidget();
        if (where && where->focusWidget()) where = where->focusWidget();
        if (!where) where = QApplication::focusWidget();
        ASSERT_TRUE(where);
        QTest::keyClick(where, key, with);
        QApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
        QApplication::processEvents();
    }
    // Walks through the sentence to a phrase and opens it.
    void open(const QString& words) {
        auto* sentence = part<Sentence>("sentence");
        window_->activateWindow();
        ASSERT_TRUE(QTest::qWaitForWindowActive(window_.get()));
        sentence->setFocus(Qt::OtherFocusReason);
        for (int i = 0; i < 20; ++i) type(Qt::Key_Left);
        const auto phrases = wording::phrases(desk_->for_window().for_ticket());
        int at = 0;
        for (const Phrase& phrase : phrases) {
            if (phrase.key == words) break;
            if (!phrase.words.isEmpty()) ++at;
        }
        for (int i = 0; i < at; ++i) type(Qt::Key_Right);
        type(Qt::Key_Return);
        ASSERT_TRUE(QApplication::activePopupWidget()) << qPrintable(words);
    }
    QWidget* open_tickets(const char* keys = "Ctrl+T") {
        window_->activateWindow();
        EXPECT_TRUE(QTest::qWaitForWindowActive(window_.get()));
        key(keys);
        EXPECT_TRUE(wait([] { return QApplication::activePopupWidget() != nullptr; }));
        return QApplication::activePopupWidget();
    }
    // Chooses a row of the open sheet with the arrow keys, and with Tab from one list to the next.
    void pick(const QString& row) {
        QWidget* sheet = QApplication::activePopupWidget();
        ASSERT_TRUE(sheet);
        for (int i = 0; i < 30; ++i) type(Qt::Key_Up);
        for (int i = 0; i < 60; ++i) {
            const QWidget* here = sheet->focusWidget();
            if (const auto* at = qobject_cast<const SheetRow*>(here); at && at->text() == row)
                return type(Qt::Key_Return);
            type(Qt::Key_Down);
            if (sheet->focusWidget() == here) type(Qt::Key_Tab);
        }
        FAIL() << "no row " << qPrintable(row);
    }
    void lay_three() {
        BenchSetup bench;
        bench.glass = {{original("photo-top-lock"), 84, 60, 2},
                       {original("photo-patient-heron"), 120, 172, -4},
                       {original("membership-card-front"), 60, 262, 0}};
        desk_->scanners.set_bench(bench);
    }
    SizeMm page_size(size_t document, size_t page) const {
        const Page& p = *desk_->tray.tray().documents.at(document)->pages.at(page);
        const SizePx px = developed_size(p.recipe, {p.original.width_px, p.original.height_px}, p.original.dpi);
        return {px_to_mm(px.width, p.original.dpi), px_to_mm(px.height, p.original.dpi)};
    }
    void preview() {
        key("Ctrl+L");
        ASSERT_TRUE(
            wait([&] { return at_rest() && !desk_->glass.preview().isNull() && !desk_->glass.is_out_of_date(); }));
    }
};

}
