// Tickets in the real window, by the keyboard alone.
#include "app/choosing.h"
#include "core/ticket/ticket_json.h"

#include <QDragEnterEvent>
#include <QMimeData>

namespace yelvin::test {
namespace {

TEST_F(Choosing, ATicketIsBuiltByKeyboardAndSurvivesARestart) {
    start();
    open("source");
    pick("the feeder, both sides");
    open("ink");
    pick("grey");
    open("dpi");
    pick("200 dpi");
    open("make");
    pick("one TIFF per document");
    open("and");
    pick("JPEG quality…");
    ASSERT_TRUE(wait([] { return QApplication::activePopupWidget() != nullptr; }));
    pick("60");
    EXPECT_EQ(desk_->tickets.ticket().from.source, Source::FeederBoth);
    EXPECT_EQ(desk_->tickets.ticket().how.ink, Ink::Grey);
    EXPECT_EQ(desk_->tickets.ticket().how.dpi, 200);
    EXPECT_EQ(desk_->tickets.ticket().make.format, Format::Tiff);
    EXPECT_TRUE(part<Sentence>("sentence")->text().contains("at JPEG quality 60"))
        << "a rare choice joins the sentence";
    EXPECT_EQ(desk_->tickets.changed_since_kept(),
              (std::vector<std::string>{"from.source", "how.dpi", "how.ink", "make.format", "make.jpeg_quality"}));

    auto* name = qobject_cast<QLineEdit*>(open_tickets("Ctrl+Shift+T")->focusWidget());
    ASSERT_TRUE(name) << "its name can be typed at once";
    QTest::keyClicks(name, "Log sheets");
    type(Qt::Key_Return);
    EXPECT_EQ(desk_->tickets.ticket().name, "Log sheets");
    EXPECT_TRUE(desk_->tickets.changed_since_kept().empty());
    const QString file = desk_->tickets.chosen_file();
    EXPECT_EQ(load_ticket(file.toStdString())->how.dpi, 200);

    open("dpi");
    pick("400 dpi");
    start(); // again
    EXPECT_EQ(desk_->tickets.ticket().name, "Log sheets");
    EXPECT_EQ(desk_->tickets.ticket().how.dpi, 400) << "the last choices, kept in the ticket or not";
    EXPECT_EQ(desk_->tickets.chosen_file(), file);
    EXPECT_EQ(desk_->tickets.changed_since_kept(), std::vector<std::string>{"how.dpi"});
    open_tickets();
    pick("discard changes");
    EXPECT_EQ(desk_->tickets.ticket().how.dpi, 200);
    open_tickets();
    pick("Photographs");
    EXPECT_EQ(desk_->tickets.ticket().make.format, Format::Jpeg);
}

TEST_F(Choosing, TicketsAreRenamedRecolouredRemovedAndBroughtBack) {
    start();
    const auto names = [&] {
        QStringList out;
        for (const KeptTicket& kept : desk_->tickets.kept().tickets)
            out.append(QString::fromStdString(kept.ticket.name));
        return out.join(", ");
    };
    EXPECT_EQ(names(), "Archive, Everyday paper, Photographs, Receipts") << "four come with it";
    auto* name = open_tickets()->findChild<QLineEdit*>("ticket-name");
    ASSERT_TRUE(name);
    name->selectAll();
    QTest::keyClicks(name, "Day's post");
    QTest::keyClick(name, Qt::Key_Return);
    EXPECT_EQ(names(), "Archive, Day's post, Photographs, Receipts");
    QTest::mouseClick(open_tickets()->findChild<QPushButton*>("colour:brick"), Qt::LeftButton);
    EXPECT_EQ(desk_->tickets.as_kept()->colour, "brick");
    EXPECT_TRUE(desk_->tickets.changed_since_kept().empty());
    open_tickets();
    pick("remove");
    EXPECT_EQ(names(), "Archive, Photographs, Receipts");
    EXPECT_EQ(desk_->tickets.ticket().name, "Day's post") << "the choices stay in the sentence";
    open_tickets();
    pick("bring back Day's post");
    EXPECT_EQ(names(), "Archive, Day's post, Photographs, Receipts");
    EXPECT_TRUE(desk_->tickets.as_kept());
}

TEST_F(Choosing, AnInvalidTicketFileIsReportedAndNotChanged) {
    start();
    const std::string wrong = R"({"yelvin_ticket": 1, "name": "Odd", "how": {"dpi": "fast"}})";
    const std::string folder = base_ / "settings/tickets";
    write_file(folder + "/odd.json", wrong);
    auto* said = open_tickets()->findChild<QLabel*>("damaged-ticket");
    ASSERT_TRUE(said);
    EXPECT_TRUE(said->text().contains("odd.json") && said->text().contains("how.dpi is \"fast\""))
        << qPrintable(said->text());
    EXPECT_EQ(read_file(folder + "/odd.json"), wrong);
    QApplication::activePopupWidget()->close();
    // A valid ticket dropped on the window is added and chosen; an invalid one is reported.
    Ticket maps;
    maps.name = "Maps";
    maps.how.dpi = 400;
    write_file(base_ / "given.json", ticket_to_json(maps).dump());
    for (const std::string file : {base_ / "given.json", std::filesystem::path(folder + "/odd.json")}) {
        QMimeData data;
        data.setUrls({QUrl::fromLocalFile(QString::fromStdString(file))});
        QDragEnterEvent enter(QPoint(300, 300), Qt::CopyAction, &data, Qt::LeftButton, {});
        QApplication::sendEvent(window_.get(), &enter);
        QDropEvent drop(QPointF(300, 300), Qt::CopyAction, &data, Qt::LeftButton, {});
        QApplication::sendEvent(window_.get(), &drop);
    }
    ASSERT_TRUE(wait([&] { return part<QPushButton>("ticket-card-use")->isVisible() && !trouble_.isEmpty(); }));
    EXPECT_NE(desk_->tickets.ticket().name, "Maps") << "it is shown first";
    press("ticket-card-use");
    EXPECT_EQ(desk_->tickets.ticket().name, "Maps");
    EXPECT_EQ(desk_->tickets.ticket().how.dpi, 400);
    EXPECT_TRUE(trouble_.contains("odd.json")) << qPrintable(trouble_);
    EXPECT_EQ(desk_->tray.tray().page_count(), 0U) << "a ticket is no page";
}

// The tickets that a new user finds belong to the user.
TEST_F(Choosing, TheInitialTicketsAreUsedWithoutAsking) {
    start();
    ASSERT_GE(desk_->tickets.kept().tickets.size(), 4U);
    const auto choose_each = [&] {
        const auto tickets = desk_->tickets.kept().tickets;
        for (const KeptTicket& kept : tickets)
            EXPECT_TRUE(desk_->tickets.choose(QString::fromStdString(kept.file.string()))) << kept.ticket.name;
    };
    choose_each();
    demo::set_up(*desk_, QString::fromStdString(base_.path().string()));
    choose_each();
}

// A ticket's file that somebody else put into the folder creates no folder, saves nothing, and starts and sends nothing
// until its effects were shown and accepted, and again after it changes.
TEST_F(Choosing, ATicketFromSomeoneElseFirstShowsItsEffects) {
    start();
    const QString folder = desk_->places.settings + "/tickets";
    Ticket planted;
    planted.name = "Planted";
    planted.save.folder = (base_ / "elsewhere").string();
    planted.save.make_folder = planted.save.at_once = true;
    planted.then.errands = {Errand::Send, Errand::Mail, Errand::OpenWith};
    planted.then.send = {"Office", "http://127.0.0.1:9/papers", {}};
    planted.then.mail.to = {"somebody@elsewhere.example"};
    planted.then.program = "viewer.desktop";
    const std::filesystem::path file = (folder + "/planted.json").toStdString();
    write_file(file, ticket_to_json(planted).dump());
    const QString named = QString::fromStdString(file.string()), before = desk_->tickets.chosen_file();
    const auto* card = window_->findChild<QFrame*>("ticket-card");
    ASSERT_TRUE(card && !card->isVisibleTo(window_.get()));

    desk_->tickets.read_folder();
    desk_->tickets.set_button(named, true);
    key("Ctrl+1");
    EXPECT_TRUE(card->isVisibleTo(window_.get()));
    EXPECT_FALSE(desk_->run.passing()) << "no scan with other choices than those that were meant";
    EXPECT_EQ(desk_->tickets.chosen_file(), before);
    const QString words = window_->findChild<QLabel*>("ticket-card-words")->text();
    for (const std::string& part : {std::string("Planted"), planted.save.folder + ", which it creates",
                                    std::string("automatically"), std::string("http://127.0.0.1:9/papers"),
                                    std::string("somebody@elsewhere.example"), std::string("viewer.desktop")})
        EXPECT_TRUE(words.contains(QString::fromStdString(part))) << part << " in " << qPrintable(words);
    EXPECT_FALSE(std::filesystem::exists(planted.save.folder));
    press("ticket-card-leave");
    EXPECT_FALSE(card->isVisibleTo(window_.get()));
    EXPECT_EQ(desk_->tickets.chosen_file(), before);

    EXPECT_FALSE(desk_->tickets.choose_named("Planted"));
    press("ticket-card-use");
    EXPECT_EQ(desk_->tickets.ticket().name, "Planted");
    EXPECT_FALSE(desk_->servers.named("Office")) << "a ticket adds no server";
    EXPECT_TRUE(desk_->tickets.choose(before)) << "this person's own";
    EXPECT_TRUE(desk_->tickets.choose(named)) << "accepted once";
    ASSERT_TRUE(desk_->tickets.choose(before));
    planted.then.mail.to = {"another@elsewhere.example"};
    write_file(file, ticket_to_json(planted).dump());
    EXPECT_FALSE(desk_->tickets.choose(named)) << "it was changed";
    EXPECT_TRUE(card->isVisibleTo(window_.get()));
}

}
}
