#include "core/cabinet/paper_entries.h"

#include "core/naming/paper_name.h"
#include "core/paper_facts/paper_facts.h"
#include "core/raster/image_file.h"
#include "core/text/pdf_text.h"

#include <algorithm>
#include <optional>

namespace fs = std::filesystem;

namespace yelvin {

namespace {

// The resolution of word positions that are taken from a PDF. It is sufficient for the positions in the cabinet.
constexpr double taken_dpi = 150;

// The file's extension in lower case.
std::string ending_of(const fs::path& file) {
    std::string end = file.extension().string();
    for (char& c : end)
        if (c >= 'A' && c <= 'Z') c = static_cast<char>(c + 32);
    return end;
}

std::chrono::sys_seconds written_at(const FileMark& mark) {
    return std::chrono::sys_seconds(std::chrono::seconds(mark.changed_ns / 1'000'000'000));
}

struct PageRead {
    std::optional<PageText> text;
    double dpi = taken_dpi;
};

struct FileRead {
    std::vector<PageRead> pages;
    std::optional<PageFile> opened = {}; // nullopt: its pages were counted without it
};

// Reads the text that the file contains. Pages without text are there too.
Result<FileRead> with_own_text(const fs::path& file, const std::stop_token& stop) {
    auto texts = texts_in_pdf(file, taken_dpi, stop);
    // A read error of the disk looks like a damaged file, and may be temporary, so a PDF is read once more.
    if (!texts && texts.error().kind == ErrorKind::BadInput && is_pdf_file(file))
        texts = texts_in_pdf(file, taken_dpi, stop);
    if (texts) {
        FileRead out;
        for (const auto& text : *texts)
            out.pages.push_back({text ? std::optional(as_it_was_read(*text)) : std::nullopt});
        return out;
    }
    if (texts.error().kind != ErrorKind::BadInput) return std::unexpected(texts.error());
    auto picture = PageFile::open(file); // The file is not a PDF, so it must be a picture.
    if (!picture) return std::unexpected(picture.error());
    const auto count = static_cast<size_t>(picture->count());
    return FileRead{std::vector<PageRead>(count), std::move(*picture)};
}

Result<std::vector<PageRead>> pages_of_file(const fs::path& file, const PageReader& read, const std::stop_token& stop) {
    auto in_file = with_own_text(file, stop);
    if (!in_file) return std::unexpected(in_file.error());
    auto& [pages, opened] = *in_file;
    for (size_t i = 0; i < pages.size() && read; ++i) {
        if (stop.stop_requested()) return stopped();
        if (pages[i].text) continue;
        if (!opened) {
            auto now = PageFile::open(file);
            if (!now) return std::unexpected(now.error());
            opened = std::move(*now);
        }
        const auto picture = opened->page(static_cast<int>(i));
        if (!picture) return std::unexpected(picture.error());
        const auto text = read(picture->raster);
        if (!text) return std::unexpected(text.error());
        pages[i] = {as_it_was_read(*text), picture->raster.dpi};
    }
    return std::move(pages);
}

}

bool is_pdf_file(const fs::path& file) { return ending_of(file) == ".pdf"; }

bool is_paper_file(const fs::path& file) {
    const std::string end = ending_of(file);
    constexpr std::string_view known[] = {".pdf", ".png",  ".jpg",  ".jpeg", ".tif", ".tiff", ".webp",
                                          ".bmp", ".avif", ".heic", ".pnm",  ".ppm", ".pgm",  ".gif"};
    return !file.filename().string().starts_with('.') && std::ranges::find(known, end) != std::end(known);
}

std::vector<fs::path> paper_files_in(const fs::path& folder, const std::stop_token& stop) {
    std::vector<fs::path> out;
    std::error_code failed;
    fs::recursive_directory_iterator at(folder, fs::directory_options::skip_permission_denied, failed), end;
    for (; !failed && at != end && !stop.stop_requested(); at.increment(failed)) {
        const bool hidden = at->path().filename().string().starts_with('.');
        std::error_code ignored;
        if (at->is_symlink(ignored)) continue;
        if (at->is_directory(ignored) && hidden) at.disable_recursion_pending();
        if (at->is_regular_file(ignored) && is_paper_file(at->path())) out.push_back(at->path());
    }
    std::ranges::sort(out);
    return out;
}

PaperKnown known_of(std::span<const PageText> pages, const PaperWords& words, std::chrono::year_month_day scanned) {
    const PaperFacts says = facts_of_document(pages, words, scanned);
    const auto value = [](const std::optional<PaperFact>& fact) {
        return fact && fact->sure >= certain_enough ? fact->value : std::string();
    };
    return {value(says.sender), value(says.kind), value(says.number), value(says.heading), value(says.date)};
}

Result<NewPaper> paper_of_file(const fs::path& file, const PaperWords& words, const PageReader& read,
                               const std::stop_token& stop) {
    const auto mark = mark_of(file);
    if (!mark) return std::unexpected(mark.error());
    NewPaper paper;
    paper.file = file;
    paper.mark = *mark;
    paper.saved = written_at(*mark);
    const auto pages = pages_of_file(file, read, stop);
    if (!pages && pages.error().kind == ErrorKind::Encrypted) {
        paper.text_state = TextState::Protected;
        paper.words.resize(1);
        return paper;
    }
    if (!pages) return std::unexpected(pages.error());
    std::vector<PageText> texts;
    for (const PageRead& page : *pages) {
        paper.words.push_back(page.text ? words_of_page(*page.text, page.dpi) : PageWords{});
        if (page.text) texts.push_back(*page.text);
    }
    if (texts.empty() && !read) paper.text_state = TextState::Missing;
    const std::chrono::year_month_day day(std::chrono::floor<std::chrono::days>(paper.saved));
    paper.known = known_of(texts, words, day);
    return paper;
}

void GatheredWords::add(const PageText& text, double dpi) {
    pages.push_back(words_of_page(text, dpi));
    if (first.size() < pages_with_facts && !text.paragraphs.empty()) first.push_back(text);
}

std::vector<NewPaper> papers_of_saved(const std::vector<fs::path>& files, GatheredWords words,
                                      const PaperWords& known_by, const PaperFile& about) {
    std::vector<NewPaper> out;
    const std::chrono::year_month_day day(std::chrono::floor<std::chrono::days>(about.saved));
    const PaperKnown known = known_of(words.first, known_by, day);
    for (size_t i = 0; i < files.size(); ++i) {
        auto mark = mark_of(files[i]);
        if (!mark) continue;
        NewPaper paper{about, {}};
        paper.file = files[i];
        paper.mark = std::move(*mark);
        const bool shares = files.size() > 1;
        if (!shares)
            paper.words = words.pages;
        else if (i < words.pages.size())
            paper.words = {words.pages[i]};
        if (paper.words.empty()) paper.words.resize(1);
        if (paper.text_state == TextState::Protected)
            paper.words.assign(paper.words.size(), {});
        else
            paper.known = known;
        if (paper.text_state == TextState::Read && std::ranges::all_of(paper.words, &PageWords::empty))
            paper.text_state = TextState::Missing;
        out.push_back(std::move(paper));
    }
    return out;
}

}
