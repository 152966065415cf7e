// Reading a page with Tesseract. One Reader serves one thread at a time and keeps its engine between pages, because
// loading a language takes longer than many a page. Tesseract's own threads are off: two pages at once on two readers
// are faster than one page on two threads.
#pragma once

#include "core/error.h"
#include "core/raster/raster.h"
#include "core/reading/text_layer.h"

#include <functional>
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

    using Progress = std::function<void(int percent)>;

    // Languages by Tesseract's names ("eng"); at least one. An unknown one is named together with those there are.
    // A stop is answered within a line or two and gives ErrorKind::Stopped.
    Result<TextLayer> read(const Raster& page, const std::vector<std::string>& languages, std::stop_token stop = {},
                           const Progress& progress = {});

    struct Direction {
        int turn_degrees = 0; // clockwise turn that sets the text upright: 0, 90, 180, 270
        double confidence = 0;
    };
    // Tesseract's orientation detection; nothing where it finds too little text.
    std::optional<Direction> direction(const Raster& page);

    // The share of words surely read, 0 to 1, with the count of letters in them: to compare two ways of lying.
    struct Legibility {
        double sure_letters = 0;
    };
    Result<Legibility> legibility(const Raster& page, const std::vector<std::string>& languages,
                                  std::stop_token stop = {});

  private:
    struct Engines;
    std::unique_ptr<Engines> engines_;
};

std::vector<std::string> installed_languages();

}
