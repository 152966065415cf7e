// The letters as one page prints them, learnt from its words that were read with certainty. They decide which of
// several similar words a worn or smeared word is. What wear does on this page, adding or removing ink, is part of what
// is learnt. Internal to core/ocr. Const functions may be called on several threads.
#pragma once

#include "core/ocr/word_list.h"
#include "core/text/text_layer.h"

#include <opencv2/core.hpp>

#include <array>
#include <map>
#include <optional>
#include <string>
#include <vector>

namespace yelvin {

class PageLetters {
  public:
    // Learns the letters. `grey` is CV_8UC1, black on white, has the layer's coordinates, and must outlive this object.
    PageLetters(const TextLayer& layer, const cv::Mat& grey, WordList& words);

    static constexpr double sure_word = 90; // confidence of words that are learnt from
    static constexpr int margin = 2;        // px by which a letter may be displaced
    // A known word that the reading may be instead.
    struct Instead {
        std::string text;
        double more_usual = 0; // natural logarithm of how much more often it is written than the reading
        bool is_alike = true;  // whether a single confusion of print separates them
        bool is_small =
            false; // whether it begins with a small letter, within a sentence, and the reading with a capital
        bool counted = false; // whether the language's words were counted
    };
    // Whether the reading is in no dictionary, occurs twice on the page, or is a word of its language.
    enum class Standing { Unknown, OfThePage, Known };
    // Returns the word of `others` that the ink and the frequency of words favour over the reading, marked as doubtful.
    // A word that no dictionary has stays unless its ink contradicts it. Returns nullopt if the reading is as likely or
    // one of its letters was seen too seldom.
    std::optional<Word> rather(const TextLine& line, const Word& word, Standing standing,
                               const std::vector<Instead>& others) const;

    // Decides by the ink between two readings of a word.
    enum class Ink { First, Second, CannotTell };
    Ink which(const TextLine& line, const Word& word, const std::string& first, const std::string& second) const;
    // Whether each letter of the text was learnt.
    bool has_seen(const std::string& text) const;

  private:
    // For each pixel: how likely ink is if the letter is there (as a level), and the natural logarithm of how much more
    // likely ink is than without the letter.
    struct Letter {
        cv::Mat1b level;
        cv::Mat1f rather_ink;    // logarithm for ink less that for paper
        double if_all_paper = 0; // sum of the logarithms if all pixels were paper
        int width_px = 0;
        double left_px = 0, right_px = 0; // distances to its neighbours
        double usual = 0;                 // usual sum of the logarithms where the letter is
    };
    struct Fit {
        double sum = 0;       // of the logarithms
        double share = 0;     // of the usual sum for these letters
        double left_over = 0; // ink that belongs to none of the letters, relative to the ink of a letter
    };
    struct Field {
        cv::Mat1f ink;  // 1 for ink, 0 for paper
        int before = 0; // px of paper to its left
    };
    struct Composed {
        cv::Mat1b levels; // of all letters
        double sum = 0;   // of the logarithms, over the letters separately
    };
    struct Compared {
        std::string first, second; // the parts of both words that differ; all letters were learnt
        cv::Mat1b ink;             // of that part
        int left_px = 0;           // where it begins in the word
    };
    using Samples = std::map<char, std::vector<cv::Mat1b>>;

    // For each level, the natural logarithms of how much more likely ink and paper are than on bare paper.
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
