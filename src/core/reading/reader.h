// Reading a page with Tesseract. One Reader serves one thread at a time and keeps its engine between pages, because
// loading a language takes longer than many a page. Tesseract's own threads are off: two pages at once on two readers
// are faster than one page on two threads.
#pragma once

#include "core/reading/engine.h"

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

    // Languages by Tesseract's names ("eng"), or "auto" for those installed; at least one. Among several the page's is
    // found, and those of paragraphs in another one. One that is not installed is named together with its package
    // (ErrorKind::Missing). A stop is answered within a line or two and gives ErrorKind::Stopped.
    Result<TextLayer> read(const Raster& page, const std::vector<std::string>& languages,
                           const std::stop_token& stop = {}, const Progress& progress = {});

    // Whether all of them are there: the error of read(), before there is a page.
    Result<void> can_read(const std::vector<std::string>& languages);

    // Which of the languages the page is in: quicker than reading it. Errors as of read().
    Result<std::string> language_of(const Raster& page, const std::vector<std::string>& languages,
                                    const std::stop_token& stop = {});

    // Those that are read: what is asked, or for "auto" all that are installed.
    std::vector<std::string> languages_meant(const std::vector<std::string>& asked);

    // Tesseract's orientation detection; nothing where it finds too little text.
    std::optional<Engine::Direction> direction(const Raster& page);

    // The share of words surely read, 0 to 1, with the count of letters in them: to compare two ways of lying.
    struct Legibility {
        double sure_letters = 0;
    };
    Result<Legibility> legibility(const Raster& page, const std::vector<std::string>& languages,
                                  const std::stop_token& stop = {});

  private:
    struct Engines;
    std::unique_ptr<Engines> engines_;
};

}
