// Items on the glass, compared with known truth: 45 generated glasses as the simulated scanner delivers them.
#include "support/glasses.h"

#include <cmath>
#include <cstdio>

namespace yelvin::test {
namespace {

double angle_between(const Region& a, const Region& b) {
    const double off = std::fmod(std::abs(a.angle_degrees - b.angle_degrees), 90.0);
    return std::min(off, 90 - off);
}

// A frame is scanned like this: only its surroundings, at 300 dpi.
Region scanned_finely(const Glass& glass, Region region) {
    RectMm box = hull_of({region});
    const double left = std::max(0.0, box.x - 3), top = std::max(0.0, box.y - 3);
    const RectMm area{left, top, std::min(216.0, box.x + box.width + 3) - left,
                      std::min(297.0, box.y + box.height + 3) - top};
    region.x_mm -= left;
    region.y_mm -= top;
    region = refined_region(scan_glass(glass, 300, area), region);
    region.x_mm += left;
    region.y_mm += top;
    return region;
}

TEST(Items, AreFoundOnFortyFiveGlassesOfEveryKind) {
    const TempFolder folder;
    int items = 0, hits = 0, strays = 0, answers = 0;
    std::vector<double> angles;
    for (const Glass& glass : hard_glasses(folder.path(), 45)) {
        std::vector<Region> found = find_regions(scan_glass(glass, 100));
        for (Region& region : found) region = scanned_finely(glass, region);
        std::string missed;
        std::vector<bool> used(found.size());
        for (const Region& truth : glass.truth) {
            ++items;
            double best = 0;
            size_t which = 0;
            for (size_t i = 0; i < found.size(); ++i) {
                if (overlap(truth, found[i]) > best) {
                    best = overlap(truth, found[i]);
                    which = i;
                }
            }
            if (best > 0.5) used[which] = true;
            if (best >= 0.95) {
                ++hits;
                angles.push_back(angle_between(truth, found[which]));
            } else {
                std::printf("%u %s: %.1f x %.1f at %.1f,%.1f turned %.1f: %.3f", glass.seed, glass.name.c_str(),
                            truth.w_mm, truth.h_mm, truth.x_mm, truth.y_mm, truth.angle_degrees, best);
                if (best > 0)
                    std::printf(" (%.1f x %.1f at %.1f,%.1f turned %.1f)", found[which].w_mm, found[which].h_mm,
                                found[which].x_mm, found[which].y_mm, found[which].angle_degrees);
                std::printf("\n");
            }
        }
        answers += static_cast<int>(found.size());
        for (size_t i = 0; i < found.size(); ++i) {
            if (used[i]) continue;
            ++strays;
            std::printf("%u %s: a stray %.1f x %.1f at %.1f,%.1f turned %.1f\n", glass.seed, glass.name.c_str(),
                        found[i].w_mm, found[i].h_mm, found[i].x_mm, found[i].y_mm, found[i].angle_degrees);
        }
    }
    std::ranges::sort(angles);
    ASSERT_GT(items, 100);
    std::printf("%d of %d items, %d strays among %d answers, angle median %.3f, worst %.3f\n", hits, items, strays,
                answers, angles[angles.size() / 2], angles.back());
    EXPECT_GE(hits, 0.95 * items);
    EXPECT_LT(strays, 0.02 * answers);
    EXPECT_LT(angles[angles.size() / 2], 0.3);
}

}
}
