#include "app/models/cabinet/cabinet_search.h"

#include "app/models/cabinet/cabinet_keeper.h"
#include "app/models/threads/pools.h"
#include "app/models/tray/page_pictures.h"
#include "core/cabinet/results_list.h"
#include "core/naming/file_name.h"
#include "core/raster/image_file.h"
#include "core/saving/safe_file.h"
#include "jobs/trouble.h"

#include <QPainter>

#include <cmath>
#include <limits>

namespace yelvin {

namespace {

constexpr size_t shown_at_first = 60;
constexpr int picture_px = 1100;
constexpr size_t most_thumbnails = 400;

// Draws a substitute for a page whose file is missing: a bar at the position of each word, headings darker.
QImage drawn_from(const PageWords& words, int most_px) {
    if (words.width_mm <= 0 || words.height_mm <= 0) return {};
    const double by = most_px / std::max(words.width_mm, words.height_mm);
    QImage image(std::max(1, static_cast<int>(words.width_mm * by)),
                 std::max(1, static_cast<int>(words.height_mm * by)), QImage::Format_RGB32);
    image.fill(Qt::white);
    QPainter painter(&image);
    painter.setRenderHint(QPainter::Antialiasing);
    const bool readable = by > 2;
    for (const PlacedLine& line : words.lines)
        for (const PlacedWord& word : line.words) {
            const QRectF box(word.box.x * by, word.box.y * by, word.box.width * by, word.box.height * by);
            if (!readable) {
                painter.fillRect(box.adjusted(0, box.height() * 0.3, 0, 0),
                                 QColor(line.heading ? "#5C6670" : "#CFC7B8"));
                continue;
            }
            QFont font;
            font.setPixelSize(std::max(4, static_cast<int>(box.height() * 0.95)));
            font.setBold(line.heading);
            const QString text = QString::fromStdString(word.text);
            const int wide = QFontMetrics(font).horizontalAdvance(text);
            if (wide > 0) font.setStretch(std::clamp(static_cast<int>(100 * box.width() / wide), 40, 200));
            painter.setFont(font);
            painter.setPen(QColor("#5C6670"));
            painter.drawText(box, Qt::AlignCenter | Qt::TextDontClip, text);
        }
    return image;
}

QString key_of(const SearchResult& found) {
    return QString("%1 %2 %3").arg(found.paper.id).arg(found.page).arg(found.paper.mark.changed_ns);
}

}

struct CabinetSearch::Inside {
    std::optional<Finder> finder;
    Result<Finder*> with(const std::filesystem::path& folder) {
        if (!finder) {
            auto opened = Finder::open(folder);
            if (!opened) return std::unexpected(opened.error());
            finder.emplace(std::move(*opened));
        }
        return &*finder;
    }
};

CabinetSearch::CabinetSearch(CabinetKeeper& keeper, Pools& pools, QObject* parent)
    : QObject(parent), keeper_(keeper), pools_(pools), inside_(std::make_shared<Inside>()), most_(shown_at_first) {
    const auto again = [this] {
        if (open_) ask();
    };
    connect(&keeper_, &CabinetKeeper::opened, this, again);
    connect(&keeper_, &CabinetKeeper::changed, this, again);
}

void CabinetSearch::open() {
    open_ = true;
    keeper_.look_after(); // Files that were changed in place are reported by nobody.
    ask();
}

void CabinetSearch::close() { open_ = false; }

void CabinetSearch::type(const QString& typed) {
    if (typed == typed_) return;
    typed_ = typed;
    most_ = shown_at_first;
    kept_paper_ = 0;
    ask();
}

void CabinetSearch::narrow(const SearchFilter& to) {
    narrowing_ = to;
    most_ = shown_at_first;
    ask();
}

void CabinetSearch::show_more() {
    if (static_cast<size_t>(found_.papers) <= found_.best.size() || is_looking()) return;
    most_ *= 2;
    ask();
}

void CabinetSearch::ask() {
    if (!keeper_.is_open()) return;
    asking_.request_stop(); // The previous search is no longer needed.
    asking_ = {};
    pools_.finding()([this, question = ++asked_, typed = typed_.toStdString(), narrowing = narrowing_, most = most_,
                      stop = asking_.get_token(), inside = inside_, folder = keeper_.folder(),
                      here = on_thread_of(this)] {
        if (stop.stop_requested()) return;
        auto found = caught("searching the cabinet", [&]() -> Result<SearchResults> {
            auto finder = inside->with(folder);
            if (!finder) return std::unexpected(finder.error());
            return (*finder)->find(typed, narrowing, most, today(), stop);
        });
        here([this, question, found = std::move(found)] { take(question, found); });
    });
}

void CabinetSearch::save_list(const QString& file, std::function<void(const Result<int>&)> then) {
    pools_.finding()([inside = inside_, folder = keeper_.folder(), typed = typed_.toStdString(), narrowing = narrowing_,
                      file = std::filesystem::path(file.toStdString()), then = std::move(then),
                      here = on_thread_of(this)] {
        auto saved = caught("saving a list", [&]() -> Result<int> {
            auto finder = inside->with(folder);
            if (!finder) return std::unexpected(finder.error());
            const auto all = (*finder)->find(typed, narrowing, std::numeric_limits<int>::max(), today());
            if (!all) return std::unexpected(all.error());
            if (auto written = replace_file(file, results_as_csv(all->best)); !written)
                return std::unexpected(written.error());
            return static_cast<int>(all->best.size());
        });
        here([then, saved] { then(saved); });
    });
}

void CabinetSearch::take(int question, const Result<SearchResults>& found) {
    if (question != asked_) return;
    answered_ = question;
    found_ = found.value_or(SearchResults{});
    // The selected document remains selected if it is still among the results.
    const auto kept =
        std::ranges::find(found_.best, kept_paper_, [](const SearchResult& each) { return each.paper.id; });
    row_ = found_.best.empty() ? -1 : kept == found_.best.end() ? 0 : static_cast<int>(kept - found_.best.begin());
    emit answered();
    const int row = std::exchange(row_, -2);
    look_at(row);
}

const SearchResult* CabinetSearch::current() const {
    const bool there = row_ >= 0 && static_cast<size_t>(row_) < found_.best.size();
    return there ? &found_.best[static_cast<size_t>(row_)] : nullptr;
}

void CabinetSearch::look_at(int row) {
    if (row == row_) return;
    row_ = row;
    pages_.clear();
    picture_ = {};
    match_ = -1;
    page_ = 0;
    if (const SearchResult* found = current()) {
        kept_paper_ = found->paper.id;
        page_ = found->page;
        know_pages();
        ask_for_picture();
    }
    emit looked_at();
}

void CabinetSearch::know_pages() {
    pools_.finding()([this, inside = inside_, paper = kept_paper_, here = on_thread_of(this)] {
        if (!inside->finder) return;
        auto pages = caught("marking words", [&] { return inside->finder->marks(paper); });
        here([this, paper, pages = std::move(pages)] {
            if (paper != kept_paper_ || !pages) return;
            pages_ = *pages;
            // Selects the first match on the page that is shown.
            int before = 0;
            for (int i = 0; i < page_ && static_cast<size_t>(i) < pages_.size(); ++i)
                before += static_cast<int>(pages_[static_cast<size_t>(i)].marks.size());
            if (const SearchResult* found = current(); found && found->page == page_)
                before += static_cast<int>(found->marked.best);
            match_ = matches() > 0 ? std::min(before, matches() - 1) : -1;
            emit looked_at();
        });
    });
}

int CabinetSearch::matches() const {
    int all = 0;
    for (const MarkedPage& each : pages_) all += static_cast<int>(each.marks.size());
    return all;
}

void CabinetSearch::turn_to(int page) {
    const SearchResult* found = current();
    if (!found || page < 0 || page >= found->paper.pages || page == page_) return;
    page_ = page;
    picture_ = {};
    ask_for_picture();
    emit looked_at();
}

// Without matches, this steps through the pages.
void CabinetSearch::next_match(int step) {
    if (matches() == 0) return turn_to(page_ + step);
    match_ = (match_ + step + matches()) % matches();
    int at = match_, page = 0;
    while (at >= static_cast<int>(pages_[static_cast<size_t>(page)].marks.size()))
        at -= static_cast<int>(pages_[static_cast<size_t>(page++)].marks.size());
    if (page == page_)
        emit looked_at();
    else
        turn_to(page);
}

void CabinetSearch::ask_for_picture() {
    const SearchResult* found = current();
    if (!found) return;
    picture_of(found->paper, page_, picture_px, [this, asked = ++pictured_](const Pictured& pictured) {
        if (asked != pictured_) return;
        picture_ = pictured.image;
        drawn_ = pictured.from_words;
        emit looked_at();
    });
}

void CabinetSearch::picture_of(const CabinetPaper& paper, int page, int most_px,
                               std::function<void(const Pictured&)> then) {
    pools_.pictures()(
        [inside = inside_, paper, page, most_px, then = std::move(then), pools = &pools_, here = on_thread_of(this)] {
            const auto glimpse = caught("drawing a page", [&]() -> Result<Raster> {
                if (paper.place != Place::Here) return fail(ErrorKind::Missing, "");
                return glimpse_of_page(paper.file, page, most_px);
            });
            if (glimpse) return here([then, image = to_image(*glimpse)] { then({image, false}); });
            pools->finding()([inside, paper, page, most_px, then, here] {
                if (!inside->finder) return;
                const auto words = inside->finder->words(paper.id, page);
                here([then, image = words ? drawn_from(*words, most_px) : QImage()] { then({image, true}); });
            });
        });
}

QImage CabinetSearch::thumbnail(int row) {
    if (row < 0 || static_cast<size_t>(row) >= found_.best.size()) return {};
    const SearchResult& found = found_.best[static_cast<size_t>(row)];
    const QString key = key_of(found);
    if (const auto at = thumbnails_.find(key); at != thumbnails_.end()) return at->second;
    thumbnails_[key] = {};
    thumbnails_order_.push_back(key);
    if (thumbnails_order_.size() > most_thumbnails) {
        thumbnails_.erase(thumbnails_order_.front());
        thumbnails_order_.erase(thumbnails_order_.begin());
    }
    picture_of(found.paper, found.page, 2 * thumbnail_px, [this, key](const Pictured& pictured) {
        if (const auto at = thumbnails_.find(key); at != thumbnails_.end()) at->second = pictured.image;
        emit thumbnail_ready();
    });
    return {};
}

}
