// The documentation's pictures, made from the demo data with the real window: ./dev shots.
#pragma once

#include <QString>

namespace yelvin::shots {

int take(const QString& folder); // the program's exit status

}
