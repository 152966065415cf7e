// Finding the language of a page, and of paragraphs in another one. Internal to Reader.
#pragma once

#include "core/error.h"
#include "core/raster/raster.h"
#include "core/text/text_layer.h"

#include <functional>
#include <string>
#include <vector>

namespace yelvin {

// Reads a picture in a language.
using ReadIn = std::function<Result<TextLayer>(const Raster& picture, const std::string& language)>;

// Returns the language of an upright page among the given ones. The part of it with the most text is read in one
// language of each script; the most certain result decides the script, and the most usual words decide the language
// within it or, if they do not, the most certain result. Returns the first of `among` if there are too few words.
// Errors: those of `read`.
Result<std::string> language_of(const Raster& page, const std::vector<std::string>& among, const ReadIn& read);

// Returns the languages in which a paragraph that was read in `now` should be read again: those that its most usual
// words suggest or, if hardly any word was certain, one language of each other script.
std::vector<std::string> languages_to_try(const std::vector<TextLine>& lines, const std::string& now,
                                          const std::vector<std::string>& among);

// Whether `again`, the same lines read in `language`, is a better result than `before`, read in another language. In
// another script most of it must be certain, because noise gives some words in any script.
bool fits_better(const std::vector<TextLine>& again, const std::string& language, const std::vector<TextLine>& before);

}
