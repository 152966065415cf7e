// Names and folders in the real window: chips, proposals, renaming after saving, and folders that are missing or do not
// answer.
#include "app/silent_folder.h"
#include "app/ticketbar/chip_row.h"
#include "window_fixture.h"

#include <sys/mount.h>

#include <QElapsedTimer>
#include <QTimer>

namespace fs = std::filesystem;

namespace yelvin::test {
namespace {

class Names : public Window {
  protected:
    // Scans the paper and reads it, so that its facts are known.
    void scan_and_read(const std::string& paper) {
        lay(paper, 0);
        choose([](Ticket& t) {
            t.how.dpi = 150;
            t.how.ink = Ink::Grey;
            t.read.languages = {"eng"};
            t.from.paper = "A4";
            t.pages.turn_upright = false;
        });
        const size_t before = desk_->tray.tray().page_count();
        key("Ctrl+Return");
        ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == before + 1 && at_rest() && known(); }));
    }
    bool known() const {
        return !desk_->papers.is_reckoning() &&
               std::ranges::all_of(desk_->tray.tray().documents,
                                   [&](const auto& each) { return desk_->papers.says_of(*each) != nullptr; });
    }
    const Document& document(size_t index = 0) const { return *desk_->tray.tray().documents.at(index); }
    QString id(size_t index = 0) const { return QString::fromStdString(document(index).id); }
    QWidget* popup() const { return QApplication::activePopupWidget(); }
    template <class W>
    W* in_popup(const QString& name) const {
        return popup() ? popup()->findChild<W*>(name) : nullptr;
    }
    void open_phrase(const QString& phrase) {
        auto* sentence = part<Sentence>("sentence");
        QTest::mouseClick(sentence, Qt::LeftButton, {}, sentence->phrase_rect(phrase).center());
        ASSERT_TRUE(popup());
    }
    // The widget with the focus gets the key, as it would from the user.
    static void type(Qt::Key key, Qt::KeyboardModifiers with = {}) {
        QWidget* at = QApplication::focusWidget();
        if (QWidget* sheet = QApplication::activePopupWidget(); sheet && sheet->focusWidget())
            at = sheet->focusWidget();
        ASSERT_TRUE(at);
        QTest::keyClick(at, key, with);
    }
    void back() { // from a sheet
        window_->activateWindow();
        ASSERT_TRUE(QTest::qWaitForWindowActive(window_.get()));
    }
    void save_current() {
        key("Ctrl+S");
        ASSERT_TRUE(wait([&] { return !saved_.isEmpty() && at_rest(); })) << qPrintable(trouble_);
    }
};

TEST_F(Names, ANameIsBuiltFromChipsByKeyboard) {
    start();
    scan_and_read("invoice");
    open_phrase("name");
    // Starts with three chips: date of scanning, own text, counter. Removes the date, changes the text, and adds a fact
    // of the document.
    ASSERT_TRUE(QApplication::activePopupWidget()->focusWidget()->objectName() == "chip:date");
    type(Qt::Key_Delete);
    type(Qt::Key_Return); // the choices of "Scan"
    ASSERT_TRUE(in_popup<QLineEdit>("chip-words"));
    QTest::keyClicks(in_popup<QLineEdit>("chip-words"), "Bill");
    type(Qt::Key_Tab, Qt::ShiftModifier); // to "+ add"
    type(Qt::Key_Tab, Qt::ShiftModifier); // to the counter
    type(Qt::Key_Left);
    ASSERT_EQ(popup()->focusWidget()->objectName(), "chip:words");
    type(Qt::Key_Plus);
    for (int i = 0; i < 4; ++i) type(Qt::Key_Tab);
    type(Qt::Key_Space);
    ASSERT_TRUE(in_popup<Chip>("chip:sender"));
    type(Qt::Key_Plus);
    for (int i = 0; i < 6; ++i) type(Qt::Key_Tab);
    type(Qt::Key_Space);                     // the number
    type(Qt::Key_Left, Qt::ControlModifier); // before the sender
    const auto& name = desk_->tickets.ticket().save.name;
    using Kind = NamePart::Kind;
    ASSERT_EQ(name.size(), 4U);
    EXPECT_EQ(name[0], (NamePart{Kind::Words, "Bill"}));
    EXPECT_EQ(name[1].kind, Kind::Number);
    EXPECT_EQ(name[2].kind, Kind::Sender);
    EXPECT_EQ(name[3].kind, Kind::Counter);
    const QString made = "Bill 20417 Penhallow Chandlery 001";
    EXPECT_EQ(in_popup<QLabel>("waiting-names")->text(), made + ".pdf");
    EXPECT_EQ(in_popup<Chip>("chip:number")->text(), "20417");
    type(Qt::Key_Escape);
    EXPECT_EQ(desk_->names.title_of(document()), made);
    // While the pointer is on a chip, the words on the page from which it comes are circled.
    open_phrase("name");
    type(Qt::Key_Right);
    ASSERT_EQ(desk_->papers.pointed().size(), 1U);
    EXPECT_EQ(desk_->papers.pointed().front().page, document().pages.front()->id);
    const cv::Rect ringed = desk_->papers.pointed().front().boxes.front();
    EXPECT_NEAR(px_to_mm(ringed.br().x, 150), 185, 1) << "it ends where the original's words do";
    EXPECT_NEAR(px_to_mm(ringed.br().y, 150), 28, 1);
    type(Qt::Key_Escape);
    EXPECT_TRUE(wait([&] { return desk_->papers.pointed().empty(); }));

    back();
    save_current();
    EXPECT_EQ(saved_.front(), QString::fromStdString((base_ / (made.toStdString() + ".pdf")).string()));
}

TEST_F(Names, UsingAProposedNameAndRenamingAFileCanBeUndone) {
    start();
    scan_and_read("invoice");
    const QString words = desk_->papers.proposals_for(document()).size() == 1 ? "1 proposed name" : "2 proposed names";
    QTest::mouseClick(&tray(), Qt::LeftButton, {}, tray().word_rect(id(), words).center());
    const QString proposed = "2026-11-18 Penhallow Chandlery Invoice 20417";
    ASSERT_TRUE(row_of(QApplication::activePopupWidget(), proposed))
        << desk_->papers.proposals_for(document()).front().name;
    QTest::mouseClick(row_of(QApplication::activePopupWidget(), proposed), Qt::LeftButton);
    EXPECT_EQ(document().name, proposed.toStdString());
    back();
    save_current();
    const fs::path first = base_ / (proposed.toStdString() + ".pdf");
    ASSERT_TRUE(fs::exists(first));
    const std::string bytes = read_file(first);

    write_file(base_ / "Rope.pdf", "somebody else's");
    const auto rename_to = [&](const char* name) {
        key("F2");
        auto* editor = part<QLineEdit>("rename");
        ASSERT_TRUE(editor);
        editor->selectAll();
        QTest::keyClicks(editor, name);
        QTest::keyClick(editor, Qt::Key_Return);
        ASSERT_TRUE(wait([&] { return !desk_->renaming.at_work(); }));
    };
    rename_to("Rope");
    EXPECT_EQ(read_file(base_ / "Rope.pdf"), "somebody else's") << "never over another";
    EXPECT_TRUE(read_file(base_ / "Rope (2).pdf") == bytes);
    EXPECT_FALSE(fs::exists(first));
    EXPECT_EQ(document().saved_as, (base_ / "Rope (2).pdf").string());
    key("Ctrl+Z");
    ASSERT_TRUE(wait([&] { return fs::exists(first) && !desk_->renaming.at_work(); }));
    EXPECT_FALSE(fs::exists(base_ / "Rope (2).pdf"));
    EXPECT_EQ(document().saved_as, first.string());
    key("Ctrl+Shift+Z");
    ASSERT_TRUE(wait([&] { return fs::exists(base_ / "Rope (2).pdf") && !desk_->renaming.at_work(); }));

    fs::create_directory(base_ / "Bills");
    desk_->renaming.put_into(document().id, QString::fromStdString((base_ / "Bills").string()));
    ASSERT_TRUE(wait([&] { return !desk_->renaming.at_work(); }));
    EXPECT_TRUE(read_file(base_ / "Bills" / "Rope (2).pdf") == bytes);
    start(); // kept over the end
    key("Ctrl+Z");
    ASSERT_TRUE(wait([&] { return fs::exists(base_ / "Rope (2).pdf"); })) << qPrintable(trouble_);
    fs::remove(base_ / "Rope (2).pdf");
    rename_to("Gone");
    EXPECT_TRUE(trouble_.contains("no longer exists")) << qPrintable(trouble_);
}

TEST_F(Names, ASavedDocumentUsesNoNumberAndGetsNoProposals) {
    start();
    choose([](Ticket& t) { t.save.name = {{NamePart::Kind::Words, "Bill"}, {NamePart::Kind::Counter, "", 4}}; });
    scan_and_read("invoice");
    EXPECT_EQ(desk_->names.title_of(document()), "Bill 0001");
    save_current();
    ASSERT_TRUE(fs::exists(base_ / "Bill 0001.pdf"));
    ASSERT_FALSE(desk_->papers.proposals_for(document()).empty());
    for (const char* words : {"1 proposed name", "2 proposed names", "3 proposed names"})
        EXPECT_TRUE(tray().word_rect(id(), words).isEmpty()) << words;
    scan_and_read("till-receipt");
    ASSERT_EQ(desk_->tray.tray().documents.size(), 2U);
    EXPECT_EQ(desk_->names.title_of(document(1)), "Bill 0002") << "the saved one has its number already";
}

// The second document of a sender is proposed for the folder of the first one, under a name of the same form. After the
// history is deleted, nothing is proposed.
TEST_F(Names, NamesAreProposedFromTheHistory) {
    start();
    scan_and_read("invoice");
    fs::create_directory(base_ / "Bills");
    choose([&](Ticket& t) { t.save.folder = (base_ / "Bills").string(); });
    desk_->renaming.rename(document().id, "Bill of 18.11.2026, no 20417");
    save_current();
    ASSERT_TRUE(wait([&] { return desk_->papers.remembered() == 1; }));
    desk_->tray.set_next_page_starts_document(true);
    scan_and_read("invoice");
    const auto proposals = desk_->papers.proposals_for(document(1));
    ASSERT_FALSE(proposals.empty());
    EXPECT_EQ(proposals.front().folder, (base_ / "Bills").string());
    EXPECT_EQ(proposals.front().reason, "like “Bill of 18.11.2026, no 20417” in Bills");
    EXPECT_LE(proposals.size(), 3U);
    desk_->choice.set_current(page_id(1, 0));
    key("Shift+F2");
    ASSERT_TRUE(row_of(QApplication::activePopupWidget(), "ignore similar documents"));
    auto* row = row_of(QApplication::activePopupWidget(), QString::fromStdString(proposals.front().name));
    ASSERT_TRUE(row) << proposals.front().name;
    QTest::mouseClick(row, Qt::LeftButton);
    EXPECT_EQ(document(1).folder, (base_ / "Bills").string());
    back();
    saved_.clear();
    save_current();
    ASSERT_FALSE(saved_.isEmpty());
    EXPECT_TRUE(saved_.front().startsWith(QString::fromStdString((base_ / "Bills").string())))
        << qPrintable(saved_.front());
    ASSERT_TRUE(wait([&] { return desk_->papers.remembered() == 2; }));
    open_phrase("name");
    QTest::mouseClick(row_of(QApplication::activePopupWidget(), "clear the naming history"), Qt::LeftButton);
    ASSERT_TRUE(wait([&] { return desk_->papers.remembered() == 0; }));
    for (const auto& entry : fs::recursive_directory_iterator(base_.path())) { // its words are nowhere any more
        if (!entry.path().filename().string().starts_with("saved-before")) continue;
        EXPECT_FALSE(read_file(entry.path()).contains("penhallow")) << entry.path();
    }
}

TEST_F(Names, AnUnresponsiveFolderDoesNotBlockTheWindow) {
    SilentFolder silent(base_ / "far");
    if (!silent.is_there()) GTEST_SKIP() << "mounting a file system takes root";
    start();
    scan_quickly();
    QElapsedTimer since;
    qint64 worst = 0;
    QTimer beats;
    since.start();
    QObject::connect(&beats, &QTimer::timeout, [&] { worst = std::max(worst, since.restart()); });
    beats.start(0);
    choose([&](Ticket& t) { t.save.folder = (base_ / "far").string(); });
    key("Ctrl+S");
    ASSERT_TRUE(wait([&] { return !desk_->saving.why_waits(document().id).isEmpty(); }));
    EXPECT_TRUE(trouble_.contains("is not responding")) << qPrintable(trouble_);
    EXPECT_TRUE(part<Sentence>("sentence")->text().contains("not responding"));
    EXPECT_FALSE(tray().word_rect(id(), "waiting for folder").isEmpty());
    EXPECT_LT(worst, 1000) << "it was waited for"; // a hang has no end; how long it takes is for the bench
    std::printf("longest wait of the window: %lld ms\n", static_cast<long long>(worst));
    beats.stop();
    silent.answer(); // the mount is gone: below it is a folder
    ASSERT_TRUE(wait([&] { return !document().saved_as.empty(); })) << qPrintable(trouble_);
    EXPECT_TRUE(fs::exists(document().saved_as));
    EXPECT_TRUE(desk_->saving.why_waits(document().id).isEmpty());
}

TEST_F(Names, ADocumentWaitsForItsFolderAndIsSavedWhenItIsBack) {
    start();
    scan_quickly();
    const fs::path gone = base_ / "share";
    choose([&](Ticket& t) { t.save.folder = gone.string(); });
    EXPECT_TRUE(part<Sentence>("sentence")->text().contains("share (missing)"));
    key("Ctrl+Return"); // before a run it is said at once
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 2 && at_rest(); }));
    EXPECT_TRUE(trouble_.contains("does not exist") && trouble_.contains("The pages still come into the tray."))
        << qPrintable(trouble_);
    key("Ctrl+S");
    ASSERT_TRUE(wait([&] { return !desk_->saving.why_waits(document().id).isEmpty(); }));
    EXPECT_TRUE(trouble_.contains("does not exist")) << qPrintable(trouble_);
    const QRect word = tray().word_rect(id(), "waiting for folder");
    ASSERT_FALSE(word.isEmpty());
    QTest::mouseClick(&tray(), Qt::LeftButton, {}, word.center());
    ASSERT_TRUE(row_of(QApplication::activePopupWidget(), "stop waiting"));
    type(Qt::Key_Escape);
    choose([](Ticket&) {}); // the ticket has another folder meanwhile: it is saved as was said
    fs::create_directory(gone);
    ASSERT_TRUE(wait([&] { return !document().saved_as.empty(); }));
    EXPECT_EQ(fs::path(document().saved_as).parent_path(), gone);
}

TEST_F(Names, FoldersAreChosenCreatedAndBuiltFromFacts) {
    start();
    scan_and_read("invoice");
    fs::create_directory(base_ / "Bills");
    choose([&](Ticket& t) {
        using Kind = NamePart::Kind;
        t.save.where = Ticket::Save::Where::Asked;
        t.save.within = {{Kind::Sender, "", 3, 1}, {Kind::Slash, ""}, {Kind::PaperDate, "yyyy"}, {Kind::Words, "in"}};
    });
    EXPECT_TRUE(part<Sentence>("sentence")->text().contains("a folder you choose when saving"));
    key("Ctrl+S");
    auto* path = part<QLineEdit>("folder-path");
    const QWidget* focus = QApplication::focusWidget();
    ASSERT_TRUE(wait([&] { return path->isVisible(); }));
    EXPECT_EQ(QApplication::focusWidget(), focus) << "a question takes the focus from nobody";
    press("folder-leave"); // given up: nothing is saved, nothing is wrong
    ASSERT_TRUE(wait([&] { return at_rest(); }));
    EXPECT_TRUE(saved_.isEmpty() && trouble_.isEmpty()) << qPrintable(trouble_);
    back();
    key("Ctrl+S");
    ASSERT_TRUE(wait([&] { return path->isVisible(); }));
    path->setFocus();
    path->selectAll();
    QTest::keyClicks(path, QString::fromStdString((base_ / "Bills").string()));
    QTest::keyClick(path, Qt::Key_Return);
    ASSERT_TRUE(wait([&] { return !saved_.isEmpty() && at_rest(); })) << qPrintable(trouble_);
    EXPECT_EQ(fs::path(saved_.front().toStdString()).parent_path(), base_ / "Bills" / "Penhallow" / "2026 in");
    // A folder is created if the ticket allows it; a temporary folder is private.
    const auto save_again = [&](const std::function<void(Ticket&)>& how) {
        desk_->edits.turn(1);
        choose([&](Ticket& t) {
            t.save.within.clear();
            how(t);
        });
        saved_.clear();
        back();
        key("Ctrl+S");
        ASSERT_TRUE(wait([&] { return !saved_.isEmpty() && at_rest(); })) << qPrintable(trouble_);
    };
    save_again([&](Ticket& t) {
        t.save.where = Ticket::Save::Where::Fixed;
        t.save.folder = (base_ / "new" / "one").string();
        t.save.make_folder = true;
    });
    EXPECT_EQ(fs::path(saved_.front().toStdString()).parent_path(), base_ / "new" / "one");
    save_again([&](Ticket& t) { t.save.where = Ticket::Save::Where::Temporary; });
    const fs::path look = fs::path(saved_.front().toStdString()).parent_path();
    EXPECT_EQ(fs::status(look).permissions(), fs::perms::owner_all);
    EXPECT_EQ(desk_->places_used.used().front(), QString::fromStdString((base_ / "new" / "one").string()));
    fs::remove_all(look);
}

TEST_F(Names, UndoMovesAFileBackOnlyIfItsNameIsFreeAndWithAllItsFurtherFiles) {
    start();
    const fs::path disk = base_ / "disk";
    fs::create_directory(disk);
    const bool mounted = ::mount("yelvin", disk.c_str(), "tmpfs", 0, "size=8m") == 0;
    scan_quickly();
    choose([&](Ticket& t) {
        t.make.format = Format::Jpeg;
        if (mounted) t.make.also = {{Format::Png, {}, 0, disk.string()}};
    });
    save_current();
    const fs::path first = document().saved_as;
    desk_->renaming.rename(document().id, "Bill");
    ASSERT_TRUE(wait([&] { return fs::path(document().saved_as).stem() == "Bill"; }));
    write_file(first, "somebody else's");
    key("Ctrl+Z");
    ASSERT_TRUE(wait([&] { return !desk_->renaming.at_work(); }));
    EXPECT_EQ(read_file(first), "somebody else's");
    EXPECT_EQ(fs::path(document().saved_as).stem(), "Bill") << "it stays, and the tray says so";
    EXPECT_TRUE(fs::exists(document().saved_as));
    if (!mounted) GTEST_SKIP() << "this user may not mount a file system of its own";
    ASSERT_TRUE(fs::exists(disk / "Bill.png"));
    ASSERT_EQ(::mount("", disk.c_str(), "", MS_REMOUNT | MS_RDONLY, ""), 0);
    trouble_.clear();
    desk_->renaming.rename(document().id, "Lease");
    EXPECT_TRUE(wait([&] { return !trouble_.isEmpty() && !desk_->renaming.at_work(); }));
    EXPECT_EQ(fs::path(document().saved_as).stem(), "Bill");
    EXPECT_TRUE(fs::exists(document().saved_as)) << "the one that had moved is back";
    ::umount2(disk.c_str(), MNT_DETACH);
}

}
}
