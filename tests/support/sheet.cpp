#include "support/sheet.h"

#include <algorithm>
#include <random>
#include <sstream>

namespace yelvin::test {

namespace {

// Invented for these pages: everyday texts of a harbour office.
constexpr const char* sentences[] = {
    "The lower basin will be drained on Monday for the yearly inspection of its walls.",
    "Please move your boat to the upper landing before seven in the evening.",
    "A deposit of 240.50 is held until the mooring is returned in good order.",
    "Keys to the wash house are kept by the warden, who lives at the second lock.",
    "We thank you for your letter of 14 March and answer its questions one by one.",
    "Every vessel longer than 18 metres needs a written permit for the tunnel.",
    "Coal, peat and paraffin are delivered on the first Thursday of each month.",
    "The committee resolved to raise the rent by four per cent from October.",
    "No fires may be lit on the towpath, nor within nine yards of the timber store.",
    "Our records show an unpaid balance of 1,386 for the winter quarter.",
    "Water points at bridges 31, 47 and 52 are shut off during frost.",
    "He found the gate beam cracked and the paddle gear without any grease.",
    "Members who wish to vote by post should ask the secretary for a form.",
    "The crane lifts six tons at most; heavier loads go by the railway yard.",
    "Two windlasses, a life ring and three fenders were handed in as lost property.",
    "Dredging begins at the junction and will take about eleven weeks.",
    "Insurance against fire and collision must be shown when the lease is signed.",
    "The keeper opens at eight, closes at dusk and rests an hour at noon.",
    "Geese have nested under the footbridge again, so dogs stay on the lead.",
    "A copy of this notice hangs beside the office door and at both wharves.",
    "Prices include the toll for one passage upstream and one downstream.",
    "Repairs to the culvert were finished within budget by a local builder.",
    "The surveyor measured a depth of 1.65 metres over the sill in August.",
    "Visitors may stay fourteen nights, after which the full charge applies.",
    "Rope, varnish and lamp oil can be bought from the chandler next to the inn.",
    "Should the siren sound twice, leave the chamber at once by the nearest ladder.",
    "Last year 3,927 boats passed the flight, which is 212 more than the year before.",
    "The map overleaf gives each winding hole with its greatest turning length.",
    "Fishing from the aqueduct is forbidden because of the wires above it.",
    "Young people under sixteen row free of charge on Sunday mornings.",
};

}

std::vector<std::string> harbour_sentences(unsigned seed) {
    std::mt19937 random(seed);
    std::vector<std::string> order(std::begin(sentences), std::end(sentences));
    std::shuffle(order.begin(), order.end(), random);
    return order;
}

std::vector<Placed> set_words(const Look& look, unsigned seed) { return set_words(look, harbour_sentences(seed)); }

std::vector<Placed> set_words(const Look& look, const std::vector<std::string>& sentences_in_order) {
    Sheet measure(72);
    measure.face(look);
    std::vector<Placed> placed;
    const double size = look.points * 25.4 / 72, lead = 1.45 * size, space = measure.wide(" ");
    const double left = 14, right = std::min(width_mm - 12, left + 110 * measure.wide("n"));
    double x = left, y = 14 + size;
    int line = 0, in_paragraph = 0;
    for (const std::string& sentence : sentences_in_order) {
        std::istringstream words(sentence);
        for (std::string word; words >> word;) {
            const double w = measure.wide(word);
            if (x + w > right) x = left, y += lead, ++line;
            if (y > height_mm - 10 || placed.size() > 140) return placed;
            placed.push_back({word, x, y, line});
            x += w + space;
        }
        if (++in_paragraph == 3) x = left, y += 1.7 * lead, line += 2, in_paragraph = 0;
    }
    return placed;
}

std::vector<std::string> words_of(const std::vector<Placed>& placed) {
    std::vector<std::string> words;
    for (const Placed& word : placed) words.push_back(word.text);
    return words;
}

cv::Mat draw(const Look& look, const std::vector<Placed>& placed, const std::function<void(Sheet&)>& before,
             const std::function<void(Sheet&, const Placed&)>& each) {
    Sheet sheet(look.dpi);
    sheet.colour(look.paper);
    sheet.box({0, 0, width_mm, height_mm});
    if (before) before(sheet);
    sheet.face(look);
    for (const Placed& word : placed) {
        sheet.colour(look.ink);
        if (each) each(sheet, word);
        sheet.word(word.x, word.y, word.text);
    }
    return sheet.take();
}

}
