// The endings of words, by the Snowball stemmers of libstemmer.
#pragma once

#include <map>
#include <memory>
#include <string>
#include <vector>

struct sb_stemmer;

namespace yelvin {

// On one thread at a time.
class Stemmers {
  public:
    // The word without its ending, as its language (Tesseract's name) folds it; itself where the language has none.
    std::string stem(const std::string& written, const std::string& language);
    static bool knows(const std::string& language);

  private:
    struct Delete {
        void operator()(sb_stemmer* stemmer) const;
    };
    std::map<std::string, std::unique_ptr<sb_stemmer, Delete>> by_language_;
};

}
