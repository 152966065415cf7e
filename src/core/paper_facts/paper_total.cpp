// The amount to pay: the one beside the strongest label, checked against the amounts of which it is the sum.
#include "core/paper_facts/paper_facts_found.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace yelvin {

namespace {

struct Amount {
    long long cents = 0;
    std::string currency;
    std::vector<LineWord> place;
    double sure = 1;
};

std::string currency_of(std::string_view words) {
    for (const auto& [sign, code] : {std::pair{"€", "EUR"},
                                     {"£", "GBP"},
                                     {"$", "USD"},
                                     {"EUR", "EUR"},
                                     {"GBP", "GBP"},
                                     {"USD", "USD"},
                                     {"CHF", "CHF"}})
        if (words.contains(sign)) return code;
    return {};
}

// 1.022,16 and 1,022.16 and 1 022,16: two decimals after the last separator; the other separator groups thousands.
std::optional<long long> cents_of(std::string_view text) {
    std::string digits;
    size_t decimals = std::string_view::npos;
    for (const char c : text) {
        if (c >= '0' && c <= '9') {
            digits += c;
            if (decimals != std::string_view::npos) ++decimals;
        } else if (c == '.' || c == ',') {
            decimals = 0;
        }
    }
    if (digits.empty() || digits.size() > 12 || decimals != 2) return std::nullopt;
    return std::stoll(digits);
}

// Returns the last amount among the words from `first` on.
std::optional<Amount> amount_in(const PaperPart& part, size_t first) {
    for (size_t end = part.words.size(); end > first; --end) {
        const std::string& word = part.words[end - 1];
        if (!cents_of(word)) continue;
        size_t from = end - 1;
        // Thousands in a separate word: "1 022,16".
        const bool starts_with_three =
            word.size() > 3 && std::ranges::all_of(word.substr(0, 3), [](char c) { return c >= '0' && c <= '9'; }) &&
            (word[3] == ',' || word[3] == '.');
        if (starts_with_three && from > first) {
            const std::string& before = part.words[from - 1];
            if (!before.empty() && before.size() <= 4 && has_digit(before) && !before.contains('%') &&
                before.find_first_of(".,:") == std::string::npos)
                --from;
        }
        const std::string number = part.text(from, end - from);
        if (const auto cents = cents_of(number))
            return Amount{*cents, currency_of(part.text(first)), part.places_of(from, end - from),
                          part.sure_of(from, end - from)};
    }
    return std::nullopt;
}

struct Sum {
    Amount amount;
    std::string means, label;
    double score = 0;
};

}

std::optional<PaperFact> total_on(const PaperPage& page, const PaperWords& words) {
    std::vector<Sum> sums;
    std::vector<long long> all; // every amount on the page
    std::string currency;
    for (const PaperPart& part : page.parts) {
        if (currency.empty()) currency = currency_of(part.text());
        for (size_t i = 0; i < part.words.size(); ++i)
            if (const auto cents = cents_of(part.words[i])) all.push_back(*cents);
        const PhraseMatch found = longest_at(words.totals, part.keys, 0);
        if (!found) continue;
        const size_t behind = part.word_of_key[found.keys - 1] + 1;
        std::optional<Amount> amount = amount_in(part, behind);
        // Beside the label, possibly after a currency.
        for (const PaperPart* right = page.right_of(part); !amount && right; right = page.right_of(*right))
            amount = amount_in(*right, 0);
        if (!amount) continue;
        const bool due = found.phrase->means == "due", net = found.phrase->means == "net";
        sums.push_back({*amount, found.phrase->means, part.text(0, behind), due ? 0.93 : net ? 0.2 : 0.88});
    }
    if (sums.empty()) return std::nullopt;
    const auto best = std::ranges::max_element(sums, [](const Sum& a, const Sum& b) {
        return std::pair(a.score, a.amount.cents) < std::pair(b.score, b.amount.cents);
    });
    if (best->score < 0.3) return std::nullopt;
    std::string label = best->label;
    while (!label.empty() && label.back() == ':') label.pop_back();
    PaperFact fact{fmt::format("{}.{:02}", best->amount.cents / 100, best->amount.cents % 100), best->score,
                   fmt::format("beside “{}”", label), best->amount.place};
    const std::string known = best->amount.currency.empty() ? currency : best->amount.currency;
    if (!known.empty()) fact.value += " " + known;
    for (const Sum& net : sums)
        if (net.means == "net" && std::ranges::find(all, best->amount.cents - net.amount.cents) != all.end()) {
            fact.sure = 0.98;
            fact.reason += ", equal to the net amount plus tax";
            break;
        }
    fact.sure *= std::min(1.0, best->amount.sure / 0.8);
    return fact;
}

}
