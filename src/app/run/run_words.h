// The sentences of a run that waits: what happened and what to do. A pure function.
#pragma once

#include "jobs/scan_run.h"

#include <QString>

namespace yelvin {

QString words_of(const Waiting& waiting);

}
