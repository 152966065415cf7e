#include "core/ticket/ticket_json.h"

#include "support/support.h"

using nlohmann::json;

namespace yelvin::test {
namespace {

TEST(Ticket, SurvivesItsFileWithEveryChoice) {
    Ticket ticket;
    ticket.name = "Mooring leases";
    ticket.colour = "moss";
    ticket.from.own_paper = SizeMm{100, 148.5};
    ticket.from.paper = "own";
    ticket.from.frames = Frames::Whole;
    ticket.how = {Ink::Black, 600};
    ticket.pages = {false, false, true, 0.4};
    ticket.read.languages = {"eng", "deu"};
    ticket.make = {Format::Tiff, Per::Page, 70};
    ticket.save.folder = "~/Leases";
    ticket.save.name = {
        {NamePart::Kind::Words, "Mooring"}, {NamePart::Kind::Date, "dd.mm.yyyy"}, {NamePart::Kind::Counter, "", 4}};
    const auto back = ticket_from_json(json::parse(ticket_to_json(ticket).dump()));
    ASSERT_TRUE(back) << back.error().sentence;
    EXPECT_TRUE(back->same_choices(ticket));
    EXPECT_EQ(back->name, "Mooring leases");
    EXPECT_EQ(back->colour, "moss");
    EXPECT_EQ(ticket_to_json(*back), ticket_to_json(ticket));
}

TEST(Ticket, KeepsEveryKindOfPartAndEveryAction) {
    Ticket ticket;
    for (const NamePart::Kind kind : all_members<NamePart::Kind>()) {
        NamePart part{kind, ""};
        if (kind == NamePart::Kind::Words) part.text = "Mooring";
        if (kind == NamePart::Kind::Date || kind == NamePart::Kind::PaperDate) part.text = "dd.mm.yyyy";
        if (is_read_on_paper(kind)) part = {kind, part.text, 3, 6, NamePart::Missing::Words, "none"};
        ticket.save.within.push_back(part);
    }
    for (const Errand errand : all_members<Errand>()) ticket.then.errands.push_back(errand);
    const auto back = ticket_from_json(json::parse(ticket_to_json(ticket).dump()));
    ASSERT_TRUE(back) << back.error().sentence;
    EXPECT_EQ(back->save.within, ticket.save.within);
    EXPECT_EQ(back->then.errands, ticket.then.errands);
}

TEST(Ticket, KeepsKeysItDoesNotKnow) {
    const json file = {
        {"yelvin_ticket", 1}, {"name", "x"}, {"how", {{"dpi", 200}, {"lamp", "warm"}}}, {"later", {1, 2, 3}}};
    const auto ticket = ticket_from_json(file);
    ASSERT_TRUE(ticket);
    const json out = ticket_to_json(*ticket);
    EXPECT_EQ(out["how"]["lamp"], "warm");
    EXPECT_EQ(out["later"], json({1, 2, 3}));
    EXPECT_EQ(out["how"]["dpi"], 200);
}

TEST(Ticket, ReportsAnInvalidValueWithItsKeyAndTheAllowedValues) {
    const std::tuple<json, const char*, const char*> wrong[] = {
        {{{"how", {{"dpi", 20}}}}, "how.dpi is 20", "50 to 4800"},
        {{{"how", {{"dpi", "fine"}}}}, "how.dpi is \"fine\"", "50 to 4800"},
        {{{"how", {{"dpi", 200.5}}}}, "how.dpi is 200.5", "whole number"},
        {{{"how", {{"ink", "gold"}}}}, "how.ink is \"gold\"", "\"grey\""},
        {{{"how", 3}}, "how is 3", "an object"},
        {{{"from", {{"paper", "A44"}}}}, "from.paper is \"A44\"", "\"A4\""},
        {{{"from", {{"paper", {{"width_mm", 0}, {"height_mm", 10}}}}}}, "from.paper.width_mm is 0", "5 to 2000"},
        {{{"pages", {{"straighten", "yes"}}}}, "pages.straighten is \"yes\"", "true or false"},
        {{{"read", {{"languages", "eng"}}}}, "read.languages is \"eng\"", "list"},
        {{{"read", {{"languages", {"../eng"}}}}}, "read.languages", "list"},
        {{{"make", {{"jpeg_quality", 0}}}}, "make.jpeg_quality is 0", "1 to 100"},
        {{{"save", {{"folder", ""}}}}, "save.folder is \"\"", "non-empty"},
        {{{"save", {{"name", json::array()}}}}, "save.name is []", "counter"},
        {{{"save", {{"name", {{{"counter", 12}}}}}}}, "save.name", "1 to 9"},
        {{{"yelvin_ticket", 2}}, "yelvin_ticket is 2", "from 1 to 1"},
    };
    for (const auto& [file, key, allowed] : wrong) {
        const auto ticket = ticket_from_json(file);
        ASSERT_FALSE(ticket) << file;
        EXPECT_NE(ticket.error().sentence.find(key), std::string::npos) << ticket.error().sentence;
        EXPECT_NE(ticket.error().sentence.find(allowed), std::string::npos) << ticket.error().sentence;
    }
    EXPECT_FALSE(ticket_from_json(json::array()));
}

TEST(Ticket, SettingsOfTheCommandLineReachTheSameKeys) {
    auto ticket = with_setting(Ticket{}, "how.dpi=200");
    ASSERT_TRUE(ticket) << ticket.error().sentence;
    EXPECT_TRUE(ticket->dpi_given);
    ticket = with_setting(*ticket, "make.format=tiff");
    ticket = with_setting(*ticket, "pages.straighten=false");
    ticket = with_setting(*ticket, "read.languages=[]");
    ticket = with_setting(*ticket, "save.name=Leases of May");
    ticket = with_setting(*ticket, R"(from.paper={"width_mm": 100, "height_mm": 50})");
    ASSERT_TRUE(ticket) << ticket.error().sentence;
    EXPECT_EQ(ticket->how.dpi, 200);
    EXPECT_EQ(ticket->make.format, Format::Tiff);
    EXPECT_FALSE(ticket->pages.straighten);
    EXPECT_TRUE(ticket->read.languages.empty());
    EXPECT_EQ(ticket->save.name, (std::vector<NamePart>{{NamePart::Kind::Words, "Leases of May"}}));
    EXPECT_EQ(ticket->from.own_paper, (SizeMm{100, 50}));
    const auto back_to_a4 = with_setting(*ticket, "from.paper=a4");
    ASSERT_TRUE(back_to_a4);
    EXPECT_EQ(back_to_a4->from.paper, "A4");
    EXPECT_FALSE(back_to_a4->from.own_paper);

    EXPECT_FALSE(with_setting(Ticket{}, "make.jpeg_quality=90")->dpi_given) << "only a dpi that somebody gave counts";
    for (const char* nonsense : {"how.dpi", "=3", "how.dots=3", "../x=1", "how/dpi=3"}) {
        const auto refused = with_setting(Ticket{}, nonsense);
        ASSERT_FALSE(refused) << nonsense;
        EXPECT_EQ(refused.error().kind, ErrorKind::Usage) << nonsense;
    }
    EXPECT_NE(with_setting(Ticket{}, "how.dpi=9").error().sentence.find("how.dpi is 9"), std::string::npos);
}

TEST(Ticket, ADamagedFileIsReported) {
    const TempFolder folder;
    write_file(folder / "broken.json", "{ \"name\": ");
    const auto broken = load_ticket(folder / "broken.json");
    ASSERT_FALSE(broken);
    EXPECT_NE(broken.error().sentence.find("broken.json"), std::string::npos);
    EXPECT_FALSE(load_ticket(folder / "absent.json"));
}

TEST(Ticket, CorrectionsForEveryPageAreSavedAndInvalidOnesReported) {
    Ticket ticket;
    EXPECT_EQ(ticket_to_json(ticket)["pages"]["adjust"], nlohmann::json::object());
    auto set = with_setting(ticket, "pages.adjust.brightness=12");
    ASSERT_TRUE(set);
    set = with_setting(*set, "pages.adjust.punch_holes=true");
    ASSERT_TRUE(set);
    set = with_setting(*set, "pages.adjust.drop_colour=#c03028");
    ASSERT_TRUE(set);
    EXPECT_EQ(set->pages.adjust.brightness, 12);
    EXPECT_EQ(set->pages.adjust.punch_holes, 1);
    EXPECT_EQ(ticket_from_json(ticket_to_json(*set))->pages, set->pages);
    // A correction that was switched off does not return from the file.
    Ticket off = *set;
    off.pages.adjust = {};
    EXPECT_EQ(ticket_from_json(ticket_to_json(off))->pages.adjust, Adjust{});
    for (const char* wrong : {"pages.adjust.brightness=999", "pages.adjust.gamma=0", "pages.adjust.punch_holes=2",
                              "pages.adjust.drop_colour=red"}) {
        const auto refused = with_setting(ticket, wrong);
        ASSERT_FALSE(refused) << wrong;
        const std::string key = std::string(wrong).substr(0, std::string(wrong).find('='));
        EXPECT_NE(refused.error().sentence.find(key), std::string::npos) << refused.error().sentence;
    }
    EXPECT_FALSE(with_setting(ticket, "pages.adjust.nonsense=1"));
}

}
}
