// The letters as this page prints them, learnt from its words that were surely read: they tell which of several words
// that look alike the ink is, where it is worn or smeared. What wear does on this page, adding ink or taking it away,
// is part of what is learnt. Internal.
#pragma once

#include "core/reading/text_layer.h"
#include "core/reading/word_list.h"

#include <opencv2/core.hpp>

#include <array>
#include <map>
#include <optional>
#include <string>
#include <vector>

namespace yelvin {

class PageLetters {
  public:
    // `grey` has 8 bits, is black on white, has the layer's places, and stays.
    PageLetters(const TextLayer& layer, const cv::Mat& grey, WordList& words);

    static constexpr double sure_word = 90; // of 100
    static constexpr int margin = 2;        // px around a letter, by which it may stand elsewhere
    struct Instead {
        std::string text;      // a known word
        double more_usual = 0; // the natural logarithm of how much more often it is written than what was read
        bool is_alike = true;  // by a single confusion of print
        bool is_small = false; // within a sentence, while what was read begins large
        bool counted = false;  // it is known how usual words of the language are
    };
    // What was read is in no dictionary, is said twice on the page, or is a word of its language.
    enum class Standing { Unknown, OfThePage, Known };
    // The one of `others` that the word rather is, by the ink and by how usual both are; doubtful then. What no
    // dictionary has stays unless its ink contradicts it. Nothing where a letter was seen too seldom, or what was read
    // is as likely.
    std::optional<Word> rather(const TextLine& line, const Word& word, Standing standing,
                               const std::vector<Instead>& others) const;

    // What the ink says of a word that was read in two ways: which of them it is, or that it cannot tell.
    enum class Ink { First, Second, CannotTell };
    Ink which(const TextLine& line, const Word& word, const std::string& first, const std::string& second) const;
    // Whether the page has shown each letter of the text often enough to compare with.
    bool has_seen(const std::string& text) const;

  private:
    // In each dot, how likely ink is where the letter is (in levels), and the natural logarithm of how much more likely
    // ink and paper are with the letter there than without.
    struct Letter {
        cv::Mat1b level;
        cv::Mat1f rather_ink;    // ink less paper
        double if_all_paper = 0; // the sum over all dots
        int width_px = 0;
        double left_px = 0, right_px = 0; // that it keeps to its neighbours
        double usual = 0;                 // the sum over all dots where the letter is there
    };
    struct Fit {
        double sum = 0;       // of the logarithms
        double share = 0;     // of what is usual for such letters
        double left_over = 0; // ink that belongs to none of the letters, against the ink of a letter
    };
    struct Field {
        cv::Mat1f ink;  // 1 where there is some
        int before = 0; // px of paper to its left
    };
    struct Composed {
        cv::Mat1b levels; // of all letters
        double sum = 0;   // of the logarithms, each letter for itself
    };
    struct Compared {
        std::string first, second; // letters that were all seen
        cv::Mat1b ink;             // of them
        int left_px = 0;           // where it begins
    };
    using Samples = std::map<char, std::vector<cv::Mat1b>>;

    // The natural logarithms of how much more likely ink and paper are with each level than on plain paper.
    struct Levels {
        std::array<double, 256> ink{}, paper{};
    };

    const cv::Mat& grey_;
    Levels levels_;
    double ink_under_ = 0, ascent_px_ = 0;
    struct Gap {
        char before = 0, after = 0;
        double px = 0;
    };
    std::vector<Gap> gaps_;
    std::map<char, Letter> letters_;

    static double needed(const Word& word, Standing standing);
    bool is_of_the_size(const TextLine& line, const Word& word) const;
    cv::Mat1b ink_of(const TextLine& line, const Word& word) const;
    Samples samples_of(const TextLayer& layer, WordList& words);
    void learn(const Samples& samples);
    void learn_gaps();
    Field field_of(const cv::Mat1b& ink, const std::string& text) const;
    Composed composed(const Field& field, const std::string& text, int down) const;
    std::optional<Compared> compared(const cv::Mat1b& ink, const std::string& first, const std::string& second) const;
    Fit fit(const cv::Mat1b& ink, const std::string& text) const;
    std::optional<double> gain(const Compared& both, const Fit& own, const Word& word, Standing standing,
                               const Instead& other) const;
    const Instead* whole_ink(const cv::Mat1b& ink, const Word& word, Standing standing,
                             const std::vector<Instead>& others) const;
};

}
