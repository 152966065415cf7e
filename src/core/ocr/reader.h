// OCR of a page: the copy for OCR, Tesseract, languages, second readings, worn words. A Reader is used by one thread at
// a time and keeps its engines between pages, because loading a language takes longer than many pages. Tesseract's own
// threads are off: two pages on two readers are faster than one page on two threads.
#pragma once

#include "core/ocr/engine.h"

#include <memory>
#include <optional>
#include <stop_token>
#include <string>
#include <vector>

namespace yelvin {

class Reader {
  public:
    Reader();
    ~Reader();
    Reader(Reader&&) noexcept;
    Reader& operator=(Reader&&) noexcept;

    using Progress = Engine::Progress;

    // Reads a page. `languages` has Tesseract's names ("eng"), at least one, or "auto" for the installed ones; if there
    // are several, the page's language is detected, and those of paragraphs in another one. Errors: Missing if a
    // language is not installed, with the name of its package; Stopped, within a line or two.
    Result<TextLayer> read(const Raster& page, const std::vector<std::string>& languages,
                           const std::stop_token& stop = {}, const Progress& progress = {});

    // Checks that the languages are installed. Errors: Missing, as read() reports it.
    Result<void> can_read(const std::vector<std::string>& languages);

    // Detects the language of the page, faster than reading it. Errors: those of read().
    Result<std::string> language_of(const Raster& page, const std::vector<std::string>& languages,
                                    const std::stop_token& stop = {});

    // Returns `asked` or, for "auto", the installed languages.
    std::vector<std::string> languages_meant(const std::vector<std::string>& asked);

    // Runs Tesseract's orientation detection. Returns nullopt if it finds too little text.
    std::optional<Engine::Direction> direction(const Raster& page);

    // How well a page can be read, to compare two orientations.
    struct Legibility {
        double sure_letters = 0; // number of letters in words that were read with certainty
    };
    Result<Legibility> legibility(const Raster& page, const std::vector<std::string>& languages,
                                  const std::stop_token& stop = {});

  private:
    struct Engines;
    std::unique_ptr<Engines> engines_;
};

}
