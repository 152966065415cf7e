// Blank sides: no side with writing may be lost, and at most one of the blank ones may be kept.
#include "jobs/page_work.h"
#include "jobs/reader_pool.h"
#include "support/blank_sides.h"
#include "support/trials.h"

#include <cstdlib>

namespace yelvin::test {
namespace {

TEST(BlankSides, NoUsedSideIsLeftOutAndAtMostOneBlankSideIsKept) {
    const TempFolder folder;
    const auto sides = hard_sides(folder.path());
    ASSERT_GE(sides.size(), 60U);
    Ticket ticket;
    ticket.pages.turn_upright = false;
    ticket.pages.straighten = false;
    ReaderPool readers;
    std::vector<std::string> lost, kept;
    for (const HardSide& side : sides) {
        BenchSetup bench;
        bench.stack = {side.sheet};
        SimulatedScanner scanner(bench);
        RasterSink sink;
        ASSERT_TRUE(scanner.scan({Source::FeederFront, {}, 200, Ink::Colour, true}, sink, {})) << side.name;
        const Notices notices = noticed(sink.pages.front(), ticket, readers, {true, false});
        const bool blank = notices.blank(Ticket{}.pages.blank_limit_percent);
        if (std::getenv("YELVIN_SHOW_BLANK"))
            std::printf("%-45s %-5s %-5s ink %.3f letters %d writing %d sheet %d\n", side.name.c_str(),
                        side.used ? "used" : "blank", blank ? "blank" : "used", notices.ink_percent, notices.letters,
                        notices.writing, notices.sheet.has_value());
        if (side.used && blank) lost.push_back(side.name);
        if (!side.used && !blank) kept.push_back(side.name);
    }
    EXPECT_TRUE(lost.empty()) << testing::PrintToString(lost);
    EXPECT_LE(kept.size(), 1U) << testing::PrintToString(kept);
}

// The goal: 0.99 of the blank sides are recognised, and no faint note is lost. The sides with odd numbers set the
// thresholds; these judge.
TEST(BlankSides, WornBlankSheetsAreRecognised) {
    const TempFolder folder;
    Ticket ticket;
    ticket.pages.turn_upright = ticket.pages.straighten = false;
    ReaderPool readers;
    const int count = trials(6);
    std::vector<std::string> lost, kept;
    for (int i = 0; i < count; ++i) {
        for (const Note note : {Note::None, Note::Faint}) {
            const WornSide side = worn_side(folder.path(), 1000 + 2 * i, note);
            SimulatedScanner scanner(side.bench);
            RasterSink sink;
            ASSERT_TRUE(scanner.scan({Source::FeederBoth, {}, side.dpi, Ink::Colour, true}, sink, {})) << side.name;
            Notices front = noticed(sink.pages[0], ticket, readers, {true, false});
            const Notices back = noticed(sink.pages[1], ticket, readers, {true, true});
            EXPECT_FALSE(back.blank(ticket.pages.blank_limit_percent)) << side.name;
            EXPECT_FALSE(back.in_doubt) << side.name;
            if (front.in_doubt) look_through(front, sink.pages[0], back, sink.pages[1]);
            const bool blank = front.blank(ticket.pages.blank_limit_percent);
            if (blank && note == Note::Faint) lost.push_back(side.name);
            if (!blank && note == Note::None) kept.push_back(side.name);
        }
    }
    EXPECT_TRUE(lost.empty()) << testing::PrintToString(lost);
    EXPECT_LE(static_cast<double>(kept.size()), 0.01 * count) << testing::PrintToString(kept);
}

}
}
