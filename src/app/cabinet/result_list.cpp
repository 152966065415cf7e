#include "app/cabinet/result_list.h"

#include "app/cabinet/paper_words.h"
#include "app/models/cabinet/cabinet_search.h"
#include "app/theme/theme.h"

#include <QAbstractListModel>
#include <QKeyEvent>
#include <QPainter>
#include <QScrollBar>
#include <QStyledItemDelegate>

#include <algorithm>
#include <optional>
#include <set>

namespace yelvin {

namespace {
constexpr int row_height = 100, picture_width = 58, picture_height = 78;
}

class ResultList::Papers : public QAbstractListModel {
  public:
    Papers(CabinetSearch& search, QObject* parent) : QAbstractListModel(parent), search_(search) {}
    int rowCount(const QModelIndex& parent = {}) const override {
        return parent.isValid() ? 0 : static_cast<int>(search_.found().best.size());
    }
    QVariant data(const QModelIndex& index, int role) const override {
        if (role != Qt::DisplayRole && role != Qt::AccessibleTextRole && role != Qt::ToolTipRole) return {};
        const SearchResult& found = search_.found().best[static_cast<size_t>(index.row())];
        if (role == Qt::ToolTipRole) return QString::fromStdString(found.paper.file.string());
        QString line;
        for (const ExcerptWord& word : found.line) line += ' ' + QString::fromStdString(word.text);
        return paper_name(found.paper) + ", " + paper_facts(found.paper) + "," + line;
    }
    void again() {
        beginResetModel();
        endResetModel();
    }

  private:
    CabinetSearch& search_;
};

class ResultList::Row : public QStyledItemDelegate {
  public:
    Row(CabinetSearch& search, QObject* parent) : QStyledItemDelegate(parent), search_(search) {}
    QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override { return {200, row_height}; }
    void paint(QPainter* painter, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        const SearchResult& found = search_.found().best[static_cast<size_t>(index.row())];
        const auto& c = theme::colours();
        const bool chosen = option.state & QStyle::State_Selected;
        const bool current = index.row() == search_.current_row();
        painter->save();
        painter->fillRect(option.rect, chosen ? c.plum_wash : c.paper);
        if (current) painter->fillRect(QRect(option.rect.topLeft(), QSize(3, option.rect.height())), c.plum);
        painter->fillRect(QRect(option.rect.left(), option.rect.bottom(), option.rect.width(), 1), c.hairline);
        paint_picture(*painter, QRect(option.rect.left() + 16, option.rect.top() + 11, picture_width, picture_height),
                      found, index.row());
        const QRect room = option.rect.adjusted(16 + picture_width + 16, 10, -12, -8);
        paint_words(*painter, room, found);
        painter->restore();
    }

  private:
    CabinetSearch& search_;

    void paint_picture(QPainter& painter, const QRect& room, const SearchResult& found, int row) const {
        const auto& c = theme::colours();
        const QImage image = search_.thumbnail(row);
        if (image.isNull()) {
            painter.setPen(c.hairline);
            painter.drawRect(room.adjusted(0, 0, -1, -1));
            return;
        }
        const QSize size = image.size().scaled(room.size(), Qt::KeepAspectRatio);
        const QRect at(room.left() + (room.width() - size.width()) / 2,
                       room.top() + (room.height() - size.height()) / 2, size.width(), size.height());
        painter.setRenderHint(QPainter::SmoothPixmapTransform);
        painter.drawImage(at, image);
        painter.setPen(c.hairline);
        painter.drawRect(at.adjusted(-1, -1, 0, 0));
        QColor mark = c.plum;
        mark.setAlphaF(0.45F);
        for (const cv::Rect2d& each : found.marked.marks) {
            const QRectF box = on_picture(each, found.marked, at);
            painter.fillRect(box.adjusted(-1, 0, 1, std::max(0.0, 2.5 - box.height())), mark);
        }
    }

    static void paint_words(QPainter& painter, const QRect& room, const SearchResult& found) {
        const auto& c = theme::colours();
        painter.setFont(theme::strong());
        painter.setPen(c.ink);
        painter.drawText(room, Qt::AlignTop,
                         painter.fontMetrics().elidedText(paper_name(found.paper), Qt::ElideMiddle, room.width()));
        painter.setFont(theme::measure());
        painter.setPen(is_unwell(found.paper) ? c.brick : c.quiet);
        painter.drawText(room.adjusted(0, 22, 0, 0), Qt::AlignTop,
                         painter.fontMetrics().elidedText(paper_facts(found.paper), Qt::ElideRight, room.width()));
        paint_line(painter, room.adjusted(0, 44, 0, 0), found);
    }

    // Draws the text around the match in at most two lines, with the match in bold plum.
    static void paint_line(QPainter& painter, const QRect& room, const SearchResult& found) {
        const auto& c = theme::colours();
        if (found.line.empty()) return;
        const QFontMetrics plain(theme::body()), bold(theme::strong());
        int x = room.left(), line = 0;
        const auto put = [&](const QString& text, bool meant) {
            const QFontMetrics& metrics = meant ? bold : plain;
            const int wide = metrics.horizontalAdvance(text);
            if (x + wide > room.right() && x > room.left()) {
                ++line;
                x = room.left();
            }
            if (line > 1) return;
            painter.setFont(meant ? theme::strong() : theme::body());
            painter.setPen(meant ? c.plum : c.ink);
            const int left = room.right() - x;
            painter.drawText(QRect(x, room.top() + line * 18, wide + 4, 18), Qt::AlignVCenter | Qt::AlignLeft,
                             wide > left ? metrics.elidedText(text, Qt::ElideRight, left) : text);
            x += wide + plain.horizontalAdvance(' ');
        };
        put("…", false);
        for (const ExcerptWord& word : found.line) put(QString::fromStdString(word.text), word.meant);
        put("…", false);
    }
};

ResultList::ResultList(CabinetSearch& search, QWidget* parent)
    : QListView(parent), search_(search), papers_(new Papers(search, this)) {
    setObjectName("results");
    setAccessibleName(tr("Results"));
    setModel(papers_);
    setItemDelegate(new Row(search_, this));
    setSelectionMode(QAbstractItemView::ExtendedSelection);
    setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    verticalScrollBar()->setSingleStep(row_height / 3);
    setUniformItemSizes(true);
    setFrameShape(QFrame::NoFrame);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setStyleSheet(QString("QListView { background: %1; outline: none; }").arg(theme::colours().paper.name()));
    setMouseTracking(true);
    connect(&search_, &CabinetSearch::answered, this, &ResultList::refresh);
    connect(&search_, &CabinetSearch::thumbnail_ready, this, [this] { viewport()->update(); });
    connect(this, &QListView::doubleClicked, this, &ResultList::open_wanted);
    connect(selectionModel(), &QItemSelectionModel::currentChanged, this, [this](const QModelIndex& now) {
        if (!following_ && now.isValid()) search_.look_at(now.row());
        viewport()->update();
    });
}

// Shows new results of the same query, after files were added or removed. The selection and the scroll position are
// kept.
void ResultList::refresh() {
    std::set<long long> chosen;
    std::optional<std::pair<long long, int>> seen; // the uppermost row in sight, and how far down it stands
    if (shown_.typed == search_.typed() && shown_.narrowing == search_.narrowing()) {
        const auto paper_at = [this](const QModelIndex& row) -> std::optional<long long> {
            const auto at = static_cast<size_t>(row.row());
            return row.isValid() && at < shown_.papers.size() ? std::optional(shown_.papers[at]) : std::nullopt;
        };
        for (const QModelIndex& each : selectionModel()->selectedRows())
            if (const auto paper = paper_at(each)) chosen.insert(*paper);
        const QModelIndex top = indexAt({1, 1});
        if (const auto paper = paper_at(top)) seen = {*paper, visualRect(top).top()};
    }
    following_ = true;
    papers_->again();
    shown_ = {search_.typed(), search_.narrowing(), {}};
    for (const SearchResult& each : search_.found().best) shown_.papers.push_back(each.paper.id);
    // The model reports the current row afterwards.
    if (const int row = search_.current_row(); row >= 0) {
        setCurrentIndex(papers_->index(row));
        QItemSelection rows;
        for (int i = 0; i < papers_->rowCount(); ++i)
            if (chosen.contains(shown_.papers[static_cast<size_t>(i)]))
                rows.select(papers_->index(i), papers_->index(i));
        if (!rows.isEmpty()) selectionModel()->select(rows, QItemSelectionModel::ClearAndSelect);
    }
    following_ = false;
    if (!seen) return;
    const auto at = std::ranges::find(shown_.papers, seen->first);
    if (at == shown_.papers.end()) return;
    const int moved = visualRect(papers_->index(static_cast<int>(at - shown_.papers.begin()))).top() - seen->second;
    verticalScrollBar()->setValue(verticalScrollBar()->value() + moved);
}

std::vector<long long> ResultList::chosen() const {
    QModelIndexList rows = selectionModel()->selectedRows();
    std::ranges::sort(rows, {}, [](const QModelIndex& each) { return each.row(); });
    std::vector<long long> out;
    for (const QModelIndex& each : rows) out.push_back(search_.found().best[static_cast<size_t>(each.row())].paper.id);
    return out;
}

void ResultList::step(int by) {
    const int count = papers_->rowCount();
    if (count == 0) return;
    const int row = std::clamp(currentIndex().row() + by, 0, count - 1);
    setCurrentIndex(papers_->index(row));
    scrollTo(currentIndex());
    if (row + 1 == count) search_.show_more();
}

void ResultList::keyPressEvent(QKeyEvent* event) {
    switch (event->key()) {
    case Qt::Key_Left:
        return search_.next_match(-1);
    case Qt::Key_Right:
        return search_.next_match(1);
    case Qt::Key_Return:
    case Qt::Key_Enter:
        return emit open_wanted();
    case Qt::Key_Delete:
        return emit put_away_wanted();
    default:
        break;
    }
    const bool letters = !event->text().isEmpty() && event->text().front().isPrint() &&
                         !(event->modifiers() & (Qt::ControlModifier | Qt::AltModifier)) && event->text() != " ";
    if (letters) return emit typed(event->text());
    QListView::keyPressEvent(event);
}

void ResultList::scrollContentsBy(int dx, int dy) {
    QListView::scrollContentsBy(dx, dy);
    if (verticalScrollBar()->value() == verticalScrollBar()->maximum() && dy < 0) search_.show_more();
}

}
