#include "app/models/window/room.h"

#include "app/models/window/last_choices.h"

#include <algorithm>
#include <chrono>

namespace yelvin {

namespace {
constexpr auto tray_full_key = "tray-full", tray_full_at_page_key = "tray-full-at-page",
               tray_height_key = "tray-height", side_folded_key = "side-folded", view_alone_key = "view-alone",
               two_pages_key = "two-pages";
}

Room::Room(LastChoices& last, QObject* parent)
    : QObject(parent), last_(last), full_(last.get(tray_full_key, true)),
      full_at_page_(last.get(tray_full_at_page_key, false)), side_folded_(last.get(side_folded_key, false)),
      alone_(last.get(view_alone_key, false)), two_pages_(last.get(two_pages_key, true)),
      tray_height_(std::clamp(last.get(tray_height_key, usual_tray), least_tray, most_tray)) {
    keep_.setSingleShot(true);
    keep_.setInterval(std::chrono::milliseconds(300));
    connect(&keep_, &QTimer::timeout, this, &Room::keep);
}

void Room::keep() {
    last_.set(tray_full_key, full_);
    last_.set(tray_full_at_page_key, full_at_page_);
    last_.set(tray_height_key, tray_height_);
    last_.set(side_folded_key, side_folded_);
    last_.set(view_alone_key, alone_);
    last_.set(two_pages_key, two_pages_);
}

template <class T>
void Room::set(T& value, T to) {
    if (value == to) return;
    value = to;
    keep_.start();
    emit changed();
}

void Room::set_tray_full(Beside beside, bool full) { set(beside == Beside::Page ? full_at_page_ : full_, full); }
void Room::set_tray_height(int px) { set(tray_height_, std::clamp(px, least_tray, most_tray)); }
void Room::fold_side(bool folded) { set(side_folded_, folded); }
void Room::leave_view_alone(bool alone) { set(alone_, alone); }
void Room::set_two_pages(bool two) { set(two_pages_, two); }

}
