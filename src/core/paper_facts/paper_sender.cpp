// The sender of a document: its letterhead, the line above the address, its foot, its web address, its signature. Never
// the addressee.
#include "core/paper_facts/paper_facts_found.h"

#include "core/paper_facts/dates_written.h"
#include "core/utf8.h"

#include <unicode/locid.h>
#include <unicode/unistr.h>

#include <algorithm>
#include <array>
#include <sstream>

namespace yelvin {

namespace {

// How certain it is that a name in such a place is the sender's, from 0 to 1, and the reason that is told. The order of
// the numbers decides between two names; a name below certain_enough (core/naming/paper_name.h) is not proposed. The
// order: a name that is labelled, then one in the places that letter forms reserve for the sender (DIN 5008, from
// memory: head, line above the address, foot), then parties and web addresses, then people. Measured on 1,000 drawn
// papers that no test uses (drawn_paper() of tests/support, 1000 to 1999): each place but one named the sender every
// time (letterhead 688 times, address at the head 563, foot with a postcode 155, web address 108, line above the
// address 93); a signature never did in 124, because people sign for the organisation of the letterhead.
struct Evidence {
    double certainty;
    const char* reason;
};
constexpr Evidence label_from{0.90, "after “from”"};
constexpr Evidence line_above_address{0.88, "the line above the address"};
constexpr Evidence address_at_head{0.86, "the address at the head"};
constexpr Evidence foot_with_postcode{0.84, "the foot of the page"};
constexpr Evidence first_party{0.84, "the first party"};
constexpr Evidence web_address_alone{0.82, "its web address"}; // and no other name above 0.80
constexpr Evidence writer{0.65, "the writer"};
constexpr Evidence signature_alone{0.62, "the signature"};
constexpr Evidence foot{0.60, "the foot of the page"};
constexpr Evidence web_address_beside{0.50, "its web address"}; // beside a name in a better place

// A letterhead is the more certain the larger it is set: from 0.81 at 1.2 times the usual height to 0.93 at twice that
// height. Lower than 14 % of the page it is 0.10 less certain, as it may be the title of a paragraph.
constexpr const char* letterhead_reason = "the letterhead";
double letterhead_certainty(double times_usual_height, double down_the_page) {
    const double by_size = std::min(0.93, 0.72 + 0.15 * std::min(1.6, times_usual_height - 0.6));
    return by_size - (down_the_page < 0.14 ? 0 : 0.10);
}

// Two independent places that agree are more certain than each: 1,186 of 1,186, 63 of 63 and 909 of 909 of the same
// papers.
constexpr double two_places_agree = 0.95, signed_by_the_head = 0.96, web_address_agrees = 0.97;

constexpr double least_certainty = 0.3;  // below it nothing is told
constexpr double nearly_as_good = 0.03;  // another name that close makes the best one unsure …
constexpr double most_if_disputed = 0.8; // … at most this certain

struct SenderSeen {
    std::string name, reason;
    double score = 0;
    std::vector<LineWord> place;
};

bool is_web_address(std::string_view word) {
    return word.contains('@') || word.starts_with("www.") || word.contains("://");
}

// Words before the first party of a contract, and before the author of something.
constexpr std::array<std::string_view, 4> party_words{"between", "zwischen", "entre", "tussen"};
constexpr std::array<std::string_view, 4> author_words{"by", "von", "par", "door"};

bool is_legal_form(const std::string& key) {
    for (const char* form : {"ltd", "limited", "plc", "llp", "inc", "gmbh", "ag", "kg", "ohg", "ev", "sarl", "sa",
                             "sas", "bv", "nv", "vof", "co"})
        if (key == form) return true;
    return false;
}

// Whether it can be a name: letters, no numbers, no label, no address.
bool is_name_like(const PaperPart& part, const PaperWords& words) {
    if (part.keys.empty() || part.words.size() > 8) return false;
    size_t letters = 0;
    for (const std::string& key : part.keys) {
        if (has_digit(key)) return false;
        letters += key.size();
    }
    if (letters < 4 || std::ranges::find(party_words, part.keys.front()) != party_words.end()) return false;
    if (std::ranges::any_of(part.words, [](const std::string& word) { return word.ends_with(':'); })) return false;
    if (std::ranges::any_of(part.words, [](const std::string& word) { return is_web_address(word); })) return false;
    for (const auto* list :
         {&words.kinds, &words.dates, &words.numbers, &words.addressee, &words.salutations, &words.subjects})
        if (whole_part(*list, part)) return false;
    const bool has_form = std::ranges::any_of(part.keys, is_legal_form);
    if (!has_form && longest_at(words.kinds, part.keys, 0)) return false; // "Minutes of the lock committee"
    return part.sure_of(0, part.words.size()) > 0.3;
}

std::string squashed(std::string_view name) {
    std::string out;
    for (const std::string& key : word_keys(name)) out += key;
    return out;
}

// The name as it is written in a web address: without its legal form; ü as u or ue.
bool is_same_name(std::string_view name, std::string_view web) {
    std::string plain;
    for (const std::string& key : word_keys(name))
        if (!is_legal_form(key) && key != "the" && key != "and" && key != "und") plain += key;
    std::string domain = squashed(web);
    if (plain.size() < 3 || domain.size() < 3) return false;
    if (plain == domain || (domain.size() >= 5 && (plain.starts_with(domain) || domain.starts_with(plain))))
        return true;
    const auto without_e = [](const std::string& text) { // of ae, oe, ue
        std::string out;
        for (size_t i = 0; i < text.size(); ++i)
            if (text[i] != 'e' || i == 0 || !std::string_view("aou").contains(text[i - 1])) out += text[i];
        return out;
    };
    return without_e(plain) == without_e(domain);
}

// The main part of the domain: "penhallow-chandlery" of www.penhallow-chandlery.example or post@….
std::string domain_of(std::string word) {
    if (const size_t at = word.find("://"); at != std::string::npos) word.erase(0, at + 3);
    if (const size_t at = word.find('@'); at != std::string::npos) word.erase(0, at + 1);
    if (word.starts_with("www.")) word.erase(0, 4);
    word = word.substr(0, word.find('/'));
    while (!word.empty() && std::string_view(",;:.)").contains(word.back())) word.pop_back();
    const size_t dot = word.rfind('.');
    if (dot == std::string::npos || dot == 0) return {};
    word.resize(dot);
    for (const char* second : {".co", ".org", ".com"}) // example.co.uk
        if (word.ends_with(second)) word.erase(word.rfind('.'));
    if (const size_t last = word.rfind('.'); last != std::string::npos) word.erase(0, last + 1);
    return word;
}

// Converts a letterhead in capitals to the case of names.
std::string as_a_name(const std::string& text) {
    const bool has_small = std::ranges::any_of(text, [](char c) { return c >= 'a' && c <= 'z'; });
    if (has_small || text.size() < 5) return text;
    std::string titled;
    icu::UnicodeString::fromUTF8(text).toTitle(nullptr, icu::Locale::getRoot()).toUTF8String(titled);
    constexpr std::pair<const char*, const char*> written[] = {
        {"Gmbh", "GmbH"}, {"Ag", "AG"},     {"Sarl", "SARL"}, {"B.v.", "B.V."}, {"N.v.", "N.V."}, {"Kg", "KG"},
        {"Sa", "SA"},     {"E.v.", "e.V."}, {"Of", "of"},     {"And", "and"},   {"De", "de"},     {"Du", "du"},
        {"Des", "des"},   {"Der", "der"},   {"Und", "und"},   {"Plc", "PLC"}};
    std::istringstream in(titled);
    std::string out;
    for (std::string word; in >> word;) {
        for (const auto& [from, to] : written)
            if (!out.empty() && word == from) word = to;
        out += (out.empty() ? "" : " ") + word;
    }
    return out;
}

// "Name · Street 3 · 12345 Place": returns what precedes the first of such separators.
std::optional<size_t> words_before_mark(const PaperPart& part) {
    for (size_t i = 1; i < part.words.size(); ++i)
        if ((word_key(part.words[i]).empty() || part.words[i] == "e") && i + 1 < part.words.size() &&
            part.words[i] != "&")
            return i;
    for (size_t i = 0; i + 1 < part.words.size(); ++i)
        if (part.words[i].ends_with(',')) return i + 1;
    return std::nullopt;
}

class Senders {
  public:
    Senders(const PaperPage& page, const PaperWords& words)
        : page_(page), words_(words), addressee_(addressee_on(page, words)) {}

    std::optional<PaperFact> best() {
        for (const PaperPart& part : page_.parts) {
            look_for_web(part);
            if (is_for(part)) continue;
            letterhead(part);
            line_with_marks(part);
            block(part);
            label(part);
            party(part);
        }
        signature();
        agree();
        const auto best = std::ranges::max_element(all_, {}, &SenderSeen::score);
        if (best == all_.end() || best->score < least_certainty) return std::nullopt;
        PaperFact fact{best->name, std::min(0.99, best->score), best->reason, best->place};
        for (const SenderSeen& other : all_)
            if (other.score > best->score - nearly_as_good && !is_same_name(other.name, best->name))
                fact.sure = std::min(fact.sure, most_if_disputed);
        return fact;
    }

  private:
    const PaperPage& page_;
    const PaperWords& words_;
    std::vector<const PaperPart*> addressee_;
    std::vector<SenderSeen> all_;
    struct Web {
        std::string domain, printed;
        std::vector<LineWord> place;
    };
    std::vector<Web> webs_;

    bool is_for(const PaperPart& part) const { return std::ranges::find(addressee_, &part) != addressee_.end(); }

    void add(const std::string& name, const Evidence& evidence, std::vector<LineWord> place) {
        std::string clean = as_a_name(name);
        while (!clean.empty() && std::string_view(",;:").contains(clean.back())) clean.pop_back();
        if (clean.size() >= 3) all_.push_back({clean, evidence.reason, evidence.certainty, std::move(place)});
    }

    void look_for_web(const PaperPart& part) {
        for (size_t i = 0; i < part.words.size(); ++i) {
            if (!is_web_address(part.words[i])) continue;
            const std::string domain = domain_of(part.words[i]);
            if (domain.size() >= 3) webs_.push_back({domain, part.words[i], part.places_of(i, 1)});
        }
    }

    // A logo beside the name is sometimes recognised as letters, which are much taller.
    static size_t words_of_logo(const PaperPart& part) {
        if (part.words.size() < 3 || part.sure.front() > 0.9) return 0;
        std::vector<int> tall;
        for (size_t i = 1; i < part.boxes.size(); ++i) tall.push_back(part.boxes[i].height);
        std::ranges::sort(tall);
        return part.boxes.front().height > 1.7 * tall[tall.size() / 2] ? 1 : 0;
    }

    // The largest type at the head of the page.
    void letterhead(const PaperPart& part) {
        if (page_.down(part) > 0.2 || !is_name_like(part, words_)) return;
        const double larger = part.height / page_.usual_height;
        if (larger < 1.2 && !part.bold) return;

        const double well_read = std::min(1.0, part.sure_of(0, part.words.size()) / 0.8);
        const size_t from = words_of_logo(part);
        add(part.text(from), {letterhead_certainty(larger, page_.down(part)) * well_read, letterhead_reason},
            part.places_of(from, part.words.size()));
    }

    // Above the address, or at the foot of the page.
    void line_with_marks(const PaperPart& part) {
        const double down = page_.down(part);
        const bool over_address =
            down > 0.1 && down < 0.26 && has_postcode(part) && part.height < 1.05 * page_.usual_height;
        const bool at_foot = down > 0.87;
        if ((!over_address && !at_foot) || !dates_in(part.words, {page_.language}).empty()) return;
        const auto count = words_before_mark(part);
        if (!count || *count > 6) return;
        if (has_digit(part.text(0, *count)) || longest_at(words_.numbers, part.keys, 0)) return;
        add(part.text(0, *count),
            over_address         ? line_above_address
            : has_postcode(part) ? foot_with_postcode
                                 : foot,
            part.places_of(0, *count));
    }

    // The first line above a street and a postcode, at the head of the page and not in the addressee's place.
    void block(const PaperPart& part) {
        if (page_.down(part) > 0.16 || !is_name_like(part, words_) || begins_with_a_title(part)) return;
        const PaperPart *second = page_.below(part), *third = second ? page_.below(*second) : nullptr;
        if (!second || is_for(*second)) return;
        // If there is one close above, this is not the first line of the address.
        const PaperPart* first = page_.above(part);
        if (first && part.box.y - first->box.br().y < 1.3 * part.height && first->height < 1.3 * part.height) return;
        const bool coded = has_postcode(*second) || (third && has_postcode(*third) && !is_for(*third));
        if (coded) add(part.text(), address_at_head, part.places_of(0, part.words.size()));
    }

    // "From: Joan Tressler <joan@…>", in one line, side by side, or below each other.
    void label(const PaperPart& part) {
        const PhraseMatch found = longest_at(words_.senders, part.keys, 0);
        if (!found) return;
        const size_t last = part.word_of_key[found.keys - 1];
        size_t first = last + 1;
        const bool parted = first < part.words.size() && part.words[first] == ":";
        if (!part.words[last].ends_with(':') && !parted) return;
        first += parted;
        size_t end = first;
        while (end < part.words.size() && end - first < 6 && !part.words[end].contains('@') &&
               !part.words[end].starts_with('('))
            ++end;
        if (end > first && !has_digit(part.text(first, end - first)))
            return add(part.text(first, end - first), label_from, part.places_of(first, end - first));
        for (const PaperPart* next : {page_.right_of(part), page_.below(part)})
            if (next && is_name_like(*next, words_))
                return add(next->text(), label_from, next->places_of(0, next->words.size()));
    }

    // "between Wendle Navigation Trust (the Landlord)": the first party of a contract.
    void party(const PaperPart& part) {
        for (size_t i = 0; i < part.keys.size(); ++i) {
            const bool opens = i == 0 || part.words[part.word_of_key[i - 1]].ends_with(',');
            const bool author = std::ranges::find(author_words, part.keys[i]) != author_words.end() && i == 0;
            if (!opens || (!author && std::ranges::find(party_words, part.keys[i]) == party_words.end())) continue;
            size_t first = part.word_of_key[i] + 1, end = first;
            while (end < part.words.size() && end - first < 6 && !part.words[end].starts_with('(')) {
                const bool last = part.words[end].ends_with(',');
                ++end;
                if (last) break;
            }
            if (end == first || has_digit(part.text(first, end - first))) return;
            const auto c = static_cast<unsigned char>(part.words[first].front());
            if (std::islower(c)) return; // A sentence such as "between the lock and the weir".
            return add(part.text(first, end - first), author ? writer : first_party,
                       part.places_of(first, end - first));
        }
    }

    void signature() {
        for (const PaperPart& part : page_.parts) {
            if (part.words.size() > 12 || !longest_at(words_.closings, part.keys, 0)) continue;
            const PaperPart* nearest = nullptr;
            for (const PaperPart& other : page_.parts) {
                const double gap = page_.down(other) - page_.down(part);
                if (gap > 0.005 && gap < 0.12 && !nearest && is_name_like(other, words_)) nearest = &other;
            }
            if (!nearest) return;
            // The person who signs is the sender, unless a letterhead names the organisation.
            for (SenderSeen& candidate : all_)
                if (squashed(candidate.name) == squashed(nearest->text())) {
                    candidate.score = signed_by_the_head;
                    candidate.reason = "the head, and the signature";
                    return;
                }
            return add(nearest->text(), signature_alone, nearest->places_of(0, nearest->words.size()));
        }
    }

    // A name that agrees with a web address is certain; without a letterhead the web address is all there is.
    void agree() {
        for (const Web& web : webs_) {
            bool agreed = false;
            for (SenderSeen& candidate : all_) {
                if (!is_same_name(candidate.name, web.domain)) continue;
                agreed = true;
                if (candidate.score < web_address_agrees) candidate.reason += ", and " + web.printed;
                candidate.score = std::max(candidate.score, web_address_agrees);
            }
            if (agreed) continue;
            std::string name;
            std::istringstream in(web.domain);
            for (std::string word; std::getline(in, word, '-');)
                if (!word.empty()) name += (name.empty() ? "" : " ") + capitalised(word);
            const bool head = std::ranges::none_of(all_, [](const SenderSeen& each) { return each.score > 0.8; });
            add(name, head ? web_address_alone : web_address_beside, web.place);
        }
        for (size_t i = 0; i < all_.size(); ++i) // A name that occurs in two places is more certain.
            for (size_t k = 0; k < all_.size(); ++k)
                if (i != k && all_[i].reason != all_[k].reason && squashed(all_[i].name) == squashed(all_[k].name) &&
                    std::min(all_[i].score, all_[k].score) > 0.55)
                    all_[i].score = std::max(all_[i].score, two_places_agree);
    }
};

}

std::optional<PaperFact> sender_on(const PaperPage& page, const PaperWords& words) {
    return Senders(page, words).best();
}

}
