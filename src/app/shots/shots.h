// Makes the documentation's pictures from the demo data with the real window (./dev shots).
#pragma once

#include <QString>

namespace yelvin::shots {

// Makes the pictures and returns the program's exit status. `only` "checking" or "stitching" makes these only.
int take(const QString& folder, const QString& only = {});

}
