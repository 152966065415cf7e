// A cabinet in its own folder, and documents for it; each text is a line of a page.
#pragma once

#include "core/cabinet/finding.h"
#include "support/support.h"

#include <fmt/format.h>
#include <gtest/gtest.h>

#include <optional>
#include <sstream>

namespace yelvin::test::cabinet_given {

using namespace std::chrono;

inline constexpr year_month_day now = year(2026) / 11 / 27;

inline std::vector<std::string> split(const std::string& text) {
    std::vector<std::string> out;
    std::istringstream in(text);
    for (std::string word; in >> word;) out.push_back(word);
    return out;
}

// Each text is a line; a text that begins with # is a heading.
inline PageWords page(const std::vector<std::string>& lines, const std::string& language = "eng") {
    PageWords out{210, 297, {}};
    double y = 30;
    for (std::string text : lines) {
        PlacedLine line{{}, language, text.starts_with('#')};
        if (line.heading) text.erase(0, 1);
        double x = 20;
        for (const std::string& word : split(text)) {
            const double width = 2.1 * static_cast<double>(word.size());
            line.words.push_back({word, {x, y, width, 3.5}});
            x += width + 1.5;
        }
        y += 6;
        out.lines.push_back(std::move(line));
    }
    return out;
}

struct Given {
    std::string name, folder = "Post", sender = "", date = "", language = "eng";
    year_month_day saved = now;
};
inline NewPaper paper(const Given& given, const std::vector<std::vector<std::string>>& pages) {
    NewPaper out;
    out.file = "/home/desk/" + given.folder + "/" + given.name + ".pdf";
    out.saved = sys_days(given.saved);
    out.known.sender = given.sender;
    out.known.date = given.date;
    for (const auto& lines : pages) out.words.push_back(page(lines, given.language));
    return out;
}

class CabinetTest : public ::testing::Test {
  protected:
    TempFolder folder;
    std::optional<Cabinet> cabinet;
    std::optional<Finder> finder;
    void SetUp() override {
        auto opened = Cabinet::open(folder.path());
        ASSERT_TRUE(opened) << opened.error().sentence;
        cabinet.emplace(std::move(*opened));
        finder.emplace(std::move(*Finder::open(folder.path())));
    }
    long long add(const Given& given, const std::vector<std::vector<std::string>>& pages) {
        return cabinet->add(paper(given, pages)).value();
    }
    SearchResults find(const std::string& typed, const SearchFilter& narrowing = {}) {
        auto found = finder->find(typed, narrowing, 50, now);
        EXPECT_TRUE(found) << found.error().sentence;
        return found.value_or(SearchResults{});
    }
    std::vector<std::string> names(const std::string& typed, const SearchFilter& narrowing = {}) {
        std::vector<std::string> out;
        for (const SearchResult& each : find(typed, narrowing).best) out.push_back(each.paper.file.stem().string());
        return out;
    }
};

}
