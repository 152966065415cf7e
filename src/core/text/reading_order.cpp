#include "core/text/reading_order.h"

#include "core/median.h"
#include "core/text/table_rows.h"
#include "core/text/word_order.h"

#include <algorithm>
#include <climits>
#include <cmath>
#include <numeric>
#include <optional>

namespace yelvin {

namespace {

struct Box {
    cv::Rect at;
    double tall = 0, base = 0; // px above the baseline; the baseline's y in the middle
    size_t line = 0, words = 0;
};
using Boxes = std::vector<Box>;

double median_height(const Boxes& boxes) {
    std::vector<double> heights;
    for (const Box& box : boxes) heights.push_back(box.tall);
    return median_of(heights);
}

Boxes boxes_of(const std::vector<TextLine>& lines) {
    Boxes boxes;
    for (size_t i = 0; i < lines.size(); ++i) {
        Box box{lines[i].words.front().box, lines[i].ascent_px,
                (lines[i].baseline_start.y + lines[i].baseline_end.y) / 2, i, lines[i].words.size()};
        for (const Word& word : lines[i].words) box.at |= word.box;
        boxes.push_back(box);
    }
    return boxes;
}

// Mirrors the boxes, because the right column is read first in right-to-left scripts.
void mirror(Boxes& boxes) {
    int right = 0;
    for (const Box& box : boxes) right = std::max(right, box.at.br().x);
    for (Box& box : boxes) box.at.x = right - box.at.br().x;
}

// Whether the boxes are cells of a table rather than lines of two columns: they have few words and are side by side.
bool are_cells(const Boxes& left, const Boxes& right, double tall) {
    const Boxes &fewer = left.size() < right.size() ? left : right, &more = &fewer == &left ? right : left;
    size_t beside = 0;
    std::vector<double> words, bases;
    for (const Box& box : more) bases.push_back(box.base);
    std::ranges::sort(bases);
    for (const Box& box : fewer) {
        const auto next = std::ranges::upper_bound(bases, box.base - 0.4 * tall);
        beside += next != bases.end() && *next < box.base + 0.4 * tall;
    }
    for (const Boxes* side : {&left, &right})
        for (const Box& box : *side) words.push_back(static_cast<double>(box.words));
    return beside * 5 >= fewer.size() * 4 && median_of(words) < 3.5;
}

struct Cut {
    Boxes left, right;
    int gap = 0;
};

// Returns the widest gap that no line crosses, or nothing if there is only one column.
std::optional<Cut> columns_of(Boxes boxes, double tall) {
    std::ranges::sort(boxes, {}, [](const Box& b) { return b.at.x; });
    int reach = 0, best_gap = 0;
    size_t best = 0;
    for (size_t i = 0; i < boxes.size(); ++i) {
        if (const int gap = boxes[i].at.x - reach; i > 0 && gap > best_gap) best_gap = gap, best = i;
        reach = std::max(reach, boxes[i].at.br().x);
    }
    const size_t other = boxes.size() - best;
    if (best < 2 || other < 2 || best_gap < 1.1 * tall) return std::nullopt;
    Cut cut{{boxes.begin(), boxes.begin() + static_cast<std::ptrdiff_t>(best)},
            {boxes.begin() + static_cast<std::ptrdiff_t>(best), boxes.end()},
            best_gap};
    const auto reach_of = [](const Boxes& side) {
        int top = side.front().at.y, bottom = side.front().at.br().y;
        for (const Box& b : side) top = std::min(top, b.at.y), bottom = std::max(bottom, b.at.br().y);
        return std::pair{top, bottom};
    };
    const auto [left_top, left_bottom] = reach_of(cut.left);
    const auto [right_top, right_bottom] = reach_of(cut.right);
    const int shared = std::min(left_bottom, right_bottom) - std::max(left_top, right_top);
    if (shared < 1.5 * tall || are_cells(cut.left, cut.right, tall)) return std::nullopt;
    return cut;
}

// Groups boxes that are side by side into rows, from top to bottom.
std::vector<Boxes> rows_of(Boxes boxes) {
    std::ranges::sort(boxes, {}, [](const Box& b) { return b.base; });
    std::vector<Boxes> rows;
    for (const Box& box : boxes) {
        if (!rows.empty() && box.base - rows.back().back().base < 0.5 * std::min(box.tall, rows.back().back().tall))
            rows.back().push_back(box);
        else
            rows.push_back({box});
    }
    for (Boxes& row : rows) std::ranges::sort(row, {}, [](const Box& b) { return b.at.x; });
    return rows;
}

// Whether the side is marginal notes: it is narrow and has fewer lines than the text beside it.
bool are_notes(const Boxes& side, const Boxes& text) {
    const auto width = [](const Boxes& boxes) {
        cv::Rect all = boxes.front().at;
        for (const Box& box : boxes) all |= box.at;
        return all.width;
    };
    return 3 * side.size() <= 2 * text.size() && 5 * width(side) < 2 * width(text);
}

// A note is read with the paragraph beside which it begins: notes in the left margin before it, notes in the right
// margin after it. Both lists run from top to bottom; the text is a single column.
void put_notes_in_order(const Boxes& notes, const Boxes& text, bool at_left, double tall, std::vector<size_t>& order) {
    std::vector<double> leads;
    for (size_t i = 1; i < text.size(); ++i) leads.push_back(text[i].base - text[i - 1].base);
    const double paragraph_gap = 1.35 * median_of(std::move(leads));
    const auto begins = [&](size_t i) { return i == 0 || text[i].base - text[i - 1].base > paragraph_gap; };
    // For each line of the text, the notes that are read before it.
    std::vector<std::vector<size_t>> before(text.size() + 1);
    size_t place = 0;
    for (size_t i = 0; i < notes.size(); ++i) {
        if (i == 0 || notes[i].base - notes[i - 1].base > 2.2 * tall) {
            place = 0;
            while (place < text.size() && text[place].base < notes[i].base - 0.6 * tall) ++place;
            if (at_left)
                while (place > 0 && place < text.size() && !begins(place)) --place;
            else
                while (place < text.size() && (++place < text.size() && !begins(place))) {
                }
        }
        before[place].push_back(notes[i].line);
    }
    for (size_t i = 0; i <= text.size(); ++i) {
        order.insert(order.end(), before[i].begin(), before[i].end());
        if (i < text.size()) order.push_back(text[i].line);
    }
}

// Whether one side of the cut was notes, and both were put in order.
bool notes_put_in_order(const Cut& cut, double tall, std::vector<size_t>& order) {
    const bool at_left = are_notes(cut.left, cut.right);
    if (!at_left && !are_notes(cut.right, cut.left)) return false;
    Boxes notes = at_left ? cut.left : cut.right, text = at_left ? cut.right : cut.left;
    if (columns_of(text, tall)) return false;
    std::ranges::sort(notes, {}, &Box::base);
    std::ranges::sort(text, {}, &Box::base);
    put_notes_in_order(notes, text, at_left, tall, order);
    return true;
}

// The horizontal ranges that lines cover and the gaps between them, updated as lines are added.
class Covered {
  public:
    void add(const cv::Rect& line) {
        std::pair all(line.x, line.br().x);
        std::erase_if(stretches_, [&](const std::pair<int, int>& each) {
            const bool touches = each.first <= all.second && all.first <= each.second;
            if (touches) all = {std::min(all.first, each.first), std::max(all.second, each.second)};
            return touches;
        });
        stretches_.insert(std::ranges::upper_bound(stretches_, all), all);
    }
    bool has_gap(double least) const {
        for (size_t i = 1; i < stretches_.size(); ++i)
            if (stretches_[i].first - stretches_[i - 1].second >= least) return true;
        return false;
    }
    // Whether further lines may result in a gap beyond the covered ranges. None of them ends before `first_end` or
    // begins after `last_begin`.
    bool may_get_gap(double least, int first_end, int last_begin) const {
        return has_gap(least) || last_begin - stretches_.back().second >= least ||
               stretches_.front().first - first_end >= least;
    }

  private:
    std::vector<std::pair<int, int>> stretches_; // from, to; from the left, apart from each other
};

void put_in_order(const Boxes& boxes, std::vector<size_t>& order) {
    const auto rows = rows_of(boxes);
    const double tall = median_height(boxes);
    // For each row: the smallest right edge and the largest left edge among its lines and all lines below it.
    std::vector<int> first_end(rows.size()), last_begin(rows.size());
    for (size_t i = rows.size(); i-- > 0;) {
        const bool last = i + 1 == rows.size();
        first_end[i] = last ? INT_MAX : first_end[i + 1];
        last_begin[i] = last ? INT_MIN : last_begin[i + 1];
        for (const Box& box : rows[i]) {
            first_end[i] = std::min(first_end[i], box.at.br().x);
            last_begin[i] = std::max(last_begin[i], box.at.x);
        }
    }
    for (size_t from = 0; from < rows.size();) {
        // Takes as many rows as can be divided into columns together.
        size_t to = from;
        std::optional<Cut> cut;
        Boxes together = rows[from];
        Covered covered;
        for (const Box& box : together) covered.add(box.at);
        const double least = 1.1 * tall;
        for (size_t end = from + 1; end < rows.size(); ++end) {
            // If there can be no gap now or later, there are no columns, so no further rows are examined.
            if (!covered.may_get_gap(least, first_end[from], last_begin[from])) break;
            together.insert(together.end(), rows[end].begin(), rows[end].end());
            for (const Box& box : rows[end]) covered.add(box.at);
            if (!covered.has_gap(least)) continue;
            auto parted = columns_of(together, tall);
            // A line that extends far into the gap belongs to neither column.
            if (parted && (!cut || parted->gap > 0.7 * cut->gap)) cut = std::move(parted), to = end;
        }
        if (cut && cut->left.size() + cut->right.size() < boxes.size() + 1) {
            if (!notes_put_in_order(*cut, tall, order)) {
                put_in_order(cut->left, order);
                put_in_order(cut->right, order);
            }
        } else {
            for (const Box& box : rows[from]) order.push_back(box.line);
        }
        from = to + 1;
    }
}

}

std::vector<TextLine> in_reading_order(std::vector<TextLine> lines) {
    std::erase_if(lines, [](const TextLine& line) { return line.words.empty(); });
    std::vector<size_t> order;
    const auto leftwards = static_cast<size_t>(std::ranges::count_if(lines, runs_right_to_left));
    const bool mirrored = 2 * leftwards > lines.size();
    if (!mirrored) lines = with_table_rows(std::move(lines));
    Boxes boxes = boxes_of(lines);
    if (mirrored) mirror(boxes);
    put_in_order(boxes, order);
    std::vector<TextLine> out;
    for (const size_t i : order) out.push_back(std::move(lines[i]));
    return out;
}

}
