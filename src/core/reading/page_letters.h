// The letters as this page prints them, learnt from its words that were surely read: they tell which of several words
// that look alike the ink is, where it is worn or smeared. What wear does on this page, adding ink or taking it away,
// is part of what is learnt. Internal.
#pragma once

#include "core/reading/text_layer.h"
#include "core/reading/word_list.h"

#include <opencv2/core.hpp>

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
    struct Instead {
        std::string text;      // a known word
        double more_usual = 0; // the natural logarithm of how much more often it is written than what was read
        bool is_alike = true;  // by a single confusion of print
        bool is_small = false; // within a sentence, while what was read begins large
    };
    // The one of `others` that the word rather is, by the ink and by how usual both are; doubtful then. `known`: what
    // was read is a word, too. Nothing where a letter was seen too seldom, or what was read is as likely.
    std::optional<Word> rather(const TextLine& line, const Word& word, bool known,
                               const std::vector<Instead>& others) const;

  private:
    // In each dot, the natural logarithm of how much more likely ink and paper are with the letter there than without.
    struct Letter {
        cv::Mat1f rather_ink;    // ink less paper
        double if_all_paper = 0; // the sum over all dots
        int width_px = 0;
        double left_px = 0, right_px = 0; // that it keeps to its neighbours
        double usual = 0;                 // the sum over all dots where the letter is there
    };
    struct Fit {
        double sum = 0;   // of the logarithms
        double share = 0; // of what is usual for such letters
    };
    using Samples = std::map<char, std::vector<cv::Mat1b>>;

    const cv::Mat& grey_;
    double ink_under_ = 0, ascent_px_ = 0;
    struct Gap {
        char before = 0, after = 0;
        double px = 0;
    };
    std::vector<Gap> gaps_;
    std::map<char, Letter> letters_;

    static double needed(const Word& word, bool known);
    bool is_of_the_size(const TextLine& line, const Word& word) const;
    cv::Mat1b ink_of(const TextLine& line, const Word& word) const;
    Samples samples_of(const TextLayer& layer, WordList& words);
    void learn(const Samples& samples);
    void learn_gaps();
    bool has_seen(const std::string& text) const;
    Fit fit(const cv::Mat1b& ink, const std::string& text) const;
};

}
