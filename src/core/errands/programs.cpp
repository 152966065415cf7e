#include "core/errands/programs.h"

#include <gio/gdesktopappinfo.h>
#include <gio/gio.h>

#include <algorithm>
#include <memory>

namespace yelvin {

namespace {

using Info = std::unique_ptr<GAppInfo, decltype([](GAppInfo* info) { g_object_unref(info); })>;
using Uri = std::unique_ptr<char, decltype([](char* text) { g_free(text); })>;

std::string text_of(const char* text) { return text ? text : ""; }

Program program_of(GAppInfo* info) {
    const bool in_terminal =
        G_IS_DESKTOP_APP_INFO(info) && g_desktop_app_info_get_boolean(G_DESKTOP_APP_INFO(info), "Terminal") != FALSE;
    return {text_of(g_app_info_get_id(info)), text_of(g_app_info_get_display_name(info)),
            text_of(g_app_info_get_commandline(info)), in_terminal};
}

std::vector<Program> programs_of(GList* infos) {
    std::vector<Program> programs;
    for (GList* each = infos; each; each = each->next)
        programs.push_back(program_of(static_cast<GAppInfo*>(each->data)));
    g_list_free_full(infos, g_object_unref);
    return programs;
}

std::string uri_of(const std::filesystem::path& file) {
    const Uri uri(g_filename_to_uri(std::filesystem::absolute(file).c_str(), nullptr, nullptr));
    return text_of(uri.get());
}

// Appends the argument with its field codes replaced (Desktop Entry Specification, "The Exec key"). A field code that
// stands alone can become several arguments.
void put(const std::string& argument, const Program& program, const std::vector<std::filesystem::path>& files,
         std::vector<std::string>& out) {
    if (argument == "%F" || argument == "%U") {
        for (const auto& file : files) out.push_back(argument == "%F" ? file.string() : uri_of(file));
        return;
    }
    if (argument == "%i") return; // The icon's argument, which only the desktop uses.
    std::string made;
    for (size_t i = 0; i < argument.size(); ++i) {
        if (argument[i] != '%' || i + 1 == argument.size()) {
            made += argument[i];
            continue;
        }
        const char code = argument[++i];
        if (code == 'f' || code == 'F') made += files.empty() ? "" : files.front().string();
        if (code == 'u' || code == 'U') made += files.empty() ? "" : uri_of(files.front());
        if (code == 'c') made += program.name;
        if (code == '%') made += '%';
    }
    out.push_back(made);
}

}

std::vector<Program> programs_for(const std::string& mime) {
    std::vector<Program> programs = programs_of(g_app_info_get_all_for_type(mime.c_str()));
    if (const auto usual = usual_program(mime)) {
        std::erase(programs, *usual);
        programs.insert(programs.begin(), *usual);
    }
    return programs;
}

std::optional<Program> usual_program(const std::string& mime) {
    const Info info(g_app_info_get_default_for_type(mime.c_str(), FALSE));
    if (!info) return std::nullopt;
    return program_of(info.get());
}

std::optional<Program> program_made_for(const std::string& mime) {
    const std::vector<Program> made = programs_of(g_app_info_get_recommended_for_type(mime.c_str()));
    auto usual = usual_program(mime);
    if (usual && std::ranges::find(made, *usual) != made.end()) return usual;
    return made.empty() ? std::nullopt : std::optional(made.front());
}

std::optional<Program> program_named(const std::string& id) {
    for (Program& each : programs_of(g_app_info_get_all()))
        if (each.id == id) return std::move(each);
    return std::nullopt;
}

std::vector<std::vector<std::string>> commands_of(const Program& program,
                                                  const std::vector<std::filesystem::path>& files) {
    int count = 0;
    char** words = nullptr;
    if (!g_shell_parse_argv(program.exec.c_str(), &count, &words, nullptr)) return {};
    const std::vector<std::string> arguments(words, words + count);
    g_strfreev(words);
    const auto takes = [&](const char* code) {
        return std::ranges::any_of(arguments, [&](const auto& each) { return each.find(code) != std::string::npos; });
    };
    const bool several = takes("%F") || takes("%U"), any = several || takes("%f") || takes("%u");
    std::vector<std::vector<std::string>> commands;
    const auto add = [&](const std::vector<std::filesystem::path>& which) {
        std::vector<std::string>& out = commands.emplace_back();
        if (program.in_terminal) out = {"x-terminal-emulator", "-e"};
        for (const std::string& each : arguments) put(each, program, which, out);
        if (!any) // Like GIO, append the files if the entry has no field code.
            for (const auto& file : which) out.push_back(file.string());
    };
    if (several || files.empty()) {
        add(files);
    } else {
        for (const auto& file : files) add({file});
    }
    return commands;
}

}
