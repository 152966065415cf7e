// Tesseract, as far as a Reader needs it: languages loaded once, a picture in, words with their places out. Internal.
#pragma once

#include "core/error.h"
#include "core/raster/raster.h"
#include "core/reading/text_layer.h"
#include "core/reading/word_list.h"

#include <functional>
#include <memory>
#include <optional>
#include <stop_token>
#include <string>
#include <vector>

namespace yelvin {

class Engine {
  public:
    // A language by Tesseract's name; null where its data cannot be loaded.
    static std::unique_ptr<Engine> start(const std::string& language);
    ~Engine();

    using Progress = std::function<void(int percent)>;
    // A word that `words` does not know becomes one that it knows where the engine's other choices of letters allow it.
    // A page with its layout. Places in dots of `page`, whose own are let go meanwhile where nobody else has them, and
    // are there again afterwards. A stop is answered within a line or two.
    Result<TextLayer> read_page(Raster& page, WordList& words, std::stop_token stop, const Progress& progress);
    // A picture of a single line.
    TextLayer read_line(const Raster& line, WordList& words);

    struct Direction {
        int turn_degrees = 0; // clockwise turn that sets the text upright: 0, 90, 180, 270
        double confidence = 0;
    };
    std::optional<Direction> direction(const Raster& page); // started with "osd"

  private:
    struct Api;
    std::unique_ptr<Api> api_;
    std::string language_;
    Engine(std::unique_ptr<Api> api, std::string language);
};

std::vector<std::string> installed_languages();

}
