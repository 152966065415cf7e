// The style sheet, its colours by their roles in capitals; theme.cpp puts in those of the look in use.
#pragma once

namespace yelvin::theme {

extern const char* const style;

}
