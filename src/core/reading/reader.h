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

    // Languages by Tesseract's names ("eng"); at least one. An unknown one is named together with those there are.
    // A stop is answered within a line or two and gives ErrorKind::Stopped.
    Result<TextLayer> read(const Raster& page, const std::vector<std::string>& languages,
                           const std::stop_token& stop = {}, const Progress& progress = {});

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
    Result<Engine*> engine_for(const std::vector<std::string>& languages);
};

}
