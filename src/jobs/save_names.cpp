#include "jobs/save_names.h"

#include "core/naming/paper_name.h"

#include <fmt/format.h>

namespace fs = std::filesystem;

namespace yelvin {

void SaveNames::look_at(const PageText& text) {
    if (first_pages_.size() >= pages_with_facts) return;
    first_pages_.push_back(text);
    facts_ = facts_of_document(first_pages_, words(), job_.date);
}

void SaveNames::start_again() {
    first_pages_.clear();
    facts_ = {};
}

NameValues SaveNames::values_of(const PaperFacts& facts) const {
    return name_values(facts, job_.barcode, job_.ticket.name);
}

NameValues SaveNames::values_in(const PageText& page) const {
    return values_of(facts_of_document({&page, 1}, words(), job_.date));
}

fs::path SaveNames::folder_for(const NameValues& values) const {
    return folder_within(job_.folder, job_.ticket.save.within, values, job_.date);
}

std::function<std::string(int)> SaveNames::candidates(const Output& output, const fs::path& folder,
                                                      const NameValues& values, const Output& main,
                                                      const std::string& name_of_main) {
    const bool is_main = &output == &main;
    const std::string extension = fmt::format(".{}", format_extension(output.make.format));
    const std::string fixed = is_main || name_of_main.empty() ? job_.fixed_name : name_of_main;
    if (!fixed.empty()) return taken_.candidates(folder, fixed, extension);
    const auto parts = with_values(job_.ticket.save.name, values);
    if (is_main) return taken_.candidates(folder, parts, extension);
    // The file in the main format has no name yet. Its number is counted in its own folder.
    const int number = taken_.next_number(main.folder, parts);
    return taken_.candidates(folder, make_name(parts, job_.date, number), extension);
}

DocumentInfo SaveNames::info(const Output& output, const fs::path& folder, const NameValues& values) {
    const auto name_parts = with_values(job_.ticket.save.name, values);
    const int number = taken_.next_number(folder, name_parts);
    const auto joined = [&](const std::vector<NamePart>& parts) {
        return joined_parts(with_values(parts, values), job_.date, number);
    };
    const std::string name = job_.fixed_name.empty() ? make_name(name_parts, job_.date, number) : job_.fixed_name;
    const Properties& properties = output.make.properties;
    return {properties.title ? joined(*properties.title) : name,
            output.make,
            joined(properties.author),
            joined(properties.subject),
            joined(properties.keywords),
            job_.add_to ? Passwords{} : job_.passwords};
}

}
