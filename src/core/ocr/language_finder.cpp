#include "core/ocr/language_finder.h"

#include "core/ocr/densest_part.h"
#include "core/raster/units.h"
#include "core/text/languages.h"

#include <algorithm>
#include <map>

namespace yelvin {

namespace {

constexpr double sample_mm = 22;
constexpr double surely_read = 0.8; // of the ink's width: no other script needs to be tried
constexpr int few_words = 5;
constexpr double least_sure_mm = 15, hardly_read = 0.6;
constexpr size_t tried_at_most = 4; // languages of one script, where common words say nothing

std::vector<std::string> words_of(const std::vector<TextLine>& lines) {
    std::vector<std::string> words;
    for (const TextLine& line : lines)
        for (const Word& word : line.words) words.push_back(word.text);
    return words;
}

// The total width of the words in pixels, weighted by confidence.
double sure_px(const std::vector<TextLine>& lines) {
    double sum = 0;
    for (const TextLine& line : lines)
        for (const Word& word : line.words)
            if (word.confidence > 60) sum += word.box.width * word.confidence / 100;
    return sum;
}

double width_of(const std::vector<TextLine>& lines) {
    double width = 0;
    for (const TextLine& line : lines)
        for (const Word& word : line.words) width += word.box.width;
    return width;
}

std::vector<TextLine> in_script(std::vector<TextLine> lines, Script script) {
    for (TextLine& line : lines)
        std::erase_if(line.words,
                      [&](const Word& word) { return script_of_letters(word.text).value_or(script) != script; });
    return lines;
}

// Recognition results of the sample by language. Each is computed once.
class Sample {
  public:
    Sample(Raster part, const ReadIn& read) : part_(std::move(part)), read_(read) {}
    const Result<TextLayer>& in(const std::string& language) {
        const auto known = readings_.find(language);
        return known != readings_.end() ? known->second
                                        : readings_.emplace(language, read_(part_, language)).first->second;
    }
    // Only words in the language's own script count, because data for Japanese also recognises Latin letters.
    double sure_in(const std::string& language) {
        const auto& layer = in(language);
        return layer ? sure_px(in_script(layer->lines, script_of(language))) : 0;
    }
    double width_in(const std::string& language) {
        const auto& layer = in(language);
        return layer ? width_of(layer->lines) : 0;
    }

  private:
    Raster part_;
    const ReadIn& read_;
    std::map<std::string, Result<TextLayer>> readings_;
};

// Returns the first language of each script.
std::vector<std::string> one_of_each_script(const std::vector<std::string>& among) {
    std::vector<std::string> firsts;
    for (const std::string& language : among) {
        const auto same = [&](const std::string& other) { return script_of(other) == script_of(language); };
        // Each language of Script::Other has a script of its own.
        const bool by_itself = script_of(language) == Script::Other;
        if (by_itself || std::ranges::none_of(firsts, same)) firsts.push_back(language);
    }
    return firsts;
}

}

namespace {

std::vector<std::string> of_the_same_script(const std::vector<std::string>& among, const std::string& as) {
    std::vector<std::string> alike;
    std::ranges::copy_if(among, std::back_inserter(alike), [&](const std::string& language) {
        return language == as || (script_of(language) == script_of(as) && script_of(as) != Script::Other);
    });
    return alike;
}

// Returns a language of the sample's script: the first one's, unless another recognises much more, because noise looks
// like something in any script.
std::string script_seen(Sample& sample, const std::vector<std::string>& among, double least_sure_px) {
    const auto scripts = one_of_each_script(among);
    const std::string& first = scripts.front();
    const auto is_sure = [&](const std::string& language) {
        return sample.sure_in(language) > surely_read * sample.width_in(language);
    };
    const auto& layer = sample.in(first);
    if (!layer || is_sure(first) || is_clear(votes_for(words_of(layer->lines), of_the_same_script(among, first))))
        return first;
    std::string best = first;
    for (const std::string& other : scripts) {
        const double sure = sample.sure_in(other);
        if (sure < least_sure_px || sure < 1.3 * sample.sure_in(first) || sure < sample.sure_in(best)) continue;
        best = other;
        if (is_sure(other)) break;
    }
    return best;
}

}

Result<std::string> language_of(const Raster& page, const std::vector<std::string>& among, const ReadIn& read) {
    if (among.size() < 2 || page.pixels.empty()) return among.empty() ? "" : among.front();
    Sample sample(densest_part(page, sample_mm), read);
    const std::string first = script_seen(sample, among, mm_to_px(least_sure_mm, page.dpi));
    const Result<TextLayer>& layer = sample.in(first);
    if (!layer) return std::unexpected(layer.error());
    const auto alike = of_the_same_script(among, first);
    const auto words = words_of(layer->lines);
    if (alike.size() == 1 || words.size() < few_words) return first;
    const auto votes = votes_for(words, alike);
    if (is_clear(votes)) return votes.front().language;
    // The languages that the votes do not exclude, and those without a vote.
    std::vector<std::string> left;
    for (const LanguageVote& vote : votes)
        if (vote.words > 0 && 2 * vote.words >= votes.front().words) left.push_back(vote.language);
    for (const std::string& language : alike)
        if (std::ranges::find(votes, language, &LanguageVote::language) == votes.end()) left.push_back(language);
    if (left.empty()) left = alike;
    if (left.size() > tried_at_most) left.resize(tried_at_most);
    return *std::ranges::max_element(left, {}, [&](const std::string& l) { return sample.sure_in(l); });
}

std::vector<std::string> languages_to_try(const std::vector<TextLine>& lines, const std::string& now,
                                          const std::vector<std::string>& among) {
    std::vector<std::string> others;
    const auto words = words_of(lines);
    if (words.size() < 3) return others;
    if (sure_px(lines) < hardly_read * width_of(lines)) {
        for (const std::string& language : one_of_each_script(among))
            if (script_of(language) != script_of(now)) others.push_back(language);
    }
    const auto votes = votes_for(words, of_the_same_script(among, now));
    const auto own = std::ranges::find(votes, now, &LanguageVote::language);
    if (is_clear(votes) && own != votes.begin() && (own == votes.end() || votes.front().words >= 2 * own->words))
        others.insert(others.begin(), votes.front().language);
    return others;
}

bool fits_better(const std::vector<TextLine>& again, const std::string& language, const std::vector<TextLine>& before) {
    if (again.empty()) return false;
    const double sure = sure_px(in_script(again, script_of(language)));
    const std::string& was = before.front().language;
    // Within one script, about the same confidence is enough, because the words have already favoured the new language.
    if (script_of(was) == script_of(language)) return sure > 0.97 * sure_px(before);
    return sure > 1.3 * sure_px(in_script(before, script_of(was))) && sure > hardly_read * width_of(before);
}

}
