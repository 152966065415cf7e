// Stemming words by the Snowball stemmers of libstemmer.
#pragma once

#include <map>
#include <memory>
#include <string>
#include <vector>

struct sb_stemmer;

namespace yelvin {

// Used by one thread at a time.
class Stemmers {
  public:
    // Returns the stem of a word in a language (Tesseract's name), or the word if there is no stemmer for it.
    std::string stem(const std::string& written, const std::string& language);
    static bool knows(const std::string& language);

  private:
    struct Delete {
        void operator()(sb_stemmer* stemmer) const;
    };
    std::map<std::string, std::unique_ptr<sb_stemmer, Delete>> by_language_;
};

}
