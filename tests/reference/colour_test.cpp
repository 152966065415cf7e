// Whether a page has colour, on pages whose print has coloured fringes from the sensor.
#include "core/seeing/notice.h"
#include "support/fringed_pages.h"
#include "support/trials.h"

namespace yelvin::test {
namespace {

// Pages with odd numbers set the smallest chroma that counts; these judge. YELVIN_TRIALS=100 runs the complete trial.
TEST(ColourOfPages, FringesAreNotColourAndOneSmallColouredMarkIs) {
    const TempFolder folder;
    const int count = trials(6);
    std::vector<std::string> lost, kept;
    for (int i = 0; i < count; ++i) {
        for (const Tint tint : {Tint::None, Tint::Some}) {
            const FringedPage page = fringed_page(folder.path(), 1000 + 2 * i, tint);
            SimulatedScanner scanner(page.bench);
            RasterSink sink;
            ASSERT_TRUE(scanner.scan({Source::FeederFront, {}, page.dpi, Ink::Colour, true}, sink, {})) << page.name;
            const InkNeed need = notice(sink.pages.front()).ink;
            const bool is_colour = need.least == Ink::Colour;
            if (tint == Tint::Some && !is_colour) lost.push_back(page.name);
            if (tint == Tint::None && is_colour) kept.push_back(page.name);
        }
    }
    EXPECT_LE(static_cast<double>(lost.size()), 0.05 * count) << testing::PrintToString(lost);
    EXPECT_LE(static_cast<double>(kept.size()), 0.02 * count) << testing::PrintToString(kept);
}

}
}
