// Finding the language of a page, and of paragraphs in another one. Internal.
#pragma once

#include "core/error.h"
#include "core/raster/raster.h"
#include "core/reading/text_layer.h"

#include <functional>
#include <string>
#include <vector>

namespace yelvin {

using ReadIn = std::function<Result<TextLayer>(const Raster& picture, const std::string& language)>;

// Which of `among` the page is in: the part of it with the most text is read, once in a language of each script, whose
// surest wins, and then the commonest words decide within the script; where they do not, the surest reading does.
// The first of `among` where there are too few words to tell. `page` is upright.
Result<std::string> language_of(const Raster& page, const std::vector<std::string>& among, const ReadIn& read);

// The languages that the paragraph with these lines may be in rather than in `now`, in which it was read: what its
// commonest words say, or, where hardly anything could be read surely, a language of each other script.
std::vector<std::string> rather_in(const std::vector<TextLine>& lines, const std::string& now,
                                   const std::vector<std::string>& among);

// Whether `again`, the same lines read in `language`, is what they say rather than `before`, read in another one. In
// another script most of it must have been read surely: noise is something in any script.
bool is_rather(const std::vector<TextLine>& again, const std::string& language, const std::vector<TextLine>& before);

}
