// What a page needs and what kind it is, over generated pages of every kind, at the resolutions of a document and of a
// preview.
#include "support/kinds.h"

namespace yelvin::test {
namespace {

TEST(Kinds, TheSmallestColourModeAndTheKindOfPageAreFound) {
    const TempFolder folder;
    const auto pages = kinds_of_pages(folder.path());
    ASSERT_GE(pages.size(), 40U);
    for (const KindOfPage& page : pages) {
        const Notices seen = notice(scan_page(page, 300), Items::None);
        const std::string figures = page.name + ": colour " + std::to_string(seen.ink.colour_mm2) + " mm², tones " +
                                    std::to_string(seen.ink.tone_percent) + " %, faint " +
                                    std::to_string(seen.ink.faint_mm2) + " mm², letters " +
                                    std::to_string(seen.letters);
        EXPECT_EQ(ink_word(seen.ink.least), ink_word(page.ink)) << figures;
        const bool neighbour = std::ranges::find(page.also, seen.kind) != page.also.end();
        EXPECT_TRUE(neighbour || seen.kind == page.kind) << figures << ", told as " << kind_word(seen.kind);
    }
}

// The preview decides about resolution and format, so photographs must be told from text there already.
TEST(Kinds, APreviewDistinguishesPhotographsFromText) {
    const TempFolder folder;
    for (const KindOfPage& page : kinds_of_pages(folder.path())) {
        const Notices seen = notice(scan_page(page, 100), Items::None);
        EXPECT_EQ(seen.kind == PageKind::Photo, page.kind == PageKind::Photo)
            << page.name << ": tones " << seen.ink.tone_percent << " %, letters " << seen.letters;
    }
}

}
}
