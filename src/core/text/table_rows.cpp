#include "core/text/table_rows.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace yelvin {

namespace {

constexpr double cell_gap = 1.1, same_base = 0.45, same_edge = 0.7, most_lead = 5.5; // of the letters' height
constexpr double most_words = 4.5, full = 0.85;

struct Cell {
    size_t line = 0, first = 0, count = 0; // words of the line
    int left = 0, right = 0;
    double base = 0, tall = 0;
};
struct Row {
    std::vector<Cell> cells; // from left to right
    double base = 0, tall = 0;
};

std::vector<Cell> cells_of(const std::vector<TextLine>& lines) {
    std::vector<Cell> cells;
    for (size_t i = 0; i < lines.size(); ++i) {
        const TextLine& line = lines[i];
        const cv::Point2d run = line.baseline_end - line.baseline_start;
        const double slope = std::abs(run.x) > 1 ? run.y / run.x : 0;
        for (size_t w = 0; w < line.words.size(); ++w) {
            const cv::Rect& box = line.words[w].box;
            const bool begins =
                w == 0 || box.x - cells.back().right > cell_gap * line.ascent_px || box.x < cells.back().left;
            if (begins)
                cells.push_back({i, w, 0, box.x, box.br().x,
                                 line.baseline_start.y + slope * (box.x - line.baseline_start.x), line.ascent_px});
            ++cells.back().count;
            cells.back().right = std::max(cells.back().right, box.br().x);
        }
    }
    return cells;
}

std::vector<Row> rows_of_cells(std::vector<Cell> cells) {
    std::ranges::stable_sort(cells, {}, &Cell::base);
    std::vector<Row> rows;
    for (const Cell& cell : cells) {
        if (rows.empty() || cell.base - rows.back().base > same_base * std::max(cell.tall, rows.back().tall))
            rows.push_back({{}, cell.base, cell.tall});
        Row& row = rows.back();
        row.cells.push_back(cell);
        row.tall = std::max(row.tall, cell.tall);
    }
    for (Row& row : rows) std::ranges::sort(row.cells, {}, &Cell::left);
    return rows;
}

bool lie_under(const Cell& a, const Cell& b) {
    const double reach = same_edge * std::max(a.tall, b.tall);
    return std::abs(a.left - b.left) < reach || std::abs(a.right - b.right) < reach ||
           std::abs((a.left + a.right) - (b.left + b.right)) / 2.0 < reach;
}

size_t columns_shared(const Row& a, const Row& b) {
    std::set<size_t> taken;
    for (const Cell& cell : a.cells) {
        for (size_t i = 0; i < b.cells.size(); ++i) {
            if (taken.contains(i) || !lie_under(cell, b.cells[i])) continue;
            taken.insert(i);
            break;
        }
    }
    return taken.size();
}

// Returns the end of the table that begins with the row `from`; `from + 1` if there is no table.
size_t end_of_table(const std::vector<Row>& rows, size_t from) {
    if (rows[from].cells.size() < 2) return from + 1;
    size_t end = from + 1, before = from;
    while (end < rows.size()) {
        const Row &row = rows[end], &above = rows[before];
        const bool near = row.base - rows[end - 1].base < most_lead * std::max(row.tall, above.tall);
        if (!near || row.cells.size() < 2 || columns_shared(above, row) < 2) break;
        before = end++;
    }
    return end;
}

// Whether the rows are running text: lines that fill their column and mostly have several words.
bool is_running_text(const std::vector<Row>& rows, size_t from, size_t to) {
    std::vector<double> words;
    std::vector<std::vector<Cell>> columns;
    for (size_t r = from; r < to; ++r) {
        for (const Cell& cell : rows[r].cells) {
            words.push_back(static_cast<double>(cell.count));
            const auto same = std::ranges::find_if(
                columns, [&](const std::vector<Cell>& column) { return lie_under(column.front(), cell); });
            if (same == columns.end())
                columns.push_back({cell});
            else
                same->push_back(cell);
        }
    }
    double all = 0;
    for (const double each : words) all += each;
    if (all / static_cast<double>(words.size()) > most_words) return true;
    for (const auto& column : columns) {
        if (column.size() < 3) continue;
        std::vector<double> widths, counts;
        for (const Cell& cell : column)
            widths.push_back(cell.right - cell.left), counts.push_back(static_cast<double>(cell.count));
        std::ranges::sort(widths);
        std::ranges::sort(counts);
        if (widths[widths.size() / 2] < full * widths.back() || counts[counts.size() / 2] < 3) return false;
    }
    return true;
}

TextLine joined(const Row& row, const std::vector<TextLine>& lines) {
    TextLine out;
    for (const Cell& cell : row.cells) {
        const TextLine& line = lines[cell.line];
        if (out.words.empty()) out.baseline_start = line.baseline_start, out.language = line.language;
        const auto first = line.words.begin() + static_cast<std::ptrdiff_t>(cell.first);
        out.words.insert(out.words.end(), first, first + static_cast<std::ptrdiff_t>(cell.count));
        out.baseline_end = line.baseline_end;
        out.ascent_px = std::max(out.ascent_px, line.ascent_px);
        out.descent_px = std::max(out.descent_px, line.descent_px);
    }
    return out;
}

// Returns the gaps between columns that no cell of any row crosses, each as the right edge of the content to its left.
std::vector<int> gutters(const std::vector<Row>& rows, size_t from, size_t to) {
    std::vector<std::pair<int, int>> cells;
    double tall = 0;
    for (size_t r = from; r < to; ++r) {
        for (const Cell& cell : rows[r].cells) cells.emplace_back(cell.left, cell.right);
        tall = std::max(tall, rows[r].tall);
    }
    std::ranges::sort(cells);
    std::vector<int> out;
    int reach = cells.front().second;
    for (const auto& [left, right] : cells) {
        if (left - reach > cell_gap * tall) out.push_back(reach);
        reach = std::max(reach, right);
    }
    return out;
}

TextLine part_of(const TextLine& line, size_t first, size_t end) {
    TextLine out = line;
    out.words.assign(line.words.begin() + static_cast<std::ptrdiff_t>(first),
                     line.words.begin() + static_cast<std::ptrdiff_t>(end));
    const cv::Point2d run = line.baseline_end - line.baseline_start;
    const double slope = std::abs(run.x) > 1 ? run.y / run.x : 0;
    const auto at = [&](double x) {
        return cv::Point2d(x, line.baseline_start.y + slope * (x - line.baseline_start.x));
    };
    out.baseline_start = at(out.words.front().box.x);
    out.baseline_end = at(out.words.back().box.br().x);
    return out;
}

// Splits lines that the OCR engine read across columns of running text.
void part_lines(const std::vector<Row>& rows, size_t from, size_t to, const std::vector<TextLine>& lines,
                std::set<size_t>& taken, std::vector<TextLine>& out) {
    const std::vector<int> between = gutters(rows, from, to);
    for (size_t r = from; r < to && !between.empty(); ++r)
        for (const Cell& cell : rows[r].cells) {
            const TextLine& line = lines[cell.line];
            if (taken.contains(cell.line)) continue;
            std::vector<size_t> begins{0};
            for (size_t w = 1; w < line.words.size(); ++w) {
                // One gap may contain several gutters, if the line is empty in the columns between them.
                const bool parted = std::ranges::any_of(between, [&](int gutter) {
                    return line.words[w - 1].box.br().x <= gutter && line.words[w].box.x > gutter;
                });
                if (parted) begins.push_back(w);
            }
            if (begins.size() < 2) continue;
            taken.insert(cell.line);
            begins.push_back(line.words.size());
            for (size_t i = 0; i + 1 < begins.size(); ++i) out.push_back(part_of(line, begins[i], begins[i + 1]));
        }
}

}

std::vector<TextLine> with_table_rows(std::vector<TextLine> lines) {
    const std::vector<Row> rows = rows_of_cells(cells_of(lines));
    std::set<size_t> taken;
    std::vector<TextLine> out;
    for (size_t from = 0; from < rows.size();) {
        const size_t to = end_of_table(rows, from);
        size_t columns = 0;
        for (size_t r = from; r < to; ++r) columns = std::max(columns, rows[r].cells.size());
        const size_t least = columns > 2 ? 2 : 3;
        if (to - from >= least && is_running_text(rows, from, to)) {
            part_lines(rows, from, to, lines, taken, out);
        } else if (to - from >= least) {
            for (size_t r = from; r < to; ++r) {
                for (const Cell& cell : rows[r].cells) taken.insert(cell.line);
                out.push_back(joined(rows[r], lines));
            }
        }
        from = std::max(to, from + 1);
    }
    if (taken.empty()) return lines;
    for (size_t i = 0; i < lines.size(); ++i)
        if (!taken.contains(i)) out.push_back(std::move(lines[i]));
    return out;
}

}
