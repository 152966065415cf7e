// The actions after saving in the real window: by the ticket and by hand, also when something outside of the program
// fails.
#include "app/errands_window.h"

#include "app/errands/stand_in.h"

#include <QCheckBox>
#include <QClipboard>
#include <QContextMenuEvent>
#include <QDrag>
#include <QMimeData>

namespace yelvin::test {
namespace {

// The answers from outside may come in any way, as long as they come.
class ErrandsInEachWay : public ErrandsWindow, public testing::WithParamInterface<Comes> {
  protected:
    ErrandsInEachWay() { asked_.answers.come = GetParam(); }
};
INSTANTIATE_TEST_SUITE_P(Answers, ErrandsInEachWay, testing::Values(Comes::OnTime, Comes::Late, Comes::Twice),
                         how_it_comes);

TEST_P(ErrandsInEachWay, RunInOrderAndAFailureDoesNotStopTheOthers) {
    start_recorded();
    asked_.fails = {"show"};
    for (const Errand each : {Errand::Print, Errand::Mail}) desk_->errands.use(each, true);
    save_with({Errand::Print, Errand::Show, Errand::Open, Errand::Mail, Errand::Clipboard});
    EXPECT_EQ(asked_.what, (QStringList{"print 1x1", "show", "open 1", "mail"}));
    EXPECT_EQ(trouble_, "show did not work.");
    EXPECT_EQ(state_of(Errand::Show), ErrandState::Is::Failed);
    for (const Errand each : {Errand::Print, Errand::Open, Errand::Mail, Errand::Clipboard})
        EXPECT_EQ(state_of(each), ErrandState::Is::Done);
    ASSERT_EQ(QApplication::clipboard()->mimeData()->urls().size(), 1);
    EXPECT_EQ(QApplication::clipboard()->mimeData()->urls().front().toLocalFile(), saved_.front());
    ASSERT_EQ(asked_.mails.size(), 1U);
    EXPECT_EQ(asked_.mails[0].files.front().string(), saved_.front().toStdString());
    EXPECT_EQ(asked_.mails[0].subject, QFileInfo(saved_.front()).completeBaseName().toStdString());
    // Starts it again with a click on the action that failed.
    asked_.fails.clear();
    press_on_tab(Errand::Show);
    ASSERT_TRUE(wait([&] { return state_of(Errand::Show) == ErrandState::Is::Done; }));
    EXPECT_EQ(asked_.what.back(), "show");
    // And with the menu key.
    auto& strip = window_->tray_strip();
    QContextMenuEvent menu(QContextMenuEvent::Keyboard, {}, strip.mapToGlobal(QPoint(10, 10)));
    QApplication::sendEvent(&strip, &menu);
    ASSERT_TRUE(wait([&] { return QApplication::activePopupWidget() != nullptr; }));
    auto* row = row_of(QApplication::activePopupWidget(), "open it");
    ASSERT_TRUE(row);
    row->setFocus();
    QTest::keyClick(row, Qt::Key_Return);
    ASSERT_TRUE(wait([&] { return asked_.what.back() == "open 1"; }));
}

TEST_P(ErrandsInEachWay, ThePictureOrTheTextIsCopiedToTheClipboard) {
    start_recorded();
    choose([](Ticket& t) { t.then.clipboard = ClipboardAs::Picture; });
    save_with({Errand::Clipboard});
    EXPECT_EQ(state_of(Errand::Clipboard), ErrandState::Is::Done) << qPrintable(trouble_);
    EXPECT_EQ(QApplication::clipboard()->image().size(), QImage(saved_.front()).size());
    EXPECT_FALSE(QApplication::clipboard()->image().isNull());
    // Nothing was read yet: the window says so. After reading, the words are on the clipboard.
    choose([](Ticket& t) { t.then.clipboard = ClipboardAs::Text; });
    const auto save_again = [&](const char* name) {
        desk_->edits.rename_document(QString::fromStdString(document()), name);
        saved_.clear();
        key("Ctrl+S");
        ASSERT_TRUE(wait([&] { return !saved_.isEmpty() && at_rest() && !desk_->errands.at_work() && is_over(); }));
    };
    save_again("unread");
    EXPECT_EQ(state_of(Errand::Clipboard), ErrandState::Is::Failed);
    EXPECT_TRUE(trouble_.contains("unread has no text, so")) << qPrintable(trouble_);
    choose([](Ticket& t) {
        t.make.format = Format::Text;
        t.read.languages = {"eng"};
    });
    save_again("read");
    EXPECT_EQ(state_of(Errand::Clipboard), ErrandState::Is::Done) << qPrintable(trouble_);
    EXPECT_EQ(QApplication::clipboard()->text().simplified(),
              QString::fromStdString(read_file(saved_.front().toStdString())).simplified());
}

TEST_F(ErrandsWindow, UnusedActionsAreHidden) {
    start_recorded();
    const auto said = [&] { return part<Sentence>("sentence")->text(); };
    EXPECT_FALSE(said().contains("then")) << qPrintable(said());
    const auto open_sheet = [&](const char* phrase) {
        part<TicketBar>()->open_phrase(phrase);
        QApplication::processEvents();
        return QApplication::activePopupWidget();
    };
    const auto tick = [&](QWidget* sheet, const QString& name) {
        auto* box = sheet->findChild<QCheckBox*>(name);
        ASSERT_TRUE(box) << qPrintable(name);
        box->setFocus();
        QTest::keyClick(box, Qt::Key_Space);
    };
    QWidget* sheet = open_sheet("then");
    ASSERT_TRUE(sheet);
    EXPECT_TRUE(sheet->findChild<QCheckBox*>("then-0")) << "open";
    EXPECT_FALSE(sheet->findChild<QCheckBox*>("then-4")) << "mail is not used";
    tick(sheet, "then-0");
    tick(sheet, "at-once");
    sheet->close();
    EXPECT_TRUE(said().contains(", save automatically, then open it, and")) << qPrintable(said());
    sheet = open_sheet("uses");
    ASSERT_TRUE(sheet);
    tick(sheet, "use-4");
    tick(sheet, "use-2"); // show: no longer
    sheet->close();
    sheet = open_sheet("then");
    ASSERT_TRUE(sheet->findChild<QCheckBox*>("then-4"));
    EXPECT_FALSE(sheet->findChild<QCheckBox*>("then-2"));
    sheet->close();
    // The choice is remembered.
    start_recorded();
    EXPECT_TRUE(desk_->errands.uses(Errand::Mail));
    EXPECT_FALSE(desk_->errands.uses(Errand::Show));
    // If nothing happens after saving, the sentence does not mention it.
    for (const Errand each : desk_->errands.used()) desk_->errands.use(each, false);
    choose([](Ticket& t) { t.then = {}, t.save.at_once = false; });
    EXPECT_FALSE(said().contains("then"));
}

TEST_F(ErrandsWindow, AnInvalidAddressIsRejectedInTheSheet) {
    start_recorded();
    desk_->errands.use(Errand::Mail, true);
    choose([](Ticket& t) {
        t.then.errands = {Errand::Mail};
        t.then.mail.to = {"office@example.org"};
    });
    const auto type = [&](const QString& text) {
        part<TicketBar>()->open_phrase("then");
        QApplication::processEvents();
        auto* to = QApplication::activePopupWidget()->findChild<QLineEdit*>("mail-to");
        ASSERT_TRUE(to);
        to->selectAll();
        QTest::keyClicks(to, text);
        QTest::keyClick(to, Qt::Key_Return);
        QApplication::activePopupWidget()->close();
    };
    for (const char* wrong : {"the keeper", "a@b.example, <x@example.net", "keeper@"}) {
        trouble_.clear();
        type(wrong);
        EXPECT_TRUE(trouble_.contains("is not an e-mail address")) << wrong << ": " << qPrintable(trouble_);
        EXPECT_EQ(desk_->tickets.ticket().then.mail.to, std::vector<std::string>{"office@example.org"}) << wrong;
    }
    type("Top Lock <keeper@example.org>, weir@example.org");
    EXPECT_EQ(desk_->tickets.ticket().then.mail.to,
              (std::vector<std::string>{"Top Lock <keeper@example.org>", "weir@example.org"}));
}

TEST_P(ErrandsInEachWay, AsksAboutAnEmailThatIsTooLarge) {
    start_recorded();
    desk_->errands.use(Errand::Mail, true);
    choose([&](Ticket& t) {
        t.make.format = Format::Bmp; // half a megabyte a page
        t.how.dpi = 150;
        t.how.ink = Ink::Grey;
        t.from.paper = "A6";
        t.read.languages.clear();
        t.then.errands = {Errand::Mail};
        t.then.mail = {{"office@example.org"}, {}, {{NamePart::Kind::Words, "The canal"}}, 1};
    });
    for (const size_t pages : {1U, 2U}) {
        lay("till-receipt", 0);
        key("Ctrl+Return");
        ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == pages && at_rest(); }));
    }
    key("Ctrl+S");
    ASSERT_TRUE(wait([&] { return saved_.size() == 2 && at_rest() && is_over(); }));
    ASSERT_EQ(state_of(Errand::Mail), ErrandState::Is::Failed) << "two pictures in one mail are more than a megabyte";
    EXPECT_TRUE(asked_.mails.empty());
    EXPECT_TRUE(trouble_.contains("exceeds your e-mail limit of 1 MB")) << qPrintable(trouble_);
    press_on_tab(Errand::Mail);
    ASSERT_TRUE(wait([&] { return QApplication::activePopupWidget() != nullptr; }));
    auto* row = row_of(QApplication::activePopupWidget(), "in 2 e-mails");
    ASSERT_TRUE(row);
    QTest::mouseClick(row, Qt::LeftButton);
    ASSERT_TRUE(wait([&] { return state_of(Errand::Mail) == ErrandState::Is::Done; }));
    ASSERT_EQ(asked_.mails.size(), 2U);
    EXPECT_TRUE(asked_.mails[0].subject.ends_with(" (1 of 2)"));
    EXPECT_EQ(asked_.mails[1].text, "The canal");
    EXPECT_EQ(asked_.mails[1].to, std::vector<std::string>{"office@example.org"});
}

TEST_P(ErrandsInEachWay, AnEmailThatIsTooLargeCanHaveALowerResolution) {
    start_recorded();
    desk_->errands.use(Errand::Mail, true);
    lay("till-receipt", 0);
    choose([&](Ticket& t) {
        t.make.format = Format::Png;
        t.make.per = Per::Document;
        t.how.dpi = 400;
        t.how.ink = Ink::Colour;
        t.from.paper = "A6";
        t.read.languages.clear();
        t.then.errands = {Errand::Mail};
        t.then.mail = {{}, {{NamePart::Kind::Barcode, ""}, {NamePart::Kind::Words, "for you"}}, {}, 1};
    });
    key("Ctrl+Return");
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 1 && at_rest(); }));
    desk_->tray.change(with_document_barcode(desk_->tray.tray(), document(), "Top Lock"));
    key("Ctrl+S");
    ASSERT_TRUE(wait([&] { return !saved_.isEmpty() && at_rest() && is_over(); }));
    const auto bytes = QFileInfo(saved_.front()).size();
    ASSERT_EQ(state_of(Errand::Mail), ErrandState::Is::Failed) << bytes;
    press_on_tab(Errand::Mail);
    ASSERT_TRUE(wait([&] { return QApplication::activePopupWidget() != nullptr; }));
    SheetRow* row = nullptr;
    for (auto* each : QApplication::activePopupWidget()->findChildren<SheetRow*>())
        if (each->text().startsWith("at lower resolution")) row = each;
    ASSERT_TRUE(row) << bytes;
    row->setFocus();
    QTest::keyClick(row, Qt::Key_Return);
    ASSERT_TRUE(wait([&] { return state_of(Errand::Mail) == ErrandState::Is::Done; })) << qPrintable(trouble_);
    ASSERT_EQ(asked_.mails.size(), 1U);
    EXPECT_EQ(asked_.mails[0].subject, "Top Lock for you");
    const std::filesystem::path sent = asked_.mails[0].files.front();
    EXPECT_EQ(sent.filename().string(), QFileInfo(saved_.front()).fileName().toStdString());
    EXPECT_LT(std::filesystem::file_size(sent), 1'000'000U * 3 / 4);
    const auto page = read_page(sent);
    ASSERT_TRUE(page);
    EXPECT_LT(page->raster.dpi, 400);
    EXPECT_NEAR(px_to_mm(page->raster.pixels.cols, page->raster.dpi), 105, 0.5) << "as large as before";
    EXPECT_EQ(QFileInfo(saved_.front()).size(), bytes) << "the saved one stays";
    EXPECT_EQ(desk_->tray.tray().documents.front()->saved_as, saved_.front().toStdString());
}

// Records what is dragged out of the window. The drag has its own event loop, which sometimes ends by itself without a
// screen, so it is looked for at every event.
class DragWatch : public QObject {
  public:
    explicit DragWatch(QObject& from) : from_(from) {
        qApp->installEventFilter(this);
        startTimer(0);
    }
    QStringList files;
    bool eventFilter(QObject*, QEvent*) override {
        look();
        return false;
    }
    void timerEvent(QTimerEvent*) override { look(); }

  private:
    QObject& from_;
    void look() {
        const auto* drag = files.isEmpty() ? from_.findChild<QDrag*>() : nullptr;
        if (!drag || !drag->mimeData()) return;
        for (const QUrl& url : drag->mimeData()->urls()) files.append(url.toLocalFile());
        QMetaObject::invokeMethod(
            this, [] { QDrag::cancel(); }, Qt::QueuedConnection);
    }
};

TEST_F(ErrandsWindow, APageCanBeDraggedOutAsAFile) {
    start_recorded();
    scan_quickly();
    scan_quickly("invoice");
    choose([](Ticket& t) { t.make.format = Format::Jpeg; });
    QApplication::processEvents();
    auto& strip = window_->tray_strip();
    const QPoint from = strip.page_rect(page_id(0, 1)).center();
    QTest::mousePress(&strip, Qt::LeftButton, {}, from);
    DragWatch watch(strip);
    for (const QPoint at : {from - QPoint(0, 12), QPoint(from.x(), -200)}) {
        QMouseEvent move(QEvent::MouseMove, at, strip.mapToGlobal(at), Qt::NoButton, Qt::LeftButton, {});
        QApplication::sendEvent(&strip, &move);
    }
    ASSERT_TRUE(wait([&] { return !watch.files.isEmpty(); }));
    EXPECT_TRUE(watch.files.front().endsWith(" page 2.jpg")) << qPrintable(watch.files.front());
    EXPECT_FALSE(QImage(watch.files.front()).isNull());
    EXPECT_EQ(shape(), "2") << "the pages stay";
}

TEST_P(ErrandsInEachWay, AScanIsSavedAutomaticallyAndCanBeUndone) {
    start_recorded();
    choose([](Ticket& t) {
        t.save.at_once = true;
        t.make.format = Format::Jpeg;
        t.then.errands = {Errand::Open};
    });
    QString offered;
    std::function<void()> take_back;
    QObject::connect(&desk_->messages, &Messages::told, [&](const QString& sentence, const Offer& offer) {
        if (!offer.take) return;
        offered = sentence;
        take_back = offer.take;
    });
    scan_quickly();
    ASSERT_TRUE(wait([&] { return !saved_.isEmpty() && take_back && asked_.what == QStringList{"open 1"}; }));
    EXPECT_TRUE(offered.startsWith("Saved automatically: ")) << qPrintable(offered);
    ASSERT_TRUE(QFileInfo::exists(saved_.front()));
    press("news-offer");
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().documents.front()->saved_as.empty(); })) << qPrintable(trouble_);
    EXPECT_FALSE(QFileInfo::exists(saved_.front()));
    EXPECT_EQ(desk_->tray.tray().page_count(), 1U) << "the page stays";
}

TEST_P(ErrandsInEachWay, ACopyIsPrintedAndCleared) {
    start_recorded();
    choose([](Ticket& t) {
        t.then.errands = {Errand::Print};
        t.then.print.as_copy = true;
        t.then.print.copies = 3;
    });
    lay("till-receipt", 0);
    choose([](Ticket& t) { t.how.dpi = 75, t.from.paper = "A6", t.read.languages.clear(); });
    key("Ctrl+Return");
    ASSERT_TRUE(wait([&] { return asked_.what == QStringList{"print 1x3"} && desk_->tray.tray().documents.empty(); }));
    EXPECT_TRUE(saved_.isEmpty());
    key("Ctrl+Z");
    EXPECT_EQ(desk_->tray.tray().page_count(), 1U) << "undo brings it back";
}

TEST_F(ErrandsWindow, ACopyThatCannotBePrintedStaysInTheTray) {
    start_recorded();
    asked_.fails = {"print 1x1"};
    choose([](Ticket& t) {
        t.then.errands = {Errand::Print};
        t.then.print.as_copy = true;
    });
    scan_quickly();
    ASSERT_TRUE(wait([&] { return !trouble_.isEmpty() && !desk_->errands.at_work(); }));
    EXPECT_EQ(trouble_, "print 1x1 did not work.");
    EXPECT_EQ(desk_->tray.tray().page_count(), 1U);
    EXPECT_EQ(asked_.what, QStringList{"print 1x1"}) << "once";
}

TEST_F(ErrandsWindow, SheetsAreShownBeforePrinting) {
    start(); // with the printer that stands in for one
    desk_->errands.use(Errand::Print, true);
    scan_quickly();
    scan_quickly("invoice");
    choose([](Ticket& t) { t.make.format = Format::Pdf; });
    key("Ctrl+S");
    ASSERT_TRUE(wait([&] { return !saved_.isEmpty() && at_rest(); }));
    press_on_tab(Errand::Print);
    ASSERT_TRUE(wait([&] { return QApplication::activePopupWidget() != nullptr; }));
    QWidget* sheet = QApplication::activePopupWidget();
    auto* print = sheet->findChild<QPushButton*>("look-print");
    ASSERT_TRUE(wait([&] { return print->text() == "Print 2 sheets"; })) << qPrintable(print->text());
    auto* numbers = sheet->findChild<QLineEdit*>("look-pages");
    QTest::keyClicks(numbers, "3");
    EXPECT_FALSE(print->isEnabled());
    EXPECT_TRUE(sheet->findChild<QLabel*>("look-wrong")->text().contains("not a page range from 1 to 2"));
    numbers->clear();
    auto* two = sheet->findChild<QCheckBox*>("look-two");
    QTest::mouseClick(two, Qt::LeftButton, {}, {8, two->height() / 2});
    EXPECT_EQ(print->text(), "Print 1 sheet");
    QTest::mouseClick(print, Qt::LeftButton);
    ASSERT_TRUE(wait([&] { return state_of(Errand::Print) == ErrandState::Is::Done; })) << qPrintable(trouble_);
    std::vector<std::filesystem::path> printed;
    for (const auto& each : std::filesystem::directory_iterator(base_ / "Printed")) printed.push_back(each.path());
    ASSERT_EQ(printed.size(), 1U);
    EXPECT_NE(run({"pdfinfo", printed[0].string()}).out.find("Pages:           1"), std::string::npos);
}

TEST_F(ErrandsWindow, ATicketButtonStartsAScan) {
    start_recorded();
    EXPECT_FALSE(part<QPushButton>("ticket-button-1"));
    lay("till-receipt", 0);
    const auto named = [&](const char* name, int dpi) {
        choose([&](Ticket& t) {
            t.how.dpi = dpi;
            t.from.paper = "A6";
            t.read.languages.clear();
        });
        desk_->tickets.keep_as(name);
        part<TicketBar>()->open_phrase("tickets");
        QApplication::processEvents();
        auto* box = QApplication::activePopupWidget()->findChild<QCheckBox*>("ticket-as-button");
        ASSERT_TRUE(box);
        QTest::mouseClick(box, Qt::LeftButton, {}, {8, box->height() / 2});
        QApplication::activePopupWidget()->close();
    };
    named("Post that came in", 75);
    named("Second", 100);
    ASSERT_TRUE(part<QPushButton>("ticket-button-2"));
    key("Ctrl+1");
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 1 && at_rest(); }));
    EXPECT_EQ(desk_->tickets.ticket().name, "Post that came in");
    EXPECT_EQ(desk_->tray.tray().documents[0]->pages[0]->original.dpi, 75);
    press("ticket-button-2");
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 2 && at_rest(); }));
    EXPECT_EQ(desk_->tickets.ticket().name, "Second");
    key("Ctrl+5"); // there is none
    EXPECT_TRUE(trouble_.isEmpty()) << qPrintable(trouble_);
}

}
}
