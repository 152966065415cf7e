// How large the parts of the out tray are.
#pragma once

namespace yelvin::tray {

inline constexpr int tab_height = 30, thumb_height = 96, thumb_top = tab_height + 8, number_height = 16, between = 9,
                     pad = 10, card_gap = 18, slip_width = 68, widest_thumb = 124, dropped_width = 15;

}
