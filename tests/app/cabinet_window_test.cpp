// The cabinet in the real window, used with its keys: finding, filtering, walking through results, opening, renaming,
// moving, returning documents to the tray, removing entries.
#include "app/cabinet/cabinet_view.h"
#include "app/cabinet/narrow_column.h"
#include "app/cabinet/result_list.h"
#include "core/raster/image_file.h"
#include "window_fixture.h"

#include <QDateTime>

#include <fmt/format.h>

#include <set>

namespace fs = std::filesystem;

namespace yelvin::test {
namespace {

// Records what is opened.
class WritingDown : public StandInOutside {
  public:
    WritingDown(const QString& folder, const Executor& elsewhere, QStringList& opened)
        : StandInOutside(folder, elsewhere), opened_(opened) {}
    void open(const std::string&, const QStringList& files, Done done) override {
        opened_ += files;
        done(QString());
    }

  private:
    QStringList& opened_;
};

class CabinetWindow : public Window {
  protected:
    QStringList opened_;
    CabinetWindow() {
        outside_ = [this](Pools& pools) {
            return std::make_unique<WritingDown>(QString::fromStdString(base_.path().string()), pools.errands(),
                                                 opened_);
        };
    }
    fs::path folder(const char* name) const { return base_ / name; }
    void fill(const std::string& name, const std::vector<std::string>& lines, const char* in = "Old") {
        fs::create_directories(folder(in));
        write_file(folder(in) / (name + ".pdf"), pdf_with_text(lines));
    }
    bool calm() const { return !desk_->cabinet.at_work() && !desk_->in_cabinet.is_looking(); }
    void open_cabinet() {
        key("Ctrl+F");
        ASSERT_TRUE(wait([&] { return desk_->cabinet.is_open() && calm(); }));
        ASSERT_EQ(QApplication::focusWidget(), entry());
    }
    QLineEdit* entry() const { return part<QLineEdit>("cabinet-entry"); }
    ResultList* results() const { return part<ResultList>("results"); }
    void type(const QString& words) {
        entry()->setFocus();
        QTest::keyClick(entry(), Qt::Key_A, Qt::ControlModifier);
        QTest::keyClick(entry(), Qt::Key_Backspace);
        QTest::keyClicks(entry(), words);
        ASSERT_TRUE(wait([&] { return calm(); }));
    }
    std::vector<std::string> names() const {
        std::vector<std::string> out;
        for (const SearchResult& each : desk_->in_cabinet.found().best) out.push_back(each.paper.file.stem().string());
        std::ranges::sort(out);
        return out;
    }
    // Types into the sheet that is open.
    void answer(const QString& words) {
        const QPointer<QWidget> sheet = QApplication::activePopupWidget();
        ASSERT_TRUE(sheet && sheet->focusWidget());
        QTest::keyClicks(sheet->focusWidget(), words);
        QTest::keyClick(sheet->focusWidget(), Qt::Key_Return);
        ASSERT_TRUE(wait([&] { return !sheet || !sheet->isVisible(); })) << "what was typed was not taken";
        window_->activateWindow();
        ASSERT_TRUE(QTest::qWaitForWindowActive(window_.get()));
        ASSERT_TRUE(wait([&] { return calm(); }));
    }
    void take_in(const char* name) {
        press(desk_->in_cabinet.found().of == 0 ? "cabinet-empty-take-in" : "cabinet-take-in");
        answer(QString::fromStdString(folder(name).string()));
        ASSERT_TRUE(wait([&] {
            const auto& taking = desk_->cabinet.taking();
            return taking.of > 0 && taking.done == taking.of && calm();
        }));
    }
    QString words(const char* label) const { return part<QLabel>(label)->text(); }
};

using SearchResults = std::vector<std::string>;

TEST_F(CabinetWindow, AFolderIsAddedAndItsDocumentsAreFoundFilteredAndBrowsedByKeyboard) {
    for (int i = 0; i < 8; ++i)
        fill(fmt::format("log {}", i), {fmt::format("Log sheet number{}", i), "Patient Heron up at eight"});
    fill("lease", {"Lease of a mooring", "the mooring is for Patient Heron"}, "Old/Leases");
    write_file(folder("Old") / "note.txt", "not a paper");
    fill("bill", {"two mooring pins of Penhallow"}, "Old/Bills");
    start();
    open_cabinet();
    EXPECT_TRUE(words("cabinet-empty").contains("The cabinet is empty"));
    take_in("Old");
    EXPECT_EQ(words("cabinet-count"), "10 documents");
    type("mooring");
    EXPECT_EQ(names(), (SearchResults{"bill", "lease"}));
    EXPECT_EQ(words("cabinet-count"), "2 of 10 documents");
    type("mooring heron");
    EXPECT_EQ(names(), SearchResults{"lease"});
    ASSERT_TRUE(wait([&] { return desk_->in_cabinet.matches() == 3 && !desk_->in_cabinet.picture().isNull(); }));
    EXPECT_FALSE(desk_->in_cabinet.is_drawn_from_words());
    const int first = desk_->in_cabinet.match();
    QTest::keyClick(entry(), Qt::Key_PageDown);
    EXPECT_EQ(desk_->in_cabinet.match(), (first + 1) % 3);
    QTest::keyClick(entry(), Qt::Key_PageUp);
    EXPECT_EQ(words("cabinet-match"), QString("match %1 of 3 · page 1 of 1").arg(first + 1));
    // While the user types, Down walks through the results and Enter goes to the list; letters typed in the list go to
    // the entry.
    type("heron");
    EXPECT_EQ(names().size(), 9U);
    QTest::keyClick(entry(), Qt::Key_Down);
    EXPECT_EQ(desk_->in_cabinet.current_row(), 1);
    QTest::keyClick(entry(), Qt::Key_Return);
    EXPECT_EQ(QApplication::focusWidget(), results());
    QTest::keyClick(results(), Qt::Key_X);
    EXPECT_EQ(entry()->text(), "heronx");
    ASSERT_TRUE(wait([&] { return calm(); }));
    EXPECT_TRUE(words("cabinet-empty").contains("No match in 10 documents"));
    // Filters by a folder with the keys; Esc removes the filter.
    type("mooring");
    QApplication::processEvents();
    auto* leases = part<CountRow>("narrow-folder-" + QString::fromStdString(folder("Old/Leases").string()));
    ASSERT_TRUE(leases);
    leases->setFocus();
    QTest::keyClick(leases, Qt::Key_Return);
    ASSERT_TRUE(wait([&] { return calm() && names() == SearchResults{"lease"}; }));
    key("Esc");
    ASSERT_TRUE(wait([&] { return calm() && names().size() == 2; }));
    key("Esc");
    EXPECT_FALSE(part<CabinetView>("cabinet")->isVisible());
    // The query stays, and the filters too, over a restart.
    start();
    open_cabinet();
    EXPECT_EQ(desk_->in_cabinet.found().of, 10);
}

TEST_F(CabinetWindow, TheSelectionStaysWhileFilesAreAdded) {
    for (const char* name : {"heron", "kestrel", "wren", "swift"}) fill(name, {"The ring number of the bird", name});
    start(false);
    open_cabinet();
    take_in("Old");
    type("ring");
    ASSERT_TRUE(wait([&] { return results()->model()->rowCount() == 4 && calm(); }));
    results()->setCurrentIndex(results()->model()->index(2, 0));
    results()->selectionModel()->select(results()->model()->index(0, 0), QItemSelectionModel::Select);
    const auto chosen = results()->chosen();
    ASSERT_EQ(chosen.size(), 2U);
    const long long current = desk_->in_cabinet.current()->paper.id;
    fill("ruff", {"The ring number of another bird"});
    ASSERT_TRUE(wait([&] { return results()->model()->rowCount() == 5 && calm(); }));
    EXPECT_EQ(std::set(chosen.begin(), chosen.end()),
              (std::set<long long>{results()->chosen()[0], results()->chosen()[1]}));
    EXPECT_EQ(results()->chosen().size(), 2U);
    EXPECT_EQ(desk_->in_cabinet.current()->paper.id, current);
}

TEST_F(CabinetWindow, ASavedDocumentIsFoundAtOnceAndReturnsToTheTray) {
    start();
    lay("lease-1", 0);
    choose([](Ticket& t) {
        t.how.dpi = 150;
        t.how.ink = Ink::Grey;
        t.read.languages = {"eng"};
        t.from.paper = "A4";
        t.pages.turn_upright = false;
    });
    key("Ctrl+Return");
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 1 && at_rest(); }));
    key("Ctrl+S");
    ASSERT_TRUE(wait([&] { return !saved_.isEmpty() && at_rest(); })) << qPrintable(trouble_);
    open_cabinet();
    type("patient heron quillfeather");
    ASSERT_EQ(names().size(), 1U);
    EXPECT_EQ(desk_->in_cabinet.current()->paper.ticket, desk_->tickets.ticket().name);
    ASSERT_TRUE(wait([&] { return desk_->in_cabinet.matches() >= 3; }));
    // A document renamed in the tray is found under its new name and in its new place.
    key("Esc");
    desk_->renaming.rename(desk_->tray.tray().documents.front()->id, "Heronry");
    ASSERT_TRUE(wait([&] { return !desk_->renaming.at_work() && calm(); }));
    open_cabinet();
    type("heronry");
    EXPECT_EQ(names(), SearchResults{"Heronry"});
    press("cabinet-back");
    EXPECT_FALSE(part<CabinetView>("cabinet")->isVisible());
    EXPECT_EQ(desk_->tray.tray().page_count(), 1U) << "it is in the tray still";
    // A cleared document returns to the tray with its original, to be corrected and saved again.
    const Page before = *desk_->tray.tray().documents[0]->pages[0];
    press("put-away");
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 0 && desk_->kept.all().size() == 1; }));
    start();
    ASSERT_TRUE(wait([&] { return desk_->kept.all().size() == 1; }));
    EXPECT_EQ(part<QPushButton>("keeping")->text(), "originals: 30 days");
    open_cabinet();
    type("heronry");
    ASSERT_EQ(names(), SearchResults{"Heronry"});
    press("cabinet-back");
    ASSERT_EQ(desk_->tray.tray().page_count(), 1U);
    EXPECT_EQ(desk_->choice.current()->original, before.original);
    EXPECT_EQ(desk_->choice.current()->recipe, before.recipe);
    ASSERT_TRUE(wait([&] { return desk_->kept.all().empty() && at_rest(); }));
    key("]");
    saved_.clear();
    key("Ctrl+S");
    ASSERT_TRUE(wait([&] { return !saved_.isEmpty() && at_rest(); })) << qPrintable(trouble_);
    EXPECT_TRUE(saved_[0].endsWith("/Heronry (2).pdf")) << qPrintable(saved_[0]);
    // If its original is no longer kept, it returns as its file shows it.
    press("put-away");
    ASSERT_TRUE(wait([&] { return desk_->kept.all().size() == 1; }));
    press("keeping");
    QWidget* sheet = QApplication::activePopupWidget();
    ASSERT_TRUE(sheet && sheet->focusWidget());
    for (const int key : {Qt::Key_Up, Qt::Key_Up}) QTest::keyClick(sheet->focusWidget(), static_cast<Qt::Key>(key));
    QTest::keyClick(sheet->focusWidget(), Qt::Key_Return); // not at all
    window_->activateWindow();
    ASSERT_TRUE(QTest::qWaitForWindowActive(window_.get()));
    ASSERT_TRUE(wait([&] { return desk_->kept.all().empty(); }));
    open_cabinet();
    type("heronry");
    press("cabinet-back");
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 1 && at_rest(); }));
    EXPECT_NE(desk_->choice.current()->original, before.original);
}

// Saves the list for other programs, removes old entries, adds text to a PDF without any, and notices a file that
// another program has rewritten in place.
TEST_F(CabinetWindow, SavesAListRemovesOldEntriesAndMakesPdfsSearchable) {
    fill("old", {"a paper, \"ancient\" and about a lock"});
    fill("new", {"a paper about another lock"});
    const QDateTime long_ago = QDateTime::currentDateTime().addYears(-6);
    fs::last_write_time(folder("Old") / "old.pdf", std::chrono::file_clock::from_sys(std::chrono::sys_seconds(
                                                       std::chrono::seconds(long_ago.toSecsSinceEpoch()))));
    write_file(folder("Old") / "scan.tif", *encode_tiff(scan("till-receipt", 0, 200, Ink::Grey, {60, 90, 90, 150})));
    ASSERT_EQ(
        run({"tiff2pdf", "-o", (folder("Old") / "scan.pdf").string(), (folder("Old") / "scan.tif").string()}).status,
        0);
    fs::remove(folder("Old") / "scan.tif");
    start();
    ASSERT_TRUE(wait([&] { return desk_->cabinet.is_open() && !desk_->cabinet.at_work(); }));
    desk_->cabinet.watch_folder(QString::fromStdString(folder("Old").string()), WithoutText::Leave);
    open_cabinet();
    ASSERT_TRUE(wait([&] { return calm() && desk_->in_cabinet.found().of == 3; }));
    type("lock");
    bool listed = false;
    const fs::path list = base_ / "list.csv";
    desk_->in_cabinet.save_list(QString::fromStdString(list.string()),
                                [&](const Result<int>& papers) { listed = papers == 2; });
    ASSERT_TRUE(wait([&] { return listed; }));
    const std::string csv = read_file(list);
    EXPECT_EQ(std::ranges::count(csv, '\n'), 3);
    EXPECT_NE(csv.find(",\"\"\"ancient\"\" and about a lock\"\r\n"), std::string::npos) << csv;
    EXPECT_NE(csv.find("new.pdf," + folder("Old").string() + ",here,"), std::string::npos) << csv;
    // The third row is "older than five years".
    press("cabinet-older");
    ASSERT_TRUE(wait([&] { return QApplication::activePopupWidget() != nullptr; }));
    QWidget* sheet = QApplication::activePopupWidget();
    QTest::keyClick(sheet->focusWidget(), Qt::Key_Down);
    QTest::keyClick(sheet->focusWidget(), Qt::Key_Down);
    QTest::keyClick(sheet->focusWidget(), Qt::Key_Return);
    window_->activateWindow();
    ASSERT_TRUE(QTest::qWaitForWindowActive(window_.get()));
    ASSERT_TRUE(wait([&] { return calm() && names() == SearchResults{"new"}; }));
    results()->setFocus();
    key("Ctrl+Z");
    ASSERT_TRUE(wait([&] { return calm() && names() == (SearchResults{"new", "old"}); }));
    type("scan");
    ASSERT_EQ(desk_->in_cabinet.current()->paper.text_state, TextState::Missing);
    press("cabinet-searchable");
    ASSERT_TRUE(wait([&] {
        return calm() && desk_->in_cabinet.current() &&
               desk_->in_cabinet.current()->paper.text_state == TextState::Read;
    })) << qPrintable(trouble_);
    const auto words = words_of_pdf(folder("Old") / "scan.pdf");
    ASSERT_GT(words.size(), 10U);
    type(QString::fromStdString(words[0].text));
    EXPECT_EQ(names(), SearchResults{"scan"});
    // The file is rewritten in place; its folder does not change.
    write_file(folder("Old") / "new.pdf", pdf_with_text({"a paper about a windlass now"}));
    type("windlass");
    ASSERT_TRUE(wait([&] { return calm() && names() == SearchResults{"new"}; }));
}

TEST_F(CabinetWindow, RenamingMovingAndRemovingCanBeUndone) {
    for (const char* name : {"heron", "swan", "tern"})
        fill(name, {fmt::format("a paper about the {} and its lock", name)});
    fs::create_directories(folder("New"));
    start();
    open_cabinet();
    take_in("Old");
    type("swan");
    ASSERT_EQ(names(), SearchResults{"swan"});
    key("F2");
    answer("cygnet"); // in place of the name, which is chosen
    EXPECT_TRUE(fs::exists(folder("Old") / "cygnet.pdf")) << qPrintable(trouble_);
    ASSERT_TRUE(wait([&] { return names() == SearchResults{"cygnet"}; }));
    type("lock");
    ASSERT_EQ(names().size(), 3U);
    results()->setFocus();
    key("Ctrl+A");
    press("cabinet-move");
    answer(QString::fromStdString(folder("New").string()));
    for (const char* name : {"heron", "cygnet", "tern"})
        EXPECT_TRUE(fs::exists(folder("New") / (std::string(name) + ".pdf")));
    ASSERT_TRUE(wait([&] { return calm() && desk_->in_cabinet.found().folders.size() == 1; }));
    QTest::keyClick(results(), Qt::Key_Delete);
    ASSERT_TRUE(wait([&] { return calm() && names().size() < 3; }));
    for (int i = 0; i < 3; ++i) {
        key("Ctrl+Z");
        ASSERT_TRUE(wait([&] { return calm(); }));
    }
    EXPECT_EQ(names(), (SearchResults{"heron", "swan", "tern"}));
    for (const char* name : {"heron", "swan", "tern"})
        EXPECT_TRUE(fs::exists(folder("Old") / (std::string(name) + ".pdf")));
}

TEST_F(CabinetWindow, AMovedFileIsFollowedAndAMissingOneKeepsItsEntry) {
    for (const char* name : {"heron", "swan"}) fill(name, {fmt::format("a paper about the {} and its lock", name)});
    fs::create_directories(folder("Old/2026"));
    start();
    open_cabinet();
    take_in("Old");
    type("heron");
    // Another program moves and renames the file while the window is open.
    fs::rename(folder("Old") / "heron.pdf", folder("Old/2026") / "grey bird.pdf");
    ASSERT_TRUE(wait([&] { return names() == SearchResults{"grey bird"}; }));
    QTest::keyClick(entry(), Qt::Key_Return);
    QTest::keyClick(results(), Qt::Key_Return);
    ASSERT_EQ(opened_.size(), 1);
    EXPECT_TRUE(opened_[0].endsWith("2026/grey bird.pdf"));
    // A missing file is reported, its entry stays, and its page is drawn from its words.
    type("swan");
    fs::remove(folder("Old") / "swan.pdf");
    ASSERT_TRUE(wait([&] { return calm() && desk_->in_cabinet.current()->paper.place == Place::Gone; }));
    ASSERT_TRUE(wait([&] { return desk_->in_cabinet.is_drawn_from_words() && !desk_->in_cabinet.picture().isNull(); }));
    EXPECT_TRUE(words("cabinet-match").contains("file missing"));
    // A missing folder says nothing about the files in it.
    window_.reset();
    desk_.reset();
    fs::rename(folder("Old"), base_ / ".hidden");
    start();
    open_cabinet();
    type("bird");
    ASSERT_EQ(names(), SearchResults{"grey bird"});
    ASSERT_TRUE(wait([&] { return calm() && desk_->in_cabinet.current()->paper.place == Place::Away; }));
    // A new file in a watched folder is added automatically.
    fs::rename(base_ / ".hidden", folder("Old"));
    start();
    fill("late", {"a paper that came later about a windlass"});
    open_cabinet();
    ASSERT_TRUE(wait([&] { return calm() && desk_->in_cabinet.found().of == 3; }));
    type("windlass");
    EXPECT_EQ(names(), SearchResults{"late"});
    type("bird");
    EXPECT_EQ(desk_->in_cabinet.current()->paper.place, Place::Here);
}

}
}
