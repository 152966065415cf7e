#include "devices/sane/option_io.h"

#include <algorithm>
#include <cmath>
#include <cstring>

namespace yelvin::sane {

namespace {

double number(SANE_Word word, SANE_Value_Type type) { return type == SANE_TYPE_FIXED ? SANE_UNFIX(word) : word; }

void read_constraint(const SANE_Option_Descriptor& from, Option& to) {
    if (from.constraint_type == SANE_CONSTRAINT_RANGE && from.constraint.range) {
        to.least = number(from.constraint.range->min, from.type);
        to.most = number(from.constraint.range->max, from.type);
        to.step = number(from.constraint.range->quant, from.type);
    } else if (from.constraint_type == SANE_CONSTRAINT_WORD_LIST && from.constraint.word_list) {
        for (SANE_Word i = 1; i <= from.constraint.word_list[0]; ++i)
            to.numbers.push_back(number(from.constraint.word_list[i], from.type));
    } else if (from.constraint_type == SANE_CONSTRAINT_STRING_LIST && from.constraint.string_list) {
        for (auto* word = from.constraint.string_list; *word; ++word) to.words.emplace_back(*word);
    }
}

void read_value(SANE_Handle handle, const SANE_Option_Descriptor& from, Option& to) {
    if (!to.active || !to.detectable || from.type == SANE_TYPE_BUTTON || from.type == SANE_TYPE_GROUP) return;
    std::vector<SANE_Byte> bytes(static_cast<size_t>(std::max<SANE_Int>(from.size, 8)) + 1, 0);
    if (sane_control_option(handle, to.index, SANE_ACTION_GET_VALUE, bytes.data(), nullptr) != SANE_STATUS_GOOD) return;
    SANE_Word word = 0;
    std::memcpy(&word, bytes.data(), sizeof word);
    switch (from.type) {
    case SANE_TYPE_BOOL:
        to.value = word != 0;
        break;
    case SANE_TYPE_STRING:
        to.value = std::string(reinterpret_cast<const char*>(bytes.data()));
        break;
    default:
        to.value = number(word, from.type);
    }
}

}

std::vector<Option> read_table(SANE_Handle handle) {
    std::vector<Option> table;
    for (SANE_Int i = 1;; ++i) {
        const SANE_Option_Descriptor* from = sane_get_option_descriptor(handle, i);
        if (!from) break;
        Option option;
        option.index = i;
        option.name = words(from->name);
        option.title = words(from->title);
        option.explanation = words(from->desc);
        option.type = from->type == SANE_TYPE_BOOL     ? Type::Flag
                      : from->type == SANE_TYPE_INT    ? Type::Int
                      : from->type == SANE_TYPE_FIXED  ? Type::Fixed
                      : from->type == SANE_TYPE_STRING ? Type::Text
                      : from->type == SANE_TYPE_BUTTON ? Type::Button
                                                       : Type::Group;
        option.unit = static_cast<Unit>(std::clamp<int>(from->unit, 0, 6));
        option.active = SANE_OPTION_IS_ACTIVE(from->cap);
        option.settable = SANE_OPTION_IS_SETTABLE(from->cap);
        option.detectable = (from->cap & SANE_CAP_SOFT_DETECT) != 0;
        option.advanced = (from->cap & SANE_CAP_ADVANCED) != 0;
        option.by_hand = (from->cap & SANE_CAP_HARD_SELECT) != 0;
        if (from->type == SANE_TYPE_INT || from->type == SANE_TYPE_FIXED)
            option.values = std::max(1, from->size / static_cast<SANE_Int>(sizeof(SANE_Word)));
        read_constraint(*from, option);
        if (option.values == 1) read_value(handle, *from, option);
        table.push_back(std::move(option));
    }
    return table;
}

SANE_Status set_value(SANE_Handle handle, const Option& option, const OptionValue& value, SANE_Int& info) {
    SANE_Word word = 0;
    switch (option.type) {
    case Type::Flag:
        word = std::holds_alternative<bool>(value) && std::get<bool>(value) ? SANE_TRUE : SANE_FALSE;
        break;
    case Type::Int:
    case Type::Fixed: {
        const auto* wanted = std::get_if<double>(&value);
        if (!wanted) return SANE_STATUS_INVAL;
        word = option.type == Type::Fixed ? SANE_FIX(*wanted) : static_cast<SANE_Word>(std::lround(*wanted));
        break;
    }
    case Type::Text: {
        const auto* wanted = std::get_if<std::string>(&value);
        if (!wanted) return SANE_STATUS_INVAL;
        const SANE_Option_Descriptor* from = sane_get_option_descriptor(handle, option.index);
        std::vector<char> text(static_cast<size_t>(std::max<SANE_Int>(from ? from->size : 1, 1)) + wanted->size() + 1,
                               0);
        std::ranges::copy(*wanted, text.begin());
        return sane_control_option(handle, option.index, SANE_ACTION_SET_VALUE, text.data(), &info);
    }
    case Type::Button:
        return sane_control_option(handle, option.index, SANE_ACTION_SET_VALUE, nullptr, &info);
    case Type::Group:
        return SANE_STATUS_GOOD;
    }
    return sane_control_option(handle, option.index, SANE_ACTION_SET_VALUE, &word, &info);
}

}
