// The kinds of views.
#pragma once

namespace yelvin {

enum class Look { Glass, Page, Text, Strip, Pieces };

}
