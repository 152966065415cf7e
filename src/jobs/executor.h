// Decides where a task runs: on a pool, on a thread of its own, or later on the caller's thread. Objects that need one
// get it passed in; tests pass one that they drive by hand.
#pragma once

#include <functional>

namespace yelvin {

using Task = std::function<void()>;
using Executor = std::function<void(Task)>;

}
