// The documentation's pictures, made from the demo data with the real window: ./dev shots.
#pragma once

#include <QString>

namespace yelvin::shots {

// The program's exit status. `only` "checking" or "stitching": the pictures of that alone.
int take(const QString& folder, const QString& only = {});

}
