// The sentences of a run that waits: what happened and what to do.
#pragma once

#include "jobs/scan_run.h"

#include <QString>

namespace yelvin {

QString words_of(const Waiting& waiting);

}
