#include "core/output/flow.h"

#include "core/raster/image_file.h"
#include "core/text/text_places.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>

namespace yelvin {

namespace {

constexpr double looked_at_dpi = 75, text_rim_mm = 0.8, joined_mm = 1.5, least_picture_mm = 6, least_area_mm2 = 60,
                 margin_mm = 4;
constexpr int paper_tolerance = 26; // grey levels

// Returns a mask of everything that is not paper, in a small copy of the page.
cv::Mat not_paper(const cv::Mat& small) {
    cv::Mat grey, mask;
    if (small.channels() == 3)
        cv::cvtColor(small, grey, cv::COLOR_BGR2GRAY);
    else
        grey = small;
    // The paper's level is the most frequent of the lighter levels.
    std::array<int, 256> count{};
    for (int y = 0; y < grey.rows; ++y)
        for (int x = 0; x < grey.cols; ++x) ++count[grey.at<uchar>(y, x)];
    const auto paper = static_cast<int>(std::max_element(count.begin() + 128, count.end()) - count.begin());
    mask = (grey < paper - paper_tolerance) | (grey > paper + paper_tolerance);
    if (small.channels() == 3) {
        cv::Mat hsv, coloured;
        cv::cvtColor(small, hsv, cv::COLOR_BGR2HSV);
        cv::extractChannel(hsv, coloured, 1);
        mask |= coloured > 70;
    }
    return mask;
}

}

std::vector<cv::Rect> pictures_on(const PageText& text, const Raster& page) {
    const double by = std::min(1.0, looked_at_dpi / page.dpi);
    const cv::Mat small = scaled(page.pixels, by, by, cv::INTER_AREA);
    cv::Mat mask = not_paper(small);
    const double mm = page.dpi * by / mm_per_inch;
    const auto on_small = [&](const cv::Rect& box, double rim) {
        const cv::Rect2d at = on_page(box, text.layer);
        return cv::Rect(cv::Point(cvFloor(at.x * by - rim), cvFloor(at.y * by - rim)),
                        cv::Point(cvCeil(at.br().x * by + rim), cvCeil(at.br().y * by + rim))) &
               cv::Rect({0, 0}, mask.size());
    };
    for (const TextLine& line : text.layer.lines)
        for (const Word& word : line.words) mask(on_small(word.box, text_rim_mm * mm)).setTo(0);
    // The edge of the paper, shadows and punch holes in the margin are not figures.
    const int rim = cvRound(margin_mm * mm);
    if (mask.cols > 4 * rim && mask.rows > 4 * rim && !text.layer.lines.empty()) {
        cv::Mat inner = cv::Mat::zeros(mask.size(), CV_8UC1);
        inner(cv::Rect(rim, rim, mask.cols - 2 * rim, mask.rows - 2 * rim)).setTo(255);
        mask &= inner;
    }
    cv::Mat joined;
    const int reach = std::max(1, cvRound(joined_mm * mm));
    cv::morphologyEx(mask, joined, cv::MORPH_CLOSE, cv::getStructuringElement(cv::MORPH_RECT, {reach, reach}));
    cv::Mat labels, stats, centres;
    const int count = cv::connectedComponentsWithStats(joined, labels, stats, centres);
    std::vector<cv::Rect> pictures;
    for (int i = 1; i < count; ++i) {
        const cv::Rect box(stats.at<int>(i, cv::CC_STAT_LEFT), stats.at<int>(i, cv::CC_STAT_TOP),
                           stats.at<int>(i, cv::CC_STAT_WIDTH), stats.at<int>(i, cv::CC_STAT_HEIGHT));
        const double area = box.area() / (mm * mm), filled = stats.at<int>(i, cv::CC_STAT_AREA);
        if (box.width < least_picture_mm * mm || box.height < least_picture_mm * mm || area < least_area_mm2) continue;
        if (filled < 0.12 * box.area()) continue; // A frame or the rules of a table.
        constexpr int slender = 12;               // Longer shapes are shadows along an edge or rows of holes.
        if (std::max(box.width, box.height) > slender * std::min(box.width, box.height)) continue;
        double words = 0;
        for (const TextParagraph& paragraph : text.paragraphs) words += (on_small(paragraph.box, 0) & box).area();
        if (words > 0.35 * box.area()) continue; // Tinted paper behind text.
        pictures.emplace_back(cv::Point(cvFloor(box.x / by), cvFloor(box.y / by)),
                              cv::Point(cvCeil(box.br().x / by), cvCeil(box.br().y / by)));
        pictures.back() &= cv::Rect(0, 0, page.width_px(), page.height_px());
    }
    std::ranges::sort(pictures, {}, [](const cv::Rect& box) { return std::pair(box.y, box.x); });
    return pictures;
}

std::string FlowBlock::text() const {
    std::string out;
    for (const FlowRun& run : runs) out += run.text;
    return out;
}

namespace {

std::vector<FlowRun> runs_of(const PageText& text, const std::vector<WordPlace>& words, size_t first, size_t last) {
    std::vector<FlowRun> runs;
    for (size_t i = first; i <= last; ++i) {
        const Word& word = text.at(words[i]);
        const Joint next = i < last ? joint(text, words[i], words[i + 1]) : Joint{};
        std::string said = word.text;
        if (next.hyphen_goes) said.pop_back();
        if (runs.empty() || runs.back().bold != word.bold) runs.push_back({"", word.bold});
        runs.back().text += said;
        runs.back().text += next.between == "\n" ? " " : next.between;
    }
    return runs;
}

double letters_px(const PageText& text, const TextParagraph& paragraph) {
    double tallest = 0;
    for (size_t i = paragraph.first; i < paragraph.first + paragraph.count; ++i)
        tallest = std::max(tallest, text.layer.lines[i].ascent_px + text.layer.lines[i].descent_px);
    return tallest;
}

double body_px(const PageText& text) {
    std::vector<std::pair<double, size_t>> sizes; // by how many words are set in them
    for (const TextParagraph& paragraph : text.paragraphs) {
        size_t words = 0;
        for (size_t i = paragraph.first; i < paragraph.first + paragraph.count; ++i)
            words += text.layer.lines[i].words.size();
        sizes.emplace_back(letters_px(text, paragraph), words);
    }
    std::ranges::sort(sizes);
    size_t all = 0, so_far = 0;
    for (const auto& [size, words] : sizes) all += words;
    for (const auto& [size, words] : sizes)
        if ((so_far += words) * 2 >= all) return size;
    return 1;
}

}

std::vector<int> heading_levels(const PageText& text) {
    const double body = body_px(text);
    std::vector<int> levels;
    for (const TextParagraph& paragraph : text.paragraphs) {
        const double size = letters_px(text, paragraph);
        const int level = size > 1.6 * body ? 1 : size > 1.15 * body ? 2 : 3;
        levels.push_back(paragraph.kind == ParagraphKind::Heading ? level : 0);
    }
    return levels;
}

namespace {

FlowBlock block_of(const PageText& text, const std::vector<WordPlace>& words, size_t p, int heading, double dpi) {
    const TextParagraph& about = text.paragraphs[p];
    FlowBlock block;
    block.language = about.language;
    const double size = letters_px(text, about);
    // The distance from ascender to descender is about the font size.
    block.size_pt = std::clamp(std::round(px_to_pt(static_cast<int>(size), dpi) * 2) / 2, 5.0, 72.0);
    if (about.kind == ParagraphKind::Table) {
        block.kind = FlowBlock::Kind::Table;
        block.table = table_of(text, about);
        return block;
    }
    const auto in = [&](const WordPlace& place) { return place.paragraph == p; };
    const auto first = static_cast<size_t>(std::ranges::find_if(words, in) - words.begin());
    block.runs = runs_of(text, words, first, first + static_cast<size_t>(std::ranges::count_if(words, in)) - 1);
    if (about.kind == ParagraphKind::ListItem) block.kind = FlowBlock::Kind::ListItem;
    if (heading > 0) {
        block.kind = FlowBlock::Kind::Heading;
        block.level = heading;
    }
    return block;
}

FlowPicture cut_out(const Raster& page, const cv::Rect& box, int quality) {
    const Raster part{page.pixels(box).clone(), page.dpi, page.ink};
    FlowPicture picture;
    picture.is_png = page.ink == Ink::Black;
    const auto bytes = picture.is_png ? encode_png(part) : encode_jpeg(part, quality);
    if (bytes) picture.bytes = *bytes;
    picture.width_px = box.width;
    picture.height_px = box.height;
    picture.place = {px_to_mm(box.x, page.dpi), px_to_mm(box.y, page.dpi), px_to_mm(box.width, page.dpi),
                     px_to_mm(box.height, page.dpi)};
    return picture;
}

}

size_t behind_which(const std::vector<cv::Rect2d>& blocks, const cv::Rect& picture) {
    size_t behind = 0;
    for (size_t i = 0; i < blocks.size(); ++i) {
        const bool above = blocks[i].br().y <= picture.y + picture.height / 2.0,
                   column = blocks[i].x < picture.br().x && blocks[i].br().x > picture.x;
        if (above && (column || blocks[i].width == 0)) behind = i + 1;
    }
    return behind;
}

FlowPage flow_of(const PageText& text, const Raster& page, int jpeg_quality, FlowAs as) {
    FlowPage flow;
    flow.size = {px_to_mm(page.width_px(), page.dpi), px_to_mm(page.height_px(), page.dpi)};
    const std::vector<WordPlace> words = text.words();
    const std::vector<int> levels = heading_levels(text);
    std::vector<cv::Rect2d> places;
    cv::Rect2d used;
    for (size_t p = 0; p < text.paragraphs.size(); ++p) {
        flow.blocks.push_back(block_of(text, words, p, levels[p], page.dpi));
        places.push_back(on_page(text.paragraphs[p].box, text.layer));
        used = used.empty() ? places.back() : used | places.back();
    }
    for (const cv::Rect& box : pictures_on(text, page)) {
        FlowBlock block;
        block.kind = FlowBlock::Kind::Picture;
        block.picture = cut_out(page, box, jpeg_quality);
        if (block.picture.bytes.empty()) continue;
        const size_t behind = behind_which(places, box);
        flow.blocks.insert(flow.blocks.begin() + static_cast<std::ptrdiff_t>(behind), std::move(block));
        places.insert(places.begin() + static_cast<std::ptrdiff_t>(behind), cv::Rect2d(box));
        used = used.empty() ? cv::Rect2d(box) : used | cv::Rect2d(box);
    }
    const auto mm = [&](double px) { return px * mm_per_inch / page.dpi; };
    const auto in_mm = [&](const cv::Rect2d& px) { return RectMm{mm(px.x), mm(px.y), mm(px.width), mm(px.height)}; };
    flow.used = in_mm(used);
    if (as == FlowAs::LinesInPlace) {
        flow.lines = lines_in_place(text, page.dpi);
        std::erase_if(flow.blocks, [](const FlowBlock& block) { return block.kind != FlowBlock::Kind::Picture; });
        return flow;
    }
    std::vector<RectMm> in_order;
    for (const cv::Rect2d& place : places) in_order.push_back(in_mm(place));
    flow.bands = bands_of(in_order);
    return flow;
}

}
