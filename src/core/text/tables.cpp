#include "core/text/tables.h"

#include <algorithm>
#include <cmath>

namespace yelvin {

namespace {

struct TableWord : LineWord {
    const Word* is = nullptr;
};
struct TableCell {
    std::string text;
    std::vector<LineWord> words;
    int left = 0, right = 0;
};
struct TableRow {
    double middle = 0, height = 0;
    std::vector<TableWord> words;
};

std::vector<TableRow> table_rows_of(const PageText& text, const TextParagraph& paragraph) {
    std::vector<TableWord> words;
    for (size_t line = paragraph.first; line < paragraph.first + paragraph.count; ++line)
        for (size_t i = 0; i < text.layer.lines[line].words.size(); ++i)
            words.push_back({{line, i}, &text.layer.lines[line].words[i]});
    const auto middle = [](const TableWord& word) { return word.is->box.y + word.is->box.height / 2.0; };
    std::ranges::stable_sort(words, {}, middle);
    std::vector<TableRow> rows;
    for (const TableWord& word : words) {
        const double height = word.is->box.height;
        if (rows.empty() || middle(word) - rows.back().middle > 0.6 * std::max(height, rows.back().height))
            rows.push_back({middle(word), height, {}});
        TableRow& row = rows.back();
        row.words.push_back(word);
        row.height = std::max(row.height, height);
        const auto count = static_cast<double>(row.words.size());
        row.middle += (middle(word) - row.middle) / count;
    }
    for (TableRow& row : rows) std::ranges::sort(row.words, {}, [](const TableWord& word) { return word.is->box.x; });
    return rows;
}

double usual_height(const std::vector<TableRow>& rows) {
    std::vector<double> heights;
    for (const TableRow& row : rows)
        for (const TableWord& word : row.words) heights.push_back(word.is->box.height);
    const auto at = heights.begin() + static_cast<std::ptrdiff_t>(heights.size() / 2);
    std::ranges::nth_element(heights, at);
    return *at;
}

std::vector<TableCell> table_cells_of(const TableRow& row, double gap) {
    std::vector<TableCell> cells;
    for (const TableWord& word : row.words) {
        const cv::Rect& box = word.is->box;
        if (cells.empty() || box.x - cells.back().right > gap)
            cells.push_back({word.is->text, {}, box.x, box.br().x});
        else
            cells.back().text += " " + word.is->text, cells.back().right = std::max(cells.back().right, box.br().x);
        cells.back().words.push_back(word);
    }
    return cells;
}

// Returns the left and right edges of the columns: ranges in which more than a sixth of the rows have content. A
// heading over several columns is in too few rows to merge them.
std::vector<std::pair<int, int>> columns_of(const std::vector<std::vector<TableCell>>& rows) {
    int right = 0;
    for (const auto& row : rows) right = std::max(right, row.back().right);
    std::vector<int> used(static_cast<size_t>(right) + 1);
    int counted = 0;
    for (const auto& row : rows) {
        if (row.size() < 2 && rows.size() > 2) continue;
        ++counted;
        for (const TableCell& cell : row)
            for (int x = std::max(0, cell.left); x < cell.right; ++x) ++used[static_cast<size_t>(x)];
    }
    const int least = counted > 6 ? counted / 6 + 1 : 1;
    std::vector<std::pair<int, int>> columns;
    bool inside = false;
    for (int x = 0; x <= right; ++x) {
        const bool now = used[static_cast<size_t>(x)] >= least;
        if (now && !inside) columns.emplace_back(x, x);
        if (now) columns.back().second = x + 1;
        inside = now;
    }
    return columns;
}

}

Table table_of(const PageText& text, const TextParagraph& paragraph) {
    Table table;
    const std::vector<TableRow> rows = table_rows_of(text, paragraph);
    if (rows.empty()) return table;
    const double gap = 0.9 * usual_height(rows);
    std::vector<std::vector<TableCell>> cells;
    for (const TableRow& row : rows) cells.push_back(table_cells_of(row, gap));
    const auto columns = columns_of(cells);
    if (columns.empty()) return table;
    for (const auto& row : cells) {
        std::vector<std::string>& out = table.rows.emplace_back(columns.size());
        auto& words = table.words.emplace_back(columns.size());
        for (const TableCell& cell : row) {
            // The column with the largest overlap, or the nearest one if there is none.
            size_t best = 0;
            int most = -1 << 30;
            for (size_t c = 0; c < columns.size(); ++c) {
                const int shared = std::min(cell.right, columns[c].second) - std::max(cell.left, columns[c].first);
                if (shared > most) most = shared, best = c;
            }
            out[best] += (out[best].empty() ? "" : " ") + cell.text;
            words[best].insert(words[best].end(), cell.words.begin(), cell.words.end());
        }
    }
    return table;
}

}
