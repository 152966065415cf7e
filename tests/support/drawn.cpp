#include "support/drawn.h"
#include "jobs/reader_pool.h"

#include <opencv2/imgproc.hpp>

#include <fmt/format.h>

#include <sstream>

namespace yelvin::test {

Drawn& Drawn::line(int x, int y, const std::string& words, int tall, bool bold, std::vector<int> at) {
    TextLine out{{}, {double(x), double(y)}, {}, double(tall), tall * 0.3, "eng"};
    std::istringstream in(words);
    size_t i = 0;
    for (std::string word; in >> word; ++i) {
        if (i < at.size()) x = at[i];
        const int width = static_cast<int>(word.size()) * tall * 6 / 10;
        out.words.push_back({word, {x, y - tall, width, tall}, 95, bold});
        cv::rectangle(page.pixels, out.words.back().box, 40, cv::FILLED);
        x += width + tall / 2;
    }
    out.baseline_end = {double(x), double(y)};
    text.lines.push_back(out);
    return *this;
}

std::vector<Drawn> drawn_document() {
    Drawn first;
    first.line(150, 150, "Rules of the basin", 40, true);
    first.line(150, 240, "The keeper opens at eight in the morn-");
    first.line(150, 270, "ing & closes at dusk, all the \"year\".");
    first.line(150, 350, "Mooring <and> fees", 26, true);
    first.line(150, 420, "1. Pay the toll before you pass.").line(150, 455, "2. Shut the gates behind you.");
    const std::vector<int> columns{150, 500, 800};
    first.line(150, 560, "Boats 3 24.00", 20, false, columns).line(150, 600, "Dinghies 12 4.50", 20, false, columns);
    first.line(150, 640, "Rafts 1 ,5\"", 20, false, columns);
    first.line(150, 1500, "Thank you for reading all of it.");
    const cv::Mat photo = noisy(354, 236, CV_8UC1, 5) * 0.4; // 60 x 40 mm at 30, 150
    photo.copyTo(first.page.pixels(cv::Rect(177, 886, 354, 236)));
    Drawn second;
    second.page.pixels = cv::Mat(1240, 1754, CV_8UC1, cv::Scalar(250));
    second.text.width_px = 1754, second.text.height_px = 1240;
    second.line(200, 200, "Page two, lying on its side.");
    return {first, second};
}

// The words in the order of running text.
std::vector<std::string> words_of(const std::vector<Drawn>& pages) {
    std::vector<std::string> words;
    for (const Drawn& page : pages) {
        std::istringstream in(running_text(page.text));
        for (std::string word; in >> word;) words.push_back(word);
    }
    return words;
}

Ticket::Make make_as(Format format, Per per) {
    Ticket::Make make;
    make.format = format;
    make.per = per;
    return make;
}

Result<std::vector<MadeFile>> made_of(const std::vector<Drawn>& pages, const std::filesystem::path& folder,
                                      const Ticket::Make& make) {
    ReaderPool readers;
    SaveJob job;
    job.page_count = pages.size();
    job.folder = folder;
    job.fixed_name = "Rules";
    job.ticket.make = make;
    job.page = [&](size_t index) { return std::optional(FinishedPage{pages[index].page, pages[index].text}); };
    return save_document(job, readers, {});
}

nlohmann::json read_by_others(const std::string& kind, const std::filesystem::path& file) {
    const Ran ran = run({"/usr/bin/python3", YELVIN_OTHERS, kind, file.string()});
    EXPECT_EQ(ran.status, 0) << kind << ": " << ran.err;
    return nlohmann::json::parse(ran.status == 0 ? ran.out : R"({"words": [], "tables": [], "headings": []})");
}

}
