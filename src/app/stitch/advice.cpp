// Sentences about what the newest piece contributed to the picture.
#include "app/models/scanning/stitching.h"

#include <algorithm>

namespace yelvin {

bool Stitching::advice_is_good() const {
    if (pieces_.empty() || working_) return true;
    if (pieces_.size() == 1) return true;
    if (!layout_.pieces.back().placed) return false;
    const size_t last = pieces_.size() - 1;
    return std::ranges::none_of(layout_.seams,
                                [&](const Seam& s) { return (s.a == last || s.b == last) && !s.doubt.empty(); });
}

QString Stitching::advice() const {
    if (pieces_.empty()) return tr("Lay one piece on the glass, in any direction, and press Scan.");
    if (working_) return tr("Finding its place…");
    const size_t last = pieces_.size() - 1;
    if (pieces_.size() == 1) {
        const double wanted = pieces_[0].look ? wanted_overlap_mm(*pieces_[0].look) : 20;
        return tr("First piece scanned. Move the paper so that at least %1 mm of it overlap, and press Scan.")
            .arg(std::ceil(wanted / 5) * 5);
    }
    if (!layout_.pieces[last].placed)
        return tr("The last piece has no place yet. %1").arg(QString::fromStdString(layout_.pieces[last].reason));
    const Seam* widest = nullptr;
    for (const Seam& seam : layout_.seams) {
        if ((seam.a == last || seam.b == last) && (widest == nullptr || seam.area_mm2 > widest->area_mm2))
            widest = &seam;
    }
    if (widest == nullptr) return {};
    const size_t other = widest->a == last ? widest->b : widest->a;
    if (!widest->doubt.empty())
        return tr("Check where the last piece meets piece %1: %2")
            .arg(other + 1)
            .arg(QString::fromStdString(widest->doubt));
    if (!guided_)
        return layout_.placed() == pieces_.size() ? tr("All pieces are placed. Check the seams, or make the page.")
                                                  : tr("Some pieces have no place; the others fit together.");
    return tr("The last piece fits: it overlaps piece %2 by %1 mm. Lay the next piece on the glass, or make the page.")
        .arg(std::lround(widest->narrow_mm))
        .arg(other + 1);
}

}
