#include "app/models/scanning/stitching.h"

#include "app/models/scanning/scanning.h"
#include "app/models/threads/pools.h"
#include "app/models/tray/choice.h"
#include "app/models/tray/out_tray.h"
#include "app/models/tray/page_edits.h"
#include "app/models/window/messages.h"
#include "jobs/trouble.h"

#include <algorithm>

namespace yelvin {

namespace {

bool is_looked_at(const StitchPiece& piece) { return piece.look != nullptr; }

QString page_number(const OutTray& tray, const Page& page) {
    const auto place = find_page(tray.tray(), page.id);
    return place ? QString::number(place->page + 1) : QString("?");
}

}

QImage Stitching::image_of(const cv::Mat& pixels) {
    if (pixels.empty()) return {};
    const auto format = pixels.channels() == 3 ? QImage::Format_BGR888 : QImage::Format_Grayscale8;
    return QImage(pixels.data, pixels.cols, pixels.rows, static_cast<qsizetype>(pixels.step), format).copy();
}

Stitching::Stitching(Messages& messages, OutTray& tray, Choice& choice, PageEdits& edits, Scanning& run, Pools& pools,
                     QObject* parent)
    : QObject(parent), messages_(messages), tray_(tray), choice_(choice), edits_(edits),
      shelf_(std::make_shared<PieceCache>()), background_(pools.pieces()), here_(on_thread_of(this)),
      end_(pools.stop_token(), [this] { stop_.request_stop(); }) {
    connect(&run, &Scanning::piece_scanned, this, [this](const QString& id) {
        if (open_) add(id);
    });
    // Pages that are removed from the tray are removed from the picture.
    connect(&tray_, &OutTray::changed, this, [this] {
        if (!open_ || composing_) return;
        const auto gone = [this](const Piece& piece) { return page_at(tray_.tray(), piece.page->id) == nullptr; };
        if (std::ranges::none_of(pieces_, gone)) return;
        std::erase_if(pieces_, gone);
        // It identifies pieces by address, and the addresses of removed pieces may be reused.
        memory_ = std::make_shared<PairMemory>();
        chosen_ = -1;
        start_work();
    });
}

void Stitching::clear() {
    stop_.request_stop();
    stop_ = {};
    ++round_;
    pieces_.clear();
    shelf_ = std::make_shared<PieceCache>();
    memory_ = std::make_shared<PairMemory>();
    by_hand_.clear();
    images_.clear();
    layout_ = {};
    places_.clear();
    chosen_ = place_ = -1;
    working_ = composing_ = walk_wanted_ = guided_ = false;
    scale_ = Scale::Known;
    part_ = {};
    whole_.reset();
}

// Whether the pieces cover the whole item. A narrow strip beyond the edge of the glass or along a slanted margin is
// allowed to be missing.
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
    // The shelf reads pieces ahead; the composition itself holds one piece at a time.
    return {[folder = tray_.store_folder(), pieces = pieces_, shelf = shelf_](size_t index) {
                return shelf->take(folder, pieces[index]);
            },
            size_t{1}};
}

// Analyses the new pieces, then computes the layout of all of them.
void Stitching::start_work() {
    stop_.request_stop();
    stop_ = {};
    ++round_;
    place_ = -1;
    places_.clear();
    shelf_ = std::make_shared<PieceCache>(); // The recipe by which a page becomes a piece may have changed.
    layout_.pieces.resize(pieces_.size());
    choose_recipes(pieces_);
    if (pieces_.empty()) {
        layout_ = {};
        working_ = false;
        emit changed();
        return;
    }
    working_ = true;
    percent_ = 0;
    emit changed();
    std::vector<std::string> names;
    for (const Piece& piece : pieces_)
        names.push_back(tr("page %1").arg(page_number(tray_, *piece.page)).toStdString());
    background_([this, names, round = round_, stop = stop_.get_token(), pieces = pieces_, hands = by_hand_,
                 options = StitchOptions{scale_, memory_}, folder = tray_.store_folder()]() mutable {
        constexpr double looking = 0.3; // of the work
        const auto looked = caught("opening pieces", [&] { look_at_pieces(pieces, names, folder, stop); });
        if (!looked) here_([this, round, error = looked.error()] { end_work(round, error); });
        if (!looked || stop.stop_requested()) return;
        here_([this, round, pieces] {
            if (round != round_) return;
            pieces_ = pieces;
            make_images();
            emit changed();
        });
        const auto layout = caught("placing pieces", [&]() -> Result<std::optional<Layout>> {
            return laid_out(pieces, hands, options, stop,
                            [&](double share) { tell_percent(round, looking + (1 - looking) * share); });
        });
        if (!layout) here_([this, round, error = layout.error()] { end_work(round, error); });
        if (!layout || !*layout) return; // Null if the work was stopped, because newer work replaces it.
        here_([this, round, layout = **layout] {
            if (round != round_) return;
            working_ = false;
            set_layout(layout);
        });
    });
}

void Stitching::end_work(int round, const Error& error) {
    messages_.complain(error);
    if (round != round_) return;
    working_ = false;
    emit changed();
}

// Can be called from any thread.
void Stitching::tell_percent(int round, double share) {
    here_([this, round, percent = static_cast<int>(share * 100)] {
        if (round != round_ || percent == percent_) return;
        percent_ = percent;
        emit changed();
    });
}

void Stitching::make_images() {
    for (const Piece& piece : pieces_) {
        if (piece.look && !images_.contains(piece.page->id))
            images_[piece.page->id] = image_of(piece.look->colour.pixels);
    }
}

QImage Stitching::image(size_t piece) const {
    const auto at = images_.find(pieces_[piece].page->id);
    return at == images_.end() ? QImage() : at->second;
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
    std::erase_if(by_hand_, [&](const PutByHand& hand) { return hand.piece == pieces_[piece].page->id; });
    // The partner is the piece with the largest overlap, or else the first piece.
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
    if (working_ || composing_ || piece < 0 || !std::ranges::all_of(pieces_, is_looked_at)) return;
    working_ = true;
    percent_ = 0;
    place_ = -1;
    places_.clear();
    ++round_;
    chosen_ = piece;
    const auto index = static_cast<size_t>(piece);
    layout_.pieces[index] = {true, pose, {}};
    emit changed();
    background_([this, round = round_, looks = looks(), layout = layout_, index, pose] {
        Layout put = with_piece_put(looks, layout, index, pose);
        here_([this, round, index, put = std::move(put)] {
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
    std::vector<PagePtr> used;
    for (size_t i = 0; i < pieces_.size(); ++i)
        if (layout_.pieces[i].placed) used.push_back(pieces_[i].page);
    background_([this, used, round = round_, stop = stop_.get_token(), looks = looks(), layout = layout_,
                 source = source(), folder = tray_.store_folder()] {
        const auto made = caught("stitching pieces", [&] {
            return composed_original(looks, layout, source, folder, stop,
                                     [&](double share) { tell_percent(round, share); });
        });
        here_([this, round, made, used] {
            if (!made && made.error().kind != ErrorKind::Stopped) messages_.complain(made.error());
            if (round == round_)
                take_picture(made, used);
            else if (made)
                tray_.discard(*made); // The result is no longer wanted.
        });
    });
}

void Stitching::take_picture(const Result<Original>& made, const std::vector<PagePtr>& used) {
    if (!made) {
        composing_ = false;
        emit changed();
        return;
    }
    edits_.put_together(used, *made);
    const QString id = choice_.current_id();
    clear();
    open_ = false;
    emit changed();
    emit accepted(id);
}

}
