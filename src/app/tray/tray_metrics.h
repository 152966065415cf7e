// Sizes of the parts of the out tray, px. Constants.
#pragma once

namespace yelvin::tray {

inline constexpr int tab_height = 30, slim_height = 32, thumb_top = tab_height + 8, number_height = 16, foot = 4,
                     between = 9, pad = 10, card_gap = 18, slim_gap = 8, slip_width = 68, dropped_width = 15,
                     ticket_edge_width = 9, colour_width = 5,
                     title_width = 230, // at most
    behind_title = 10, saved_mark = 18;

}
