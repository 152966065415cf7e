// Blank sides: none that carries something may be lost, and at most one of the blank ones may be kept.
#include "jobs/page_work.h"
#include "support/blank_sides.h"

#include <cstdlib>

namespace yelvin::test {
namespace {

TEST(BlankSides, NoneWithSomethingOnItIsLostAndAtMostOneBlankIsKept) {
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

}
}
