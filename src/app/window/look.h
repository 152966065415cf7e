// The ways of looking, in the view.
#pragma once

namespace yelvin {

enum class Look { Glass, Page, Text, Strip, Pieces };

}
