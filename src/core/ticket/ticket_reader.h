// Reading and writing the keys of a ticket's file. Internal to core/ticket.
#pragma once

#include "core/error.h"
#include "core/ticket/ticket.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <algorithm>
#include <optional>
#include <string>
#include <string_view>

namespace yelvin {

template <class E>
struct NamedValue {
    std::string_view word;
    E value;
};

template <class E, size_t N>
std::string_view word_of(const NamedValue<E> (&choices)[N], const E& value) {
    return std::ranges::find_if(choices, [&](const auto& choice) { return choice.value == value; })->word;
}

// Reads the keys of one ticket into variables. A missing key leaves its variable unchanged. The first wrong value is
// stored in `error`; `ticket` must outlive the reader.
class TicketReader {
  public:
    explicit TicketReader(const nlohmann::json& ticket) : ticket_(ticket) {}

    const nlohmann::json* at(std::string_view key) const {
        const nlohmann::json* node = &ticket_;
        for (size_t begin = 0; begin <= key.size();) {
            const size_t dot = std::min(key.find('.', begin), key.size());
            const std::string name(key.substr(begin, dot - begin));
            if (!node->is_object() || !node->contains(name)) return nullptr;
            node = &(*node)[name];
            begin = dot + 1;
        }
        return node;
    }
    void wrong(std::string_view key, const nlohmann::json& was, std::string_view allowed) {
        if (error) return;
        error = Error{
            ErrorKind::BadInput, fmt::format("The ticket's {} is {}; allowed is {}.", key, was.dump(), allowed), {}};
    }
    template <class E, size_t N>
    void choice(std::string_view key, const NamedValue<E> (&choices)[N], E& out) {
        const nlohmann::json* value = at(key);
        if (!value) return;
        for (const auto& [word, meaning] : choices) {
            if (*value == word) {
                out = meaning;
                return;
            }
        }
        std::string allowed;
        for (const auto& [word, meaning] : choices)
            allowed += fmt::format("{}\"{}\"", allowed.empty() ? "" : ", ", word);
        wrong(key, *value, allowed);
    }
    void flag(std::string_view key, bool& out) {
        const nlohmann::json* value = at(key);
        if (!value) return;
        if (value->is_boolean())
            out = value->get<bool>();
        else
            wrong(key, *value, "true or false");
    }
    template <class N>
    void number(std::string_view key, double least, double most, N& out, std::string_view or_else = {}) {
        const nlohmann::json* value = at(key);
        if (!value) return;
        const bool right_type = std::is_integral_v<N> ? value->is_number_integer() : value->is_number();
        if (right_type && value->get<double>() >= least && value->get<double>() <= most)
            out = value->get<N>();
        else
            wrong(
                key, *value,
                fmt::format("a {}number from {} to {}{}", std::is_integral_v<N> ? "whole " : "", least, most, or_else));
    }
    void words(std::string_view key, std::string& out) {
        const nlohmann::json* value = at(key);
        if (!value) return;
        if (value->is_string() && !value->get<std::string>().empty())
            out = value->get<std::string>();
        else
            wrong(key, *value, "a non-empty text");
    }

    std::optional<Error> error;

  private:
    const nlohmann::json& ticket_;
};

// Reads a list of name parts. Parts::Some: at least one; MayBeNone: also an empty list; Folders: also slashes.
enum class Parts { Some, MayBeNone, Folders };
void read_name(TicketReader& in, std::string_view key, Parts least, std::vector<NamePart>& out);
nlohmann::json name_json(const std::vector<NamePart>& parts);

void read_make(TicketReader& in, Ticket::Make& make);
nlohmann::json make_json(const Ticket::Make& make);

void read_then(TicketReader& in, Ticket::Then& then);
nlohmann::json then_json(const Ticket::Then& then);

}
