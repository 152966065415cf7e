// Tesseract with one language. Internal to Reader. Used by one thread at a time.
#pragma once

#include "core/error.h"
#include "core/ocr/word_list.h"
#include "core/raster/raster.h"
#include "core/text/text_layer.h"

#include <functional>
#include <memory>
#include <optional>
#include <stop_token>
#include <string>
#include <vector>

namespace yelvin {

class Engine {
  public:
    // Loads a language by Tesseract's name. Returns null if its data cannot be loaded.
    static std::unique_ptr<Engine> start(const std::string& language);
    ~Engine();

    using Progress = std::function<void(int percent)>;
    // Recognises the text of a page and its layout. Positions are in pixels of `page`. If no other object shares the
    // page's pixels, they are released meanwhile to save memory and restored before the function returns. A word that
    // `words` does not know is replaced by a known one if the engine's alternative letters allow it. Errors: Stopped,
    // within a line or two; Internal if the engine fails.
    Result<TextLayer> read_page(Raster& page, WordList& words, std::stop_token stop, const Progress& progress);
    // Reads a picture of a single line.
    TextLayer read_line(const Raster& line, WordList& words);

    struct Direction {
        int turn_degrees = 0; // clockwise turn that sets the text upright: 0, 90, 180, 270
        double confidence = 0;
    };
    // Detects the orientation of a page. Only for an engine started with "osd". Returns nullopt if there is too little
    // text.
    std::optional<Direction> direction(const Raster& page);

  private:
    struct Api;
    std::unique_ptr<Api> api_;
    std::string language_;
    Engine(std::unique_ptr<Api> api, std::string language);
};

// Returns Tesseract's names of the installed data, including those that are not languages, such as "osd".
std::vector<std::string> installed_languages();

}
