// A finished file gets another name or place. Never one that is another's, and nothing of it is lost on the way.
#pragma once

#include "core/saving/safe_file.h"

namespace yelvin {

// The first of `candidate(0)`, `candidate(1)`, … that is free in the folder. Onto another disk it is copied whole
// before the old one goes. On any Error it is where it was. Missing: the file is gone, or the folder is not there.
Result<std::filesystem::path> move_file(const std::filesystem::path& file, const std::filesystem::path& folder,
                                        const std::function<std::string(int attempt)>& candidate,
                                        FileSteps& steps = disk());

}
