// The style sheet, with the roles of colours in capitals; theme.cpp inserts the colours of the present look.
#pragma once

namespace yelvin::theme {

extern const char* const style;

}
