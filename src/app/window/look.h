// The kinds of views. A value.
#pragma once

namespace yelvin {

enum class Look { Glass, Page, Text, Strip, Pieces };

}
