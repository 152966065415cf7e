// Tables with one row for each member of an enumeration, checked when they are compiled. The members of such an
// enumeration count from 0, its last enumerator is an alias of the last member, and a switch says which values are
// members:
//
//     enum class Kind { Words, Date, Last = Date };
//     constexpr bool is_member(Kind kind) {
//         switch (kind) {
//         case Kind::Words:
//         case Kind::Date:
//             return true;
//         }
//         return false;
//     }
//     static_assert(has_last<Kind>());
//
// A new member does not compile without its case, has_last() fails until `Last` names it, and has_each() fails for
// every table that lacks it.
#pragma once

#include <algorithm>
#include <array>
#include <cstddef>

namespace yelvin {

template <class E>
inline constexpr std::size_t member_count = static_cast<std::size_t>(E::Last) + 1;

template <class E>
consteval bool has_last() {
    return is_member(E::Last) && !is_member(static_cast<E>(member_count<E>));
}

// All members, in their order.
template <class E>
consteval std::array<E, member_count<E>> all_members() {
    std::array<E, member_count<E>> all{};
    for (std::size_t i = 0; i < all.size(); ++i) all[i] = static_cast<E>(i);
    return all;
}

// Whether `table` has exactly one row for each member; `member` is the row's variable that names it.
template <class Table, class E, class Row>
consteval bool has_each(const Table& table, E Row::*member) {
    return std::ranges::all_of(all_members<E>(), [&](E each) { return std::ranges::count(table, each, member) == 1; });
}

}
