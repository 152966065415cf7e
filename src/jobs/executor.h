// Where work runs that is not to be done at once: a pool, a thread of its own, or later on the thread of whoever asked.
// Whoever needs one is given it; tests hand in one that they drive by hand.
#pragma once

#include <functional>

namespace yelvin {

using Task = std::function<void()>;
using Executor = std::function<void(Task)>;

}
