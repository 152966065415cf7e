// Which way up: pages of many kinds in all four directions, and pages without text to decide by.
#include "jobs/page_work.h"
#include "jobs/reader_pool.h"
#include "support/support.h"

#include <fmt/format.h>

#include <iostream>

namespace yelvin::test {
namespace {

class Written {
  public:
    explicit Written(std::filesystem::path folder) : folder_(std::move(folder)) {}
    // Lines of text on A5 paper, scanned lying clockwise by `lies` degrees.
    Raster page(const std::vector<std::string>& lines, double size_mm, double lies, const std::string& more = {}) {
        std::string body;
        double y = 24;
        for (const std::string& line : lines) {
            body += fmt::format(
                "<text x='16' y='{}' font-family='Inter,sans-serif' font-size='{}' fill='#1c1c1c'>{}</text>", y,
                size_mm, line);
            y += size_mm * 1.7;
        }
        const auto file = folder_ / fmt::format("page-{}.svg", count_++);
        write_file(
            file,
            fmt::format("<svg xmlns='http://www.w3.org/2000/svg' width='148mm' height='210mm' viewBox='0 0 148 210'>"
                        "<rect width='148' height='210' fill='#fbfaf6'/>{}{}</svg>",
                        body, more));
        SimulatedScanner scanner(BenchSetup{.glass = {{file, 105, 148.5, lies}}});
        RasterSink sink;
        ScanRequest request{Source::Glass, a4_area, 200, Ink::Grey};
        if (!scanner.scan(request, sink, {})) return {};
        return sink.pages.front();
    }

  private:
    std::filesystem::path folder_;
    int count_ = 0;
};

std::string table() {
    std::string out;
    const char* rows[] = {"Mooring 4", "Mooring 7", "Dry dock", "Winding hole", "Tow rope", "Windlass"};
    for (int i = 0; i < 6; ++i) {
        const int y = 60 + 14 * i;
        out += fmt::format("<path d='M14 {0} H134' stroke='#444' stroke-width='0.4'/><text x='16' y='{1}' "
                           "font-family='Inter,sans-serif' "
                           "font-size='4.4'>{2}</text><text x='90' y='{1}' font-family='Inter,sans-serif' "
                           "font-size='4.4'>{3}.50</text>",
                           y, y + 9, rows[i], 112 + 37 * i);
    }
    return out +
           "<path d='M14 60 V144 M84 60 V144 M134 60 V144 M14 144 H134' stroke='#444' stroke-width='0.4' fill='none'/>";
}

TEST(Upright, PagesOfManyKindsInAllFourDirections) {
    const TempFolder folder;
    Written written(folder.path());
    struct Kind {
        const char* name;
        std::vector<std::string> lines;
        double size;
        std::string more;
    };
    const std::vector<Kind> kinds{
        {"eleven words", {"The gate at Cobble Reach", "will be shut from Monday", "for repairs"}, 5, {}},
        {"a table", {"Fees from April"}, 6, table()},
        {"two languages",
         {"Please keep the towpath clear.", "Bitte den Treidelpfad freihalten.", "Dogs on a lead, anglers give way.",
          "Hunde an der Leine, Angler weichen aus.", "The keeper will be glad to help.",
          "Der Wärter hilft gern weiter."},
         4.2,
         {}},
        {"German",
         {"Der Kahn liegt seit Mittwoch an der Schleuse fest.", "Das Wasser steht zwei Handbreit zu niedrig.",
          "Wir bitten um Geduld bis zum Abend.", "Die Verwaltung des Kanals"},
         4.6,
         {}},
        {"capitals and figures",
         {"NOTICE TO BOATERS", "LOCK 14 CLOSED", "FROM 3 MARCH TO 17 MARCH", "RING 0555 014 338"},
         7,
         {}},
        {"small print",
         {"The holder of this permit shall keep it on board and show it when asked.",
          "Fees are due on the first day of each quarter and are not returned.",
          "The Trust does not answer for damage by frost, flood or low water.",
          "Boats longer than twenty metres need the written consent of the keeper.",
          "Nothing in this permit gives a right to a particular mooring."},
         2.6,
         {}},
        {"a letter with a picture",
         {"Dear Mrs Sedgewick,", "the drawing of the new footbridge is below.",
          "Would you let us know what you think of it?", "Yours faithfully"},
         4.4,
         "<rect x='20' y='90' width='108' height='70' fill='#b9c2c4'/><path d='M20 140 Q70 100 128 140 V160 H20 Z' "
         "fill='#66755a'/>"},
    };
    ReaderPool readers;
    Ticket ticket;
    ticket.read.languages = {"eng"};
    int right = 0, all = 0;
    const auto judge = [&](const std::string& name, const Raster& scan, int lies) {
        const Notices notices = noticed(scan, ticket, readers);
        ++all;
        if (notices.turn_degrees == (360 - lies) % 360)
            ++right;
        else
            std::cout << name << " lying at " << lies << ": " << notices.turn_degrees.value_or(-1) << "\n";
    };
    double tilt = -0.9;
    for (const Kind& kind : kinds) {
        for (const int lies : {0, 90, 180, 270})
            judge(kind.name, written.page(kind.lines, kind.size, lies + (tilt += 0.07), kind.more), lies);
    }
    for (const char* paper : {"lease-2", "towpath-form", "minutes-punched"}) {
        for (const int lies : {0, 90, 180, 270}) judge(paper, scan(paper, lies - 0.6, 200, Ink::Grey), lies);
    }
    std::cout << right << " of " << all << " right\n";
    EXPECT_GE(all, 40);
    EXPECT_GE(right, all * 0.97);
}

TEST(Upright, PagesWithoutTextAreNotTurned) {
    const TempFolder folder;
    Written written(folder.path());
    ReaderPool readers;
    const Ticket ticket;
    const std::vector<std::string> drawings{
        "<circle cx='70' cy='100' r='40' fill='none' stroke='#222' stroke-width='1'/><path d='M30 100 H110 M70 60 "
        "V140' stroke='#222' stroke-width='0.6'/>",
        "<rect x='20' y='40' width='100' height='120' fill='#8fa0a8'/><path d='M20 120 L60 80 L120 140 V160 H20 Z' "
        "fill='#55664c'/>",
        "<path d='M20 150 Q40 90 60 150 T100 150 T130 140' fill='none' stroke='#555' stroke-width='0.8'/>", ""};
    for (const std::string& drawing : drawings) {
        const Raster page = written.page({}, 4, 180, drawing);
        const Notices notices = noticed(page, ticket, readers);
        EXPECT_FALSE(notices.turn_degrees) << drawing;
        EXPECT_EQ(recipe_for(notices, page, ticket).turn_degrees, 0);
    }
}

}
}
