// Tickets as files, and what is learnt about sizes and times.
#include "core/output/document_writer.h"
#include "core/ticket/estimates.h"
#include "core/ticket/ticket_effects.h"
#include "core/ticket/ticket_folder.h"
#include "core/ticket/ticket_json.h"
#include "support/support.h"

namespace yelvin::test {
namespace {

TEST(TicketFolder, SavesEachTicketInItsOwnFileAndKeepsDamagedOnes) {
    const TempFolder folder;
    for (const Ticket& ticket : first_tickets()) ASSERT_TRUE(keep_ticket(folder.path(), ticket));
    write_file(folder / "broken.json", "{ \"name\": ");
    write_file(folder / "wrong.json", R"({"yelvin_ticket": 1, "name": "Wrong", "how": {"dpi": 99999}})");
    write_file(folder / "notes.txt", "no ticket");
    const TicketFolder read = read_tickets(folder.path());
    ASSERT_EQ(read.tickets.size(), 4U);
    EXPECT_EQ(read.tickets[0].ticket.name, "Archive");
    EXPECT_EQ(read.tickets[2].ticket.make.format, Format::Jpeg) << "photographs";
    ASSERT_EQ(read.damaged.size(), 2U);
    EXPECT_NE(read.damaged[0].error.sentence.find("broken.json"), std::string::npos) << read.damaged[0].error.sentence;
    EXPECT_NE(read.damaged[1].error.sentence.find("wrong.json"), std::string::npos) << read.damaged[1].error.sentence;
    EXPECT_NE(read.damaged[1].error.sentence.find("how.dpi is 99999"), std::string::npos)
        << read.damaged[1].error.sentence;
    EXPECT_EQ(read_file(folder / "broken.json"), "{ \"name\": ");

    Ticket changed = read.tickets[1].ticket;
    changed.how.dpi = 200;
    changed.save.folder = "/srv/Leases";
    EXPECT_EQ(changed_choices(read.tickets[1].ticket, changed), (std::vector<std::string>{"how.dpi", "save.folder"}));
    ASSERT_TRUE(keep_ticket(folder.path(), changed, read.tickets[1].file));
    EXPECT_EQ(read_tickets(folder.path()).tickets[1].ticket.how.dpi, 200);
    EXPECT_EQ(read_tickets(folder.path()).tickets.size(), 4U) << "in its own file's place";
    EXPECT_EQ(free_ticket_name(read, "Receipts"), "Receipts 2");
    EXPECT_EQ(free_ticket_name(read, "Maps"), "Maps");
}

TEST(TicketFolder, ATicketNameThatIsNoFileNameStillGetsAFile) {
    const TempFolder folder;
    Ticket ticket;
    ticket.name = "In/Out: \"post\"?";
    const auto first = keep_ticket(folder.path(), ticket), second = keep_ticket(folder.path(), ticket);
    ASSERT_TRUE(first && second);
    EXPECT_NE(*first, *second);
    EXPECT_EQ(first->parent_path(), folder.path());
    EXPECT_EQ(load_ticket(*first)->name, ticket.name);
    EXPECT_EQ(folder.files().size(), 2U) << "nothing half-written beside them";
}

TEST(TicketFolder, HalvesFollowAChainOfTicketsButNoCircle) {
    const TempFolder folder;
    const auto keep = [&](const char* name, int dpi, const char* put_in, const char* scan_like, const char* put_like) {
        Ticket ticket;
        ticket.name = name;
        ticket.how.dpi = dpi;
        ticket.save.folder = put_in;
        ticket.scan_like = scan_like;
        ticket.put_like = put_like;
        return *keep_ticket(folder.path(), ticket);
    };
    const auto leases = keep("Leases", 300, "/srv/Leases", "", "");
    keep("Stack", 200, "/srv/Stack", "", "");
    const auto both = keep("Both", 75, "/srv/Old", "Stack", "Leases");
    const auto chain = keep("Chain", 75, "/srv/Old", "Both", "Both");
    keep("Round", 75, "/srv/Round", "Trip", "");
    keep("Trip", 100, "/srv/Trip", "Round", "Nowhere");
    const auto read = [&](const std::string& name) {
        const auto tickets = read_tickets(folder.path()).tickets;
        return *std::ranges::find(tickets, name, [](const KeptTicket& kept) { return kept.own.name; });
    };
    for (const char* name : {"Both", "Chain"}) {
        EXPECT_EQ(read(name).ticket.how.dpi, 200) << name;
        EXPECT_EQ(read(name).ticket.save.folder, "/srv/Leases") << name;
        EXPECT_EQ(read(name).own.how.dpi, 75);
        EXPECT_EQ(read(name).trouble, "");
    }
    EXPECT_EQ(read("Chain").follows.size(), 4U) << "two for each half";
    EXPECT_EQ(load_with_halves(chain)->ticket.how.dpi, 200);
    EXPECT_EQ(read("Round").ticket.how.dpi, 75) << "as last saved";
    EXPECT_NE(read("Round").trouble.find("refers back"), std::string::npos) << read("Round").trouble;
    EXPECT_NE(read("Trip").trouble.find("what it makes from Nowhere, which is missing"), std::string::npos)
        << read("Trip").trouble;
    std::filesystem::remove(leases);
    EXPECT_EQ(read("Chain").ticket.save.folder, "/srv/Old");
    EXPECT_NE(load_with_halves(both)->trouble.find("Leases, which is missing"), std::string::npos);
}

TEST(Ticket, AutomaticResolutionAndFormatDependOnThePage) {
    const auto ticket = ticket_from_json({{"how", {{"dpi", "auto"}}}, {"make", {{"format", "auto"}}}});
    ASSERT_TRUE(ticket);
    // 300 for text, 600 for small photographs (common practice, no source).
    EXPECT_EQ(resolution_for(ticket->how, false, true), 300);
    EXPECT_EQ(resolution_for(ticket->how, true, true), 600);
    EXPECT_EQ(resolution_for(ticket->how, true, false), 300);
    EXPECT_EQ(make_for(ticket->make, false).format, Format::Pdf);
    EXPECT_EQ(make_for(ticket->make, true).format, Format::Jpeg);
    EXPECT_EQ(make_for(ticket->make, true).per, Per::Page);
    EXPECT_EQ(ticket_to_json(*ticket)["how"]["dpi"], "auto");
    EXPECT_EQ(with_setting(*ticket, "how.dpi=200")->how.dpi, 200);
    EXPECT_FALSE(with_setting(*ticket, "how.dpi=200")->how.dpi_auto);
    const auto wrong = ticket_from_json({{"how", {{"dpi", "fine"}}}});
    ASSERT_FALSE(wrong);
    EXPECT_NE(wrong.error().sentence.find("from 50 to 4800 or \"auto\""), std::string::npos) << wrong.error().sentence;
    for (const char* frames : {"each-item", "one-item", "drawn", "whole"})
        EXPECT_EQ(ticket_to_json(*ticket_from_json({{"from", {{"frames", frames}}}}))["from"]["frames"], frames);
}

// A 300 dpi page takes several times the bytes of a 75 dpi one; black is smaller than grey, and grey than colour
// (common practice, no source).
TEST(Estimates, GrowWithResolutionAndInk) {
    const Estimates fresh;
    const Ticket::Make pdf;
    const SizeMm a4{210, 297};
    const auto bytes = [&](double dpi, Ink ink) { return fresh.page_bytes(pdf, "", a4, dpi, ink); };
    EXPECT_GT(bytes(300, Ink::Grey), 4 * bytes(75, Ink::Grey));
    EXPECT_LT(bytes(300, Ink::Black), bytes(300, Ink::Grey));
    EXPECT_LT(bytes(300, Ink::Grey), bytes(300, Ink::Colour));
    EXPECT_GT(fresh.seconds_per_mm("any", 600, Ink::Colour), 1.5 * fresh.seconds_per_mm("any", 300, Ink::Colour));
}

TEST(Estimates, LearnFromPagesOfTheTicketToWithinATenth) {
    // Real pages at one resolution; the estimates for others are compared with their real sizes.
    Estimates estimates;
    const Ticket::Make make;
    const auto real = [&](const char* name, double dpi, Ink ink) {
        const Raster page = scan(name, 0, dpi, ink);
        const auto encoded = encode_page(page, {}, Format::Pdf, make.jpeg_quality);
        return std::pair(picture_bytes(*encoded), static_cast<double>(page.pixels.total()));
    };
    for (const Ink ink : {Ink::Colour, Ink::Grey, Ink::Black}) {
        const auto [bytes, pixels] = real("lease-1", 300, ink);
        EXPECT_FALSE(estimates.learnt(make, "Leases", ink));
        estimates.learn_page(make, "Leases", ink, 300, bytes, pixels);
        EXPECT_TRUE(estimates.learnt(make, "Leases", ink));
        EXPECT_NEAR(estimates.page_bytes(make, "Leases", {210, 297}, 300, ink), bytes, 0.01 * bytes);
        EXPECT_NEAR(estimates.page_bytes(make, "Leases", {210, 297}, 300, ink), real("lease-2", 300, ink).first,
                    0.45 * bytes)
            << "another page of the same kind, " << ink_word(ink);
        for (const double dpi : {150.0, 600.0}) {
            const double other = real("lease-1", dpi, ink).first;
            EXPECT_LT(estimates.page_bytes(make, "Leases", {210, 297}, dpi, ink), 1.5 * other) << dpi << ink_word(ink);
            EXPECT_GT(estimates.page_bytes(make, "Leases", {210, 297}, dpi, ink), other / 1.5) << dpi << ink_word(ink);
        }
    }
    estimates.learn_pass("Bench", 300, Ink::Colour, 297, 4 + Estimates::seconds_per_pass);
    EXPECT_NEAR(297 * estimates.seconds_per_mm("Bench", 300, Ink::Colour), 4, 0.01);
    EXPECT_NEAR(297 * estimates.seconds_per_mm("Bench", 600, Ink::Colour), 8, 0.1) << "twice the lines";
    const Estimates again = Estimates::from_json(estimates.to_json());
    EXPECT_EQ(again, estimates);
    EXPECT_EQ(Estimates::from_json(nlohmann::json::parse(R"({"bytes": {"x": ["a"]}, "seconds": 3})")), Estimates{})
        << "damaged figures are none";
}

// Every key of the file is changed, one at a time: each one counts as a change of its part of the ticket.
TEST(Tickets, EveryKeyOfATicketIsCompared) {
    const Ticket before;
    const nlohmann::json whole = ticket_to_json(before);
    size_t tried = 0;
    for (const auto& [group, keys] : whole.items()) {
        if (!keys.is_object()) continue;
        for (const auto& [key, value] : keys.items()) {
            const std::string name = group + "." + key;
            // Finds another value of the same type that the reader accepts, by trying.
            const std::vector<nlohmann::json> others{value.is_boolean() ? nlohmann::json(!value.get<bool>())
                                                                        : nlohmann::json(true),
                                                     1,
                                                     2,
                                                     7,
                                                     100,
                                                     "auto",
                                                     "grey",
                                                     "A4",
                                                     "feeder-front",
                                                     "notepad",
                                                     "drawn",
                                                     "every",
                                                     "png",
                                                     "page",
                                                     "1b",
                                                     "lzw",
                                                     "asked",
                                                     "text",
                                                     "viewer.desktop",
                                                     "day",
                                                     "each-scan",
                                                     nlohmann::json::array({"deu"}),
                                                     nlohmann::json::array({"open"}),
                                                     nlohmann::json::array({{{"words", "x"}}}),
                                                     nlohmann::json::array({{{"format", "png"}}}),
                                                     {{"test", {{"a", 1}}}},
                                                     {{"brightness", 10}},
                                                     {{"print", "none"}},
                                                     {{"author", "x"}},
                                                     {{"parts", {{{"words", "x"}}}}},
                                                     {{"copies", 2}},
                                                     {{"limit_mb", 5}},
                                                     {{"server", "Office"}}};
            bool changed = false;
            for (const nlohmann::json& other : others) {
                nlohmann::json file = whole;
                file[group][key] = other;
                const auto now = ticket_from_json(file);
                if (!now || other == value || now->same_choices(before)) continue;
                changed = true;
                EXPECT_EQ(changed_choices(before, *now), std::vector<std::string>{name});
                EXPECT_EQ(changed_choices(*now, before), std::vector<std::string>{name});
                break;
            }
            EXPECT_TRUE(changed) << "no value was found that changes " << name;
            ++tried;
        }
    }
    EXPECT_GT(tried, 35U);
    Ticket like = before;
    like.scan_like = "Leases";
    EXPECT_EQ(changed_choices(before, like), std::vector<std::string>{"scan_like"});
    like.put_like = "Leases";
    EXPECT_EQ(changed_choices(like, before), (std::vector<std::string>{"put_like", "scan_like"}));
    Ticket renamed;
    renamed.name = "Another";
    renamed.colour = "moss";
    EXPECT_TRUE(changed_choices(before, renamed).empty());
}

TEST(TicketEffects, NameEveryDestinationOfFiles) {
    Ticket ticket;
    ticket.make.also.push_back({Format::Tiff, std::nullopt, 0, "/srv/elsewhere"});
    ticket.make.also.push_back({Format::Png, std::nullopt, 0, ""}); // beside the document itself
    ticket.save.at_once = true;
    int elsewhere = 0, at_once = 0;
    for (const std::string& line : effects_of(ticket)) {
        elsewhere += line.find("/srv/elsewhere") != std::string::npos;
        at_once += line.find("automatically") != std::string::npos;
    }
    EXPECT_EQ(elsewhere, 1);
    EXPECT_EQ(at_once, 1);
}

}
}
