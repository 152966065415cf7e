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

    static constexpr double sure_word = 90; // of 100: a known word read so well is left as it is
    // The one of `others`, known words each, that the ink clearly is rather than what was read; doubtful then. `known`:
    // what was read is a word, too. Nothing where a letter was seen too seldom, or what was read is as likely.
    std::optional<Word> rather(const TextLine& line, const Word& word, bool known,
                               const std::vector<std::string>& others) const;

  private:
    // In each dot, the natural logarithm of how much more likely ink and paper are with the letter there than without.
    struct Letter {
        cv::Mat1f if_ink, if_paper;
        int width_px = 0;
        double usual = 0; // the sum over all dots where the letter is there
    };
    struct Fit {
        double sum = 0;   // of the logarithms
        double share = 0; // of what is usual for such letters
    };
    using Samples = std::map<char, std::vector<cv::Mat1b>>;

    const cv::Mat& grey_;
    double ink_under_ = 0, ascent_px_ = 0;
    int gap_px_ = 0; // from letter to letter
    std::map<char, Letter> letters_;

    bool is_of_the_size(const TextLine& line, const Word& word) const;
    cv::Mat1b ink_of(const TextLine& line, const Word& word) const;
    Samples samples_of(const TextLayer& layer, WordList& words);
    void learn(const Samples& samples);
    bool has_seen(const std::string& text) const;
    Fit fit(const cv::Mat1b& ink, const std::string& text) const;
};

}
