#include "app/stitch/stitching.h"

#include "app/models/choice.h"
#include "app/models/messages.h"
#include "app/models/out_tray.h"
#include "app/models/page_edits.h"
#include "app/models/scanning.h"
#include "core/developing/develop.h"
#include "core/raster/paper.h"

#include <algorithm>
#include <list>
#include <mutex>

namespace yelvin {

namespace {

QImage image_of(const cv::Mat& pixels) {
    if (pixels.empty()) return {};
    const auto format = pixels.channels() == 3 ? QImage::Format_BGR888 : QImage::Format_Grayscale8;
    return QImage(pixels.data, pixels.cols, pixels.rows, static_cast<qsizetype>(pixels.step), format).copy();
}

QString page_number(const OutTray& tray, const Page& page) {
    const auto place = find_page(tray.tray(), page.id);
    return place ? QString::number(place->page + 1) : QString("?");
}

Result<Raster> piece_raster(const std::filesystem::path& folder, const Page& page, const Recipe& recipe) {
    auto original = read_original(folder, page.original);
    if (!original) return original;
    return develop(*original, recipe);
}

}

// A few pieces, so that a walk along a seam does not read them anew at every step.
struct Stitching::Shelf {
    static constexpr size_t most_bytes = 256U << 20;
    std::mutex lock;
    std::list<std::pair<std::string, Raster>> pieces; // by the page's id, the latest first

    Result<Raster> take(const std::filesystem::path& folder, const Piece& piece) {
        {
            const std::scoped_lock held(lock);
            for (auto at = pieces.begin(); at != pieces.end(); ++at) {
                if (at->first != piece.page->id) continue;
                pieces.splice(pieces.begin(), pieces, at);
                return pieces.front().second;
            }
        }
        auto raster = piece_raster(folder, *piece.page, piece.recipe);
        if (!raster) return raster;
        const std::scoped_lock held(lock);
        pieces.emplace_front(piece.page->id, *raster);
        size_t bytes = 0;
        for (auto at = pieces.begin(); at != pieces.end();) {
            bytes += at->second.pixels.total() * at->second.pixels.elemSize();
            if (bytes > most_bytes && at != pieces.begin())
                at = pieces.erase(at);
            else
                ++at;
        }
        return raster;
    }
};

Recipe piece_recipe(const Page& page, bool alone) {
    Recipe out;
    out.turn_degrees = page.recipe.turn_degrees;
    if (page.recipe.crop && (page.notices.framed || !alone || !page.notices.sheet)) out.crop = page.recipe.crop;
    return out;
}

Stitching::Stitching(Messages& messages, OutTray& tray, Choice& choice, PageEdits& edits, Scanning& run,
                     QObject* parent)
    : QObject(parent), messages_(messages), tray_(tray), choice_(choice), edits_(edits),
      shelf_(std::make_shared<Shelf>()) {
    pool_.setMaxThreadCount(1);
    connect(&run, &Scanning::piece_scanned, this, [this](const QString& id) {
        if (open_) add(id);
    });
    // Pages that leave the tray leave the picture.
    connect(&tray_, &OutTray::changed, this, [this] {
        if (!open_ || composing_) return;
        const auto gone = [this](const Piece& piece) { return page_at(tray_.tray(), piece.page->id) == nullptr; };
        if (std::ranges::none_of(pieces_, gone)) return;
        std::erase_if(pieces_, gone);
        memory_ = std::make_shared<PairMemory>(); // it knows pieces by addresses that are free now
        chosen_ = -1;
        start_work();
    });
}

Stitching::~Stitching() {
    stop_.request_stop();
    pool_.waitForDone();
}

void Stitching::clear() {
    stop_.request_stop();
    stop_ = {};
    ++round_;
    pieces_.clear();
    shelf_ = std::make_shared<Shelf>();
    memory_ = std::make_shared<PairMemory>();
    by_hand_.clear();
    layout_ = {};
    places_.clear();
    chosen_ = place_ = -1;
    working_ = composing_ = walk_wanted_ = guided_ = false;
    scale_ = Scale::Known;
    part_ = {};
    whole_.reset();
}

// What lies a little beyond the glass's edge, or was cut with a crooked rim, is not missed.
bool Stitching::covers_whole() const {
    if (!whole_ || layout_.placed() < 2 || layout_.placed() < pieces_.size()) return false;
    if (std::ranges::any_of(layout_.seams, [](const Seam& s) { return !s.doubt.empty(); })) return false;
    const double width = px_to_mm(layout_.size.width, layout_.dpi), height = px_to_mm(layout_.size.height, layout_.dpi);
    const double longer = std::max(width, height) / std::max(whole_->width, whole_->height);
    const double shorter = std::min(width, height) / std::min(whole_->width, whole_->height);
    return longer > 0.965 && shorter > 0.965;
}

void Stitching::begin(const PageIds& pages) {
    clear();
    open_ = true;
    for (const std::string& id : in_tray_order(tray_.tray(), pages)) pieces_.push_back({page_at(tray_.tray(), id)});
    start_work();
}

void Stitching::begin_guided(std::optional<SizeMm> whole) {
    clear();
    open_ = guided_ = true;
    whole_ = whole;
    emit changed();
}

void Stitching::add(const QString& page_id) {
    const PagePtr page = page_at(tray_.tray(), page_id.toStdString());
    if (!page || std::ranges::any_of(pieces_, [&](const Piece& p) { return p.page->id == page->id; })) return;
    pieces_.push_back({page});
    chosen_ = static_cast<int>(pieces_.size()) - 1;
    start_work();
}

void Stitching::leave() {
    clear();
    open_ = false;
    emit changed();
}

void Stitching::stop() {
    stop_.request_stop();
    stop_ = {};
    ++round_;
    working_ = composing_ = false;
    emit changed();
}

std::vector<PieceLookPtr> Stitching::looks() const {
    std::vector<PieceLookPtr> out;
    for (const Piece& piece : pieces_) out.push_back(piece.look);
    return out;
}

StitchSource Stitching::source() const {
    // Reading ahead is the shelf's; the composing itself holds one at a time.
    return {[folder = tray_.store_folder(), pieces = pieces_, shelf = shelf_](size_t index) {
                return shelf->take(folder, pieces[index]);
            },
            size_t{1}};
}

// Looks at the pieces that are new, then lays all of them out.
void Stitching::start_work() {
    stop_.request_stop();
    stop_ = {};
    ++round_;
    place_ = -1;
    places_.clear();
    shelf_ = std::make_shared<Shelf>(); // how a page is taken as a piece may change
    layout_.pieces.resize(pieces_.size());
    for (size_t i = 0; i < pieces_.size(); ++i) {
        const bool alone = std::ranges::count_if(pieces_, [&](const Piece& p) {
                               return p.page->original.file == pieces_[i].page->original.file;
                           }) == 1;
        pieces_[i].recipe = piece_recipe(*pieces_[i].page, alone);
    }
    if (pieces_.empty()) {
        layout_ = {};
        working_ = false;
        emit changed();
        return;
    }
    working_ = true;
    percent_ = 0;
    emit changed();
    pool_.start([this, round = round_, stop = stop_.get_token(), pieces = pieces_, scale = scale_, memory = memory_,
                 hands = by_hand_, folder = tray_.store_folder(), names = [this] {
                     QStringList out;
                     for (const Piece& piece : pieces_) out.append(tr("page %1").arg(page_number(tray_, *piece.page)));
                     return out;
                 }()]() mutable {
        const auto say = [&](double share) {
            QMetaObject::invokeMethod(this, [this, round, percent = static_cast<int>(share * 100)] {
                if (round != round_ || percent == percent_) return;
                percent_ = percent;
                emit changed();
            });
        };
        cv::parallel_for_({0, static_cast<int>(pieces.size())}, [&](const cv::Range& range) {
            for (int i = range.start; i < range.end && !stop.stop_requested(); ++i) {
                Piece& piece = pieces[static_cast<size_t>(i)];
                if (piece.look) continue;
                const auto raster = piece_raster(folder, *piece.page, piece.recipe);
                if (!raster) {
                    piece.failed = QString::fromStdString(raster.error().sentence);
                    continue;
                }
                piece.look = look_at_piece(names[i].toStdString(), *raster);
                piece.image = image_of(piece.look->colour.pixels);
            }
        });
        if (stop.stop_requested()) return;
        const bool whole = std::ranges::all_of(pieces, &Piece::laid_out);
        QMetaObject::invokeMethod(this, [this, round, pieces] {
            if (round != round_) return;
            pieces_ = pieces;
            emit changed();
        });
        std::vector<PieceLookPtr> seen;
        for (const Piece& piece : pieces) seen.push_back(piece.look);
        Layout layout;
        layout.pieces.resize(pieces.size());
        if (whole && pieces.size() > 1) {
            auto found = find_layout(seen, {scale, memory}, stop, [&](double share) { say(0.3 + 0.7 * share); });
            if (!found) return; // stopped: somebody wants something else
            layout = with_hands(hands, seen, std::move(*found), pieces);
        } else if (whole) {
            layout.pieces[0].placed = true;
            layout = finished(seen, layout);
        }
        QMetaObject::invokeMethod(this, [this, round, layout = std::move(layout)] {
            if (round != round_) return;
            working_ = false;
            set_layout(layout);
        });
    });
}

// What a person put somewhere stays there, as long as its neighbour has a place.
Layout Stitching::with_hands(const std::vector<ByHand>& hands, const std::vector<PieceLookPtr>& looks, Layout layout,
                             const std::vector<Piece>& pieces) {
    const auto number = [&](const std::string& id) {
        return std::ranges::find(pieces, id, [](const Piece& p) { return p.page->id; }) - pieces.begin();
    };
    for (const ByHand& hand : hands) {
        const auto piece = static_cast<size_t>(number(hand.piece)), beside = static_cast<size_t>(number(hand.beside));
        if (piece >= pieces.size() || beside >= pieces.size()) continue;
        if (layout.pieces[piece].placed || !layout.pieces[beside].placed) continue;
        layout = with_piece_put(looks, layout, piece, layout.pieces[beside].pose * hand.to_beside, false);
    }
    return layout;
}

void Stitching::set_layout(Layout layout) {
    layout_ = std::move(layout);
    emit changed();
    if (covers_whole()) return accept();
    look_at_seams();
}

void Stitching::choose(int piece) {
    if (piece == chosen_) return;
    chosen_ = piece;
    emit changed();
}

void Stitching::remember_by_hand(size_t piece) {
    std::erase_if(by_hand_, [&](const ByHand& hand) { return hand.piece == pieces_[piece].page->id; });
    // Against the one it shares most with, else the first.
    const Seam* best = nullptr;
    for (const Seam& seam : layout_.seams) {
        if ((seam.a == piece || seam.b == piece) && (best == nullptr || seam.area_mm2 > best->area_mm2)) best = &seam;
    }
    size_t beside = piece;
    if (best != nullptr) {
        beside = best->a == piece ? best->b : best->a;
    } else {
        for (size_t i = 0; i < pieces_.size() && beside == piece; ++i)
            if (i != piece && layout_.pieces[i].placed) beside = i;
    }
    if (beside == piece) return;
    by_hand_.push_back({pieces_[piece].page->id, pieces_[beside].page->id,
                        layout_.pieces[beside].pose.inverse() * layout_.pieces[piece].pose});
}

void Stitching::put(int piece, const Pose& pose) {
    if (working_ || composing_ || piece < 0 || !std::ranges::all_of(pieces_, &Piece::laid_out)) return;
    working_ = true;
    percent_ = 0;
    place_ = -1;
    places_.clear();
    ++round_;
    chosen_ = piece;
    const auto index = static_cast<size_t>(piece);
    layout_.pieces[index] = {true, pose, {}};
    emit changed();
    pool_.start([this, round = round_, looks = looks(), layout = layout_, index, pose] {
        Layout put = with_piece_put(looks, layout, index, pose);
        QMetaObject::invokeMethod(this, [this, round, index, put = std::move(put)] {
            if (round != round_) return;
            working_ = false;
            layout_ = put;
            remember_by_hand(index);
            set_layout(put);
        });
    });
}

void Stitching::turn(int piece, double degrees) {
    if (piece < 0 || static_cast<size_t>(piece) >= layout_.pieces.size()) return;
    const auto index = static_cast<size_t>(piece);
    if (!pieces_[index].look) return;
    const SizeMm size = pieces_[index].look->size;
    const Pose& pose = layout_.pieces[index].pose;
    put(piece, moved(pose, degrees * CV_PI / 180, pose({size.width / 2, size.height / 2}), {0, 0}));
}

void Stitching::take_out(int piece) {
    if (piece < 0 || composing_) return;
    pieces_.erase(pieces_.begin() + piece);
    memory_ = std::make_shared<PairMemory>();
    chosen_ = -1;
    start_work();
}

void Stitching::set_scale(Scale scale) {
    if (scale == scale_) return;
    scale_ = scale;
    start_work();
}

void Stitching::accept() {
    if (!can_accept()) return;
    composing_ = true;
    percent_ = 0;
    emit changed();
    pool_.start([this, round = round_, stop = stop_.get_token(), looks = looks(), layout = layout_, source = source(),
                 folder = tray_.store_folder(), pieces = pieces_] {
        const auto tones = even_tones(looks, layout);
        const SeamMap seams = choose_seams(looks, layout, tones);
        auto writer = OriginalWriter::begin(folder, layout.size.width, layout.dpi, stitched_ink(looks, layout));
        std::optional<Error> error;
        std::optional<Original> made;
        if (!writer) {
            error = writer.error();
        } else {
            const auto done = compose(
                looks, layout, tones, seams, source, [&](const cv::Mat& rows) { return writer->append(rows); }, stop,
                [&](double share) {
                    QMetaObject::invokeMethod(this, [this, round, percent = static_cast<int>(share * 100)] {
                        if (round != round_ || percent == percent_) return;
                        percent_ = percent;
                        emit changed();
                    });
                });
            if (!done) {
                error = done.error();
            } else if (auto whole = writer->finish()) {
                made = *whole;
            } else {
                error = whole.error();
            }
        }
        std::vector<PagePtr> used;
        for (size_t i = 0; i < pieces.size(); ++i)
            if (layout.pieces[i].placed) used.push_back(pieces[i].page);
        QMetaObject::invokeMethod(this, [this, round, error, made, used] {
            if (error && error->kind != ErrorKind::Stopped) messages_.complain(*error);
            if (round != round_) return;
            if (made) {
                edits_.put_together(used, *made);
                const QString id = choice_.current_id();
                clear();
                open_ = false;
                emit changed();
                emit accepted(id);
            } else {
                composing_ = false;
                emit changed();
            }
        });
    });
}

bool Stitching::advice_is_good() const {
    if (pieces_.empty() || working_) return true;
    if (pieces_.size() == 1) return true;
    if (!layout_.pieces.back().placed) return false;
    const size_t last = pieces_.size() - 1;
    return std::ranges::none_of(layout_.seams,
                                [&](const Seam& s) { return (s.a == last || s.b == last) && !s.doubt.empty(); });
}

QString Stitching::advice() const {
    if (pieces_.empty()) return tr("Lay one piece of it on the glass, straight or not, any way round, and press Scan.");
    if (working_) return tr("Looking where it belongs …");
    const size_t last = pieces_.size() - 1;
    if (pieces_.size() == 1) {
        const double wanted = pieces_[0].look ? wanted_overlap_mm(*pieces_[0].look) : 20;
        return tr("The first piece is in. Move the paper on, leave a good %1 mm of it on the glass, and press Scan.")
            .arg(std::ceil(wanted / 5) * 5);
    }
    if (!layout_.pieces[last].placed)
        return tr("The last piece has no place yet: %1").arg(QString::fromStdString(layout_.pieces[last].reason));
    const Seam* widest = nullptr;
    for (const Seam& seam : layout_.seams) {
        if ((seam.a == last || seam.b == last) && (widest == nullptr || seam.area_mm2 > widest->area_mm2))
            widest = &seam;
    }
    if (widest == nullptr) return {};
    const size_t other = widest->a == last ? widest->b : widest->a;
    if (!widest->doubt.empty())
        return tr("The last piece lies on piece %1, but look at it: %2")
            .arg(other + 1)
            .arg(QString::fromStdString(widest->doubt));
    if (!guided_)
        return layout_.placed() == pieces_.size()
                   ? tr("All pieces have found their places. Walk the seams, or make the page.")
                   : tr("Some pieces have no place; the others fit.");
    return tr("The last piece fits: it shares %1 mm with piece %2. Lay the next one, or make the page.")
        .arg(std::lround(widest->narrow_mm))
        .arg(other + 1);
}

// ---- the walk along the seams

// Which seam is where, worked out beside everything else.
void Stitching::look_at_seams() {
    if (layout_.placed() < 2) return;
    pool_.start([this, round = round_, looks = looks(), layout = layout_] {
        std::vector<Tones> tones = even_tones(looks, layout);
        SeamMap map = choose_seams(looks, layout, tones);
        std::vector<size_t> order(layout.seams.size());
        for (size_t i = 0; i < order.size(); ++i) order[i] = i;
        std::ranges::stable_sort(
            order, {}, [&](size_t i) { return std::pair(layout.seams[i].doubt.empty(), layout.seams[i].quality()); });
        std::vector<Place> places;
        for (const size_t i : order) {
            const double step = 600 * mm_per_inch / layout.dpi * 0.6; // most of what a view shows
            const auto along = along_seam(map, layout.seams[i].a, layout.seams[i].b, step);
            for (size_t k = 0; k < along.size(); ++k)
                places.push_back({i, static_cast<int>(k), static_cast<int>(along.size()), along[k]});
        }
        QMetaObject::invokeMethod(this, [this, round, tones, map, places] {
            if (round != round_) return;
            tones_ = tones;
            seams_ = map;
            places_ = places;
            if (walk_wanted_ && !places_.empty()) {
                walk_wanted_ = false;
                place_ = 0;
            }
            emit changed();
        });
    });
}

void Stitching::start_walk() {
    if (!places_.empty()) return walk_to(0);
    walk_wanted_ = layout_.placed() > 1;
    emit changed();
}

void Stitching::walk_to(int place) {
    const int last = static_cast<int>(places_.size()) - 1;
    place_ = place > last ? -1 : std::max(-1, place);
    if (place_ < 0) ++part_wanted_; // nothing is looked at any more
    walk_wanted_ = false;
    emit changed();
}

void Stitching::show_part(cv::Point2d middle_mm, QSize size) {
    if (places_.empty()) return;
    const int x = cvRound(mm_to_px(middle_mm.x, layout_.dpi)) - size.width() / 2;
    const int y = cvRound(mm_to_px(middle_mm.y, layout_.dpi)) - size.height() / 2;
    pool_.start([this, round = round_, looks = looks(), layout = layout_, tones = tones_, seams = seams_,
                 source = source(), part = cv::Rect(x, y, size.width(), size.height()), middle_mm,
                 wanted = ++part_wanted_] {
        if (wanted != part_wanted_) return;
        const auto picture = composed_part(looks, layout, tones, seams, source, part);
        QMetaObject::invokeMethod(this, [this, round, picture, middle_mm] {
            if (round != round_) return;
            if (!picture) {
                messages_.complain(picture.error());
                return;
            }
            part_ = image_of(picture->pixels);
            part_middle_ = middle_mm;
            emit part_ready();
        });
    });
}

}
