// The part of Stitching that leads through the seams, so that a person can check them one after another.
#include "app/models/scanning/stitching.h"
#include "app/models/window/messages.h"

#include <algorithm>

namespace yelvin {

// Computes the positions of the seams in the background.
void Stitching::look_at_seams() {
    if (layout_.placed() < 2) return;
    background_([this, round = round_, looks = looks(), layout = layout_] {
        std::vector<Tones> tones = even_tones(looks, layout);
        SeamMap map = choose_seams(looks, layout, tones);
        constexpr double step_px = 600 * 0.6; // most of what a view shows
        const auto places = places_along(layout, map, px_to_mm(step_px, layout.dpi));
        here_([this, round, tones, map, places] {
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
    if (place_ < 0) ++part_wanted_; // Cancels the part that is being computed.
    walk_wanted_ = false;
    emit changed();
}

void Stitching::show_part(cv::Point2d middle_mm, QSize size) {
    if (places_.empty()) return;
    const int x = cvRound(mm_to_px(middle_mm.x, layout_.dpi)) - size.width() / 2;
    const int y = cvRound(mm_to_px(middle_mm.y, layout_.dpi)) - size.height() / 2;
    background_([this, round = round_, looks = looks(), layout = layout_, tones = tones_, seams = seams_,
                 source = source(), part = cv::Rect(x, y, size.width(), size.height()), middle_mm,
                 wanted = ++part_wanted_] {
        if (wanted != part_wanted_) return;
        const auto picture = composed_part(looks, layout, tones, seams, source, part);
        here_([this, round, picture, middle_mm] {
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
