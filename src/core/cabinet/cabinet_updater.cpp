#include "core/cabinet/cabinet_updater.h"

#include "core/cabinet/file_moves.h"

#include "core/naming/paper_name.h"
#include "core/paper_facts/paper_facts.h"
#include "core/raster/image_file.h"
#include "core/text/pdf_text.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <set>

namespace fs = std::filesystem;

namespace yelvin {

namespace {

// The resolution of word positions that are taken from a PDF. It is sufficient for the positions in the cabinet.
constexpr double taken_dpi = 150;

std::chrono::sys_seconds written_at(const FileMark& mark) {
    return std::chrono::sys_seconds(std::chrono::seconds(mark.changed_ns / 1'000'000'000));
}

struct PageRead {
    std::optional<PageText> text;
    double dpi = taken_dpi;
};

Result<PageRead> read_anew(const PageFile& file, int index, const PageReader& read) {
    auto page = file.page(index);
    if (!page) return std::unexpected(page.error());
    auto layer = read(page->raster);
    if (!layer) return std::unexpected(layer.error());
    return PageRead{as_it_was_read(*layer), page->raster.dpi};
}

std::string ending_of(const fs::path& file) {
    std::string end = file.extension().string();
    for (char& c : end)
        if (c >= 'A' && c <= 'Z') c = static_cast<char>(c + 32);
    return end;
}

Result<std::vector<PageRead>> pages_of_file(const fs::path& file, const PageReader& read, const std::stop_token& stop) {
    std::vector<PageRead> pages;
    std::optional<PageFile> opened; // where a page has to be read
    const auto open = [&]() -> Result<void> {
        auto file_of_pages = PageFile::open(file);
        if (!file_of_pages) return std::unexpected(file_of_pages.error());
        opened = std::move(*file_of_pages);
        return {};
    };
    auto own = texts_in_pdf(file, taken_dpi, stop);
    // A read error of the disk looks like a damaged file, and may be temporary, so a PDF is read once more.
    if (!own && own.error().kind == ErrorKind::BadInput && ending_of(file) == ".pdf")
        own = texts_in_pdf(file, taken_dpi, stop);
    if (own) {
        for (const auto& each : *own) pages.push_back({each ? std::optional(as_it_was_read(*each)) : std::nullopt});
    } else if (own.error().kind != ErrorKind::BadInput) {
        return std::unexpected(own.error());
    } else {
        if (auto there = open(); !there) return std::unexpected(there.error());
        pages.resize(static_cast<size_t>(opened->count()));
    }
    for (size_t i = 0; i < pages.size() && read; ++i) {
        if (stop.stop_requested()) return stopped();
        if (pages[i].text) continue;
        if (!opened)
            if (auto there = open(); !there) return std::unexpected(there.error());
        auto done = read_anew(*opened, static_cast<int>(i), read);
        if (!done) return std::unexpected(done.error());
        pages[i] = std::move(*done);
    }
    return pages;
}

}

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

// If the file has the same contents as a missing one, it is treated as the missing one, moved.
Result<bool> CabinetUpdater::came_from_elsewhere(const fs::path& file, const FileMark& mark) {
    const auto same = cabinet_.with_contents(mark.contents);
    if (!same) return std::unexpected(same.error());
    for (const CabinetPaper& paper : *same) {
        if (paper.file == file || quick_mark_of(paper.file) || !may_have_moved(paper.file, file)) continue;
        if (auto moved = cabinet_.moved(paper.id, file, mark); !moved) return std::unexpected(moved.error());
        return true;
    }
    return false;
}

Result<void> CabinetUpdater::improve(const fs::path& file) {
    const auto made = improve_(file);
    if (made) return {};
    if (made.error().kind == ErrorKind::Stopped) return std::unexpected(made.error());
    left_as_they_are_.push_back(made.error());
    return {};
}

Result<CabinetUpdater::Outcome> CabinetUpdater::take(const fs::path& file, const fs::path& taken_from) {
    const auto known = cabinet_.paper_at(file);
    if (!known) return std::unexpected(known.error());
    const auto now = quick_mark_of(file);
    if (!now) return std::unexpected(now.error());
    const bool wants_reading = *known && read_ && (*known)->text_state == TextState::Missing;
    const bool wants_words = improve_ && ending_of(file) == ".pdf";
    if (*known && same_quick_mark((*known)->mark, *now) && !wants_reading && !wants_words) {
        if ((*known)->place == Place::Here) return Outcome::KnownAlready;
        const auto back = cabinet_.found_at_place((*known)->id, (*known)->mark, Place::Here);
        return back ? Result<Outcome>(Outcome::KnownAlready) : std::unexpected(back.error());
    }
    auto mark = mark_of(file);
    if (!mark) return std::unexpected(mark.error());
    if (!*known) {
        const auto moved = came_from_elsewhere(file, *mark);
        if (!moved) return std::unexpected(moved.error());
        if (*moved) return Outcome::Moved;
    }
    if (wants_words) {
        if (auto made = improve(file); !made) return std::unexpected(made.error());
        mark = mark_of(file);
        if (!mark) return std::unexpected(mark.error());
    }
    if (*known && (*known)->mark.contents == mark->contents && !wants_reading) {
        const auto same = cabinet_.found_at_place((*known)->id, *mark, Place::Here);
        return same ? Result<Outcome>(Outcome::KnownAlready) : std::unexpected(same.error());
    }
    auto paper = paper_of_file(file, words_, read_, stop_);
    if (!paper) return std::unexpected(paper.error());
    paper->taken_from = taken_from.string();
    if (*known) { // what it was saved as stays known
        paper->ticket = (*known)->ticket;
        paper->document = (*known)->document;
        paper->taken_from = (*known)->taken_from;
        if (!paper->ticket.empty()) paper->saved = (*known)->saved;
    }
    if (*known) {
        auto added = cabinet_.add(*paper);
        return added ? Result<Outcome>(Outcome::ReadAgain) : std::unexpected(added.error());
    }
    const auto added = cabinet_.add_unless_known(*paper);
    if (!added) return std::unexpected(added.error());
    return *added ? Outcome::Added : Outcome::KnownAlready;
}

}
