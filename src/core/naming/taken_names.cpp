#include "core/naming/taken_names.h"

#include "core/naming/file_name.h"

#include <algorithm>

namespace fs = std::filesystem;

namespace yelvin {

TakenNames::Folder& TakenNames::listed(const fs::path& folder) {
    const auto [at, is_new] = folders_.try_emplace(folder);
    if (!is_new) return at->second;
    std::error_code failure;
    for (fs::directory_iterator entry(folder, failure), end; !failure && entry != end; entry.increment(failure)) {
        at->second.names.insert(entry->path().filename().string());
        at->second.stems.insert(entry->path().stem().string());
    }
    return at->second;
}

int& TakenNames::number_in(Folder& folder, const std::vector<NamePart>& parts) const {
    const auto [at, is_new] = folder.next.try_emplace(make_name(parts, date_, 1));
    if (is_new) at->second = yelvin::next_number(parts, date_, folder.stems);
    return at->second;
}

int TakenNames::next_number(const fs::path& folder, const std::vector<NamePart>& parts) {
    return number_in(listed(folder), parts);
}

std::function<std::string(int)> TakenNames::candidates(const fs::path& folder, const std::vector<NamePart>& parts,
                                                       const std::string& extension) {
    const bool counts = std::ranges::find(parts, NamePart::Kind::Counter, &NamePart::kind) != parts.end();
    if (!counts) return candidates(folder, make_name(parts, date_, 1), extension);
    int& number = number_in(listed(folder), parts);
    return [date = date_, parts, extension, &number](int) { return make_name(parts, date, number++) + extension; };
}

std::function<std::string(int)> TakenNames::candidates(const fs::path& folder, const std::string& fixed_name,
                                                       const std::string& extension) {
    Folder& known = listed(folder);
    int& attempt = known.next[fixed_name + extension];
    return [fixed_name, extension, &known, &attempt](int) {
        std::string name;
        do name = numbered_name(fixed_name, attempt++) + extension;
        while (known.names.contains(name));
        return name;
    };
}

}
