// Protection, properties, stamps, further files and adding to a PDF, in the real window: with the mouse and by keys.
#include "app/keyring_stand_in.h"
#include "app/tray/add_sheet.h"
#include "app/window_fixture.h"

#include "app/models/saving/password_keeper.h"

#include <QCheckBox>
#include <QComboBox>
#include <QContextMenuEvent>
#include <QRadioButton>
#include <QSpinBox>

#include <fmt/format.h>

#include <fstream>

namespace yelvin::test {
namespace {

class Protect : public Window {
  protected:
    KeptPasswords kept_;

    void start_with_keyring() {
        keyring_ = [this] { return std::make_unique<KeyringStandIn>(kept_); };
        start();
    }
    QWidget* sheet(const char* name) {
        EXPECT_TRUE(wait([&] { return popup(name); })) << name;
        return popup(name);
    }
    // The card that asks for passwords; it never takes the focus.
    QWidget* asked() {
        auto* card = part<QFrame>("password-card");
        EXPECT_TRUE(wait([&] { return card->isVisible(); }));
        EXPECT_FALSE(card->isAncestorOf(QApplication::focusWidget()));
        return card;
    }
    static QWidget* popup(const char* name) {
        QWidget* there = QApplication::activePopupWidget();
        return there && there->objectName() == name ? there : nullptr;
    }
    QWidget* phrase(const char* key) {
        part<TicketBar>()->open_phrase(key);
        QApplication::processEvents();
        return QApplication::activePopupWidget();
    }
    static void press_row(QWidget* in, const QString& words) {
        auto* row = row_of(in, words);
        QStringList there;
        for (auto* each : in->findChildren<SheetRow*>()) there.append(each->text());
        ASSERT_TRUE(row) << qPrintable(words) << " of " << qPrintable(there.join("; "));
        row->setFocus();
        QTest::keyClick(row, Qt::Key_Return);
    }
    static void toggle(QWidget* in, const char* name) {
        auto* box = in->findChild<QCheckBox*>(name);
        ASSERT_TRUE(box) << name;
        box->setFocus();
        QTest::keyClick(box, Qt::Key_Space);
    }
    void type(QWidget* in, const char* field, const QString& text) {
        auto* edit = in->findChild<QLineEdit*>(field);
        ASSERT_TRUE(edit) << field;
        edit->setFocus();
        edit->selectAll();
        QTest::keyClicks(edit, text);
    }
    // Without a window manager the window does not get the focus back after a popup.
    void come_back() {
        window_->activateWindow();
        ASSERT_TRUE(QTest::qWaitForWindowActive(window_.get()));
    }
    void save_and_wait() {
        saved_.clear();
        key("Ctrl+S");
        ASSERT_TRUE(wait([&] { return !saved_.isEmpty() && at_rest(); })) << qPrintable(trouble_);
    }
    QString document(size_t number = 0) const {
        return QString::fromStdString(desk_->tray.tray().documents.at(number)->id);
    }
    std::vector<std::string> texts_of(const QString& file) {
        std::vector<std::string> words;
        for (const PrintedWord& word : words_of_pdf(file.toStdString())) words.push_back(word.text);
        return words;
    }
};

TEST_F(Protect, AsksForAPasswordAndStoresItNowhere) {
    start_with_keyring();
    scan_quickly();
    QWidget* make = phrase("make");
    press_row(make, "file options…");
    ASSERT_TRUE(wait(
        [] { return QApplication::activePopupWidget() && row_of(QApplication::activePopupWidget(), "protection…"); }));
    press_row(QApplication::activePopupWidget(), "protection…");
    ASSERT_TRUE(wait([] {
        return QApplication::activePopupWidget() &&
               QApplication::activePopupWidget()->findChild<QCheckBox*>("protect-open");
    }));
    QWidget* protection = QApplication::activePopupWidget();
    toggle(protection, "protect-open");
    toggle(protection, "protect-copy");
    protection->close();
    EXPECT_TRUE(part<Sentence>("sentence")->text().contains(", protected"))
        << qPrintable(part<Sentence>("sentence")->text());

    const QString open = "xyzzy-Plover-7", owner = "Owner-Quux-42";
    key("Ctrl+S");
    QWidget* card = asked();
    const QRect waits = tray().word_rect(document(), "waiting for your answer");
    ASSERT_FALSE(waits.isEmpty()) << "the document's tab says so";
    QTest::mouseClick(&tray(), Qt::LeftButton, {}, waits.center());
    EXPECT_EQ(QApplication::focusWidget(), card->findChild<QLineEdit*>("password-open"))
        << "pressed, the card is gone to";
    type(card, "password-open", open);
    type(card, "password-owner", open);
    QTest::keyClick(card->findChild<QLineEdit*>("password-owner"), Qt::Key_Return);
    EXPECT_TRUE(card->findChild<QLabel*>("password-wrong")->text().contains("The two passwords must be different"));
    EXPECT_TRUE(saved_.isEmpty());
    type(card, "password-owner", owner);
    QTest::keyClick(card->findChild<QLineEdit*>("password-owner"), Qt::Key_Return);
    ASSERT_TRUE(wait([&] { return !saved_.isEmpty() && at_rest(); })) << qPrintable(trouble_);
    EXPECT_TRUE(tray().word_rect(document(), "waiting for your answer").isEmpty());
    for (auto* each : card->findChildren<QLineEdit*>()) {
        EXPECT_EQ(each->text(), "");
        for (const QByteArray& name : each->dynamicPropertyNames()) {
            const QString held = each->property(name.constData()).toString();
            EXPECT_FALSE(held == open || held == owner) << name.constData();
        }
    }
    const std::string file = saved_.front().toStdString();
    EXPECT_EQ(run({"qpdf", "--requires-password", file}).status, 0);
    const auto shown = run({"qpdf", "--show-encryption", "--password=" + owner.toStdString(), file}).out;
    EXPECT_NE(shown.find("extract for any purpose: not allowed"), std::string::npos) << shown;
    EXPECT_NE(shown.find("Supplied password is owner password"), std::string::npos) << shown;
    EXPECT_TRUE(kept_.passwords.empty()) << "nobody asked to keep it";

    // The password is in none of our files and not on our command line.
    window_.reset();
    desk_.reset();
    for (const auto& each : std::filesystem::recursive_directory_iterator(base_.path())) {
        if (!each.is_regular_file()) continue;
        const std::string bytes = read_file(each.path());
        for (const QString& password : {open, owner}) {
            EXPECT_EQ(bytes.find(password.toStdString()), std::string::npos) << each.path();
            const auto* wide = reinterpret_cast<const char*>(password.utf16());
            EXPECT_EQ(bytes.find(std::string(wide, static_cast<size_t>(password.size()) * 2)), std::string::npos)
                << each.path();
        }
    }
    for (const auto& process : std::filesystem::directory_iterator("/proc")) {
        const std::string line = read_file(process.path() / "cmdline");
        EXPECT_EQ(line.find(owner.toStdString()), std::string::npos);
    }
}

TEST_F(Protect, TheKeyringAvoidsTheQuestionAndCancellingSavesNothing) {
    start_with_keyring();
    scan_quickly();
    choose([](Ticket& t) { t.make.password = true; });
    key("Ctrl+S");
    QWidget* card = asked();
    EXPECT_FALSE(card->findChild<QLineEdit*>("password-owner")->isVisible());
    auto* open = card->findChild<QLineEdit*>("password-open");
    open->setFocus();
    QTest::keyClicks(open, "half a wo");
    QTest::mouseClick(part<PageView>("page"), Qt::LeftButton); // a press elsewhere is no answer
    EXPECT_TRUE(card->isVisible());
    QTest::keyClick(open, Qt::Key_Escape); // what was typed goes first
    EXPECT_EQ(open->text(), "");
    EXPECT_TRUE(card->isVisible());
    QTest::keyClick(open, Qt::Key_Escape);
    ASSERT_TRUE(wait([&] { return trouble_.contains("Nothing was saved, because no password was entered"); }));
    EXPECT_FALSE(card->isVisible());
    EXPECT_TRUE(desk_->tray.tray().documents[0]->saved_as.empty());
    key("Ctrl+S");
    card = asked();
    type(card, "password-open", "kept one");
    toggle(card, "password-kept");
    QTest::mouseClick(card->findChild<QPushButton*>("password-use"), Qt::LeftButton);
    ASSERT_TRUE(wait([&] { return !saved_.isEmpty() && at_rest(); }));
    EXPECT_EQ(kept_.passwords.size(), 1U);
    desk_->edits.rename_document(document(), "again");
    save_and_wait(); // without a question
    EXPECT_EQ(run({"qpdf", "--check", "--password=kept one", saved_.front().toStdString()}).status, 0);
    // After the saved passwords are deleted and without a keyring, the user is asked each time, and is told why.
    press_row(phrase("protection"), "delete saved passwords");
    EXPECT_TRUE(kept_.passwords.empty());
    kept_.is_there = false;
    desk_->edits.rename_document(document(), "third");
    saved_.clear();
    key("Ctrl+S");
    card = asked();
    type(card, "password-open", "third one");
    toggle(card, "password-kept");
    QTest::mouseClick(card->findChild<QPushButton*>("password-use"), Qt::LeftButton);
    ASSERT_TRUE(wait([&] { return !saved_.isEmpty() && at_rest(); }));
    EXPECT_TRUE(trouble_.contains("The keyring could not save the password")) << qPrintable(trouble_);
    // Other formats cannot be protected: the window says so, and saves nothing unprotected.
    trouble_.clear();
    choose([](Ticket& t) { t.make.format = Format::Jpeg; });
    desk_->edits.rename_document(document(), "fourth");
    key("Ctrl+S");
    ASSERT_TRUE(wait([&] { return !trouble_.isEmpty() && at_rest(); }));
    EXPECT_TRUE(trouble_.contains("The format JPEG cannot be protected")) << qPrintable(trouble_);
}

TEST_F(Protect, PropertiesStampAndFurtherFilesAreSaved) {
    start_with_keyring();
    scan_quickly();
    scan_quickly("invoice");
    QWidget* properties = phrase("properties");
    type(properties, "property-author", "Harriet Quillfeather");
    type(properties, "property-keywords", "basin yyyy");
    toggle(properties, "property-untitled");
    properties->close();
    QWidget* stamp = phrase("stamp");
    type(stamp, "stamp-words", "Received ###");
    auto* at = stamp->findChild<QComboBox*>("stamp-at");
    at->setFocus();
    for (int i = 0; i < 3; ++i) QTest::keyClick(at, Qt::Key_Up); // from the lower right to the upper one
    EXPECT_EQ(desk_->tickets.ticket().make.stamp.at, Stamp::At::TopRight);
    toggle(stamp, "stamp-across");
    stamp->close();
    QWidget* also = phrase("also");
    auto* ink = also->findChild<QComboBox*>("also-ink");
    ink->setFocus();
    QTest::keyClick(ink, Qt::Key_End);
    press_row(also, "add");
    ASSERT_TRUE(wait([] {
        return QApplication::activePopupWidget() && row_of(QApplication::activePopupWidget(), "TIFF, black and white");
    })) << desk_->tickets.ticket().make.also.size();
    QApplication::activePopupWidget()->close();
    EXPECT_TRUE(part<Sentence>("sentence")->text().contains(", stamped, also as TIFF"))
        << qPrintable(part<Sentence>("sentence")->text());

    // The stamp is shown on the page before saving, at its place.
    desk_->choice.set_current(page_id(0, 1));
    window_->look_at(MainWindow::Look::Page);
    PageView& page = window_->page_view();
    ASSERT_TRUE(wait([&] { return page.is_sharp(); }));
    const QRectF paper = page.sheet_rect();
    const auto dark = [&](const QRectF& part) {
        const QImage seen = page.grab(part.toRect()).toImage();
        int count = 0;
        for (int y = 0; y < seen.height(); ++y)
            for (int x = 0; x < seen.width(); ++x) count += qGray(seen.pixel(x, y)) < 128 ? 1 : 0;
        return count;
    };
    const QRectF corner(paper.right() - paper.width() * 0.4, paper.top(), paper.width() * 0.4, paper.height() * 0.1);
    const int with = dark(corner);
    choose([](Ticket& t) { t.make.stamp.at = Stamp::At::BottomLeft; });
    const int without = dark(corner);
    EXPECT_GT(with, without + 10);
    choose([](Ticket& t) { t.make.stamp.at = Stamp::At::TopRight; });

    save_and_wait();
    ASSERT_EQ(saved_.size(), 2);
    EXPECT_TRUE(saved_[0].endsWith(".pdf") && saved_[1].endsWith(".tif"));
    EXPECT_EQ(texts_of(saved_[0]), (std::vector<std::string>{"Received", "001", "Received", "002"}));
    const auto about = run({"pdfinfo", saved_[0].toStdString()}).out;
    EXPECT_NE(about.find("Author:          Harriet Quillfeather"), std::string::npos) << about;
    EXPECT_NE(about.find("Keywords:        basin 20"), std::string::npos) << about;
    EXPECT_EQ(about.find("Title:"), std::string::npos) << about;
    EXPECT_EQ(*count_pages(saved_[1].toStdString()), 2);
    // The stamp's counter continues in the next document.
    desk_->edits.rename_document(document(), "next");
    save_and_wait();
    EXPECT_EQ(texts_of(saved_[0]), (std::vector<std::string>{"Received", "003", "Received", "004"}));
}

TEST_F(Protect, NewPagesAreAddedToTheFileOfADocument) {
    start_with_keyring();
    scan_quickly();
    choose([](Ticket& t) {
        t.make.format = Format::Pdf;
        t.make.stamp.parts = {{NamePart::Kind::Words, "Page "}, {NamePart::Kind::Counter, "", 1}};
    });
    save_and_wait();
    const QString file = saved_.front();
    const auto more = [&] {
        come_back();
        desk_->tray.set_next_page_starts_document(false);
        scan_quickly("invoice");
    };
    more();
    ASSERT_EQ(shape(), "2");
    EXPECT_TRUE(window_->tray_strip().add_rect(document()).isValid());
    start_with_keyring(); // the next day
    QApplication::processEvents();
    QTest::mouseClick(&window_->tray_strip(), Qt::LeftButton, {}, window_->tray_strip().add_rect(document()).center());
    ASSERT_TRUE(wait([&] { return !saved_.isEmpty() && at_rest(); })) << qPrintable(trouble_);
    EXPECT_EQ(saved_.front(), file);
    EXPECT_EQ(*count_pages(file.toStdString()), 2);
    EXPECT_EQ(desk_->tray.tray().documents[0]->saved_as, file.toStdString());
    EXPECT_FALSE(window_->tray_strip().add_rect(document()).isValid());
    // Adds another page by keys. Once an earlier page is turned, the pages of the file no longer agree with the
    // document.
    more();
    auto& strip = window_->tray_strip();
    strip.setFocus();
    QContextMenuEvent menu(QContextMenuEvent::Keyboard, {}, strip.mapToGlobal(QPoint(10, 10)));
    QApplication::sendEvent(&strip, &menu);
    saved_.clear();
    const QString name = QFileInfo(file).fileName();
    press_row(sheet("page-sheet"), QString("add its new page to %1").arg(name));
    ASSERT_TRUE(wait([&] { return !saved_.isEmpty() && at_rest(); })) << qPrintable(trouble_);
    EXPECT_EQ(*count_pages(file.toStdString()), 3);
    EXPECT_EQ(texts_of(file), (std::vector<std::string>{"Page", "1", "Page", "2", "Page", "3"}));
    more();
    EXPECT_TRUE(strip.add_rect(document()).isValid());
    desk_->choice.set_current(page_id(0, 0));
    window_->look_at(MainWindow::Look::Page);
    key("]");
    EXPECT_FALSE(strip.add_rect(document()).isValid());
}

TEST_F(Protect, PagesAreAddedToAPdfOfAnotherProgram) {
    start_with_keyring();
    scan_quickly();
    choose([](Ticket& t) { t.make.format = Format::Pdf; });
    save_and_wait();
    const std::string foreign = (base_ / "foreign.pdf").string(), first_saved = saved_.front().toStdString();
    ASSERT_EQ(run({"qpdf", "--empty", "--pages", saved_.front().toStdString(), saved_.front().toStdString(), "--",
                   "--encrypt", "open it", "owner", "256", "--", foreign})
                  .status,
              0);
    desk_->edits.rename_document(document(), "more");
    desk_->choice.set_current(page_id(0, 0));
    window_->look_at(MainWindow::Look::Page);
    key("]"); // unsaved again
    ASSERT_TRUE(desk_->tray.tray().documents[0]->saved_as.empty());
    auto& strip = window_->tray_strip();
    const auto open_adding = [&]() -> QWidget* {
        strip.setFocus();
        QContextMenuEvent menu(QContextMenuEvent::Keyboard, {}, strip.mapToGlobal(QPoint(10, 10)));
        QApplication::sendEvent(&strip, &menu);
        press_row(sheet("page-sheet"), "add to a PDF…");
        EXPECT_TRUE(sheet("add-sheet"));
        // Without a window manager the next events would close what a closing popup opened.
        sheet("add-sheet")->close();
        QApplication::processEvents();
        come_back();
        return open_add_sheet(desk_->saving, document().toStdString(), {}, &strip);
    };
    QWidget* adding = open_adding();
    type(adding, "add-file", "/nowhere.pdf");
    QTest::keyClick(adding->findChild<QLineEdit*>("add-file"), Qt::Key_Return);
    ASSERT_TRUE(wait([&] {
        return adding->findChild<QLabel*>("add-wrong")->text() == "This file does not exist; choose another.";
    }));
    type(adding, "add-file", QString::fromStdString(foreign));
    auto* start = adding->findChild<QRadioButton*>("add-start");
    start->setFocus();
    QTest::keyClick(start, Qt::Key_Space);
    QTest::mouseClick(adding->findChild<QPushButton*>("add-use"), Qt::LeftButton);
    saved_.clear();
    QWidget* card = asked();
    type(card, "password-open", "wrong");
    QTest::mouseClick(card->findChild<QPushButton*>("password-use"), Qt::LeftButton);
    auto* wrong = card->findChild<QLabel*>("password-wrong");
    ASSERT_TRUE(wait([&] { return card->isVisible() && wrong->text().contains("Wrong password for"); }));
    type(card, "password-open", "open it");
    QTest::mouseClick(card->findChild<QPushButton*>("password-use"), Qt::LeftButton);
    ASSERT_TRUE(wait([&] { return !saved_.isEmpty() && at_rest(); })) << qPrintable(trouble_);
    const auto about = run({"pdfinfo", "-upw", "open it", foreign}).out;
    EXPECT_NE(about.find("Pages:           3"), std::string::npos) << about;
    EXPECT_NE(about.find("Encrypted:       yes"), std::string::npos) << about;
    // A damaged PDF is reported and stays unchanged.
    write_file(foreign, "%PDF-1.7 no more");
    come_back();
    key("[");
    ASSERT_TRUE(desk_->tray.tray().documents[0]->saved_as.empty());
    adding = open_adding();
    type(adding, "add-file", QString::fromStdString(foreign));
    QTest::keyClick(adding->findChild<QLineEdit*>("add-file"), Qt::Key_Return);
    ASSERT_TRUE(wait([&] { return trouble_.contains("is damaged or not a PDF"); }));
    EXPECT_EQ(read_file(foreign), "%PDF-1.7 no more");
    // For a signed PDF the user is asked.
    const std::string plain = (base_ / "plain.pdf").string(), signed_file = (base_ / "signed.pdf").string();
    ASSERT_EQ(run({"qpdf", "--qdf", "--object-streams=disable", first_saved, plain}).status, 0);
    std::string bytes = read_file(plain);
    const std::string catalog = "/Type /Catalog";
    bytes.insert(bytes.find(catalog) + catalog.size(), " /Perms << /DocMDP << /Type /Sig >> >>");
    write_file(plain, bytes);
    write_file(signed_file, run({"fix-qdf", plain}).out);
    const int pages = *count_pages(signed_file);
    trouble_.clear();
    adding = open_adding();
    type(adding, "add-file", QString::fromStdString(signed_file));
    QTest::keyClick(adding->findChild<QLineEdit*>("add-file"), Qt::Key_Return);
    ASSERT_TRUE(wait([&] { return trouble_.contains("would break the signature"); })) << qPrintable(trouble_);
    EXPECT_EQ(*count_pages(signed_file), pages);
    saved_.clear();
    press("news-offer");
    ASSERT_TRUE(wait([&] { return !saved_.isEmpty() && at_rest(); })) << qPrintable(trouble_);
    EXPECT_EQ(*count_pages(signed_file), pages + 1);
}

}
}
