#include "batch/batch.h"

#include "batch/output_folder.h"
#include "batch/pages.h"
#include "batch/progress.h"
#include "core/cabinet/paper_entries.h"
#include "core/developing/develop.h"
#include "core/naming/file_name.h"
#include "core/raster/image_file.h"
#include "core/seeing/notice.h"
#include "core/text/carried_words.h"
#include "core/text/languages.h"
#include "core/text/pdf_text.h"
#include "jobs/page_work.h"
#include "jobs/reader_pool.h"
#include "jobs/save_job.h"

#include <fmt/format.h>

#include <charconv>
#include <cmath>
#include <mutex>
#include <thread>

namespace yelvin {

namespace {

// Analyses every page. Pages that cannot be read are ignored here and reported later.
bool all_photographs(const std::vector<InputPage>& pages) {
    return std::ranges::all_of(pages, [](const InputPage& input) {
        const auto opened = input.opened();
        const auto page = opened ? (*opened)->page(input.index) : std::unexpected(opened.error());
        return page && notice(page->raster, Items::None).kind == PageKind::Photo;
    });
}
}

namespace {

// Enters the finished files into the cabinet. Files with one page each are entered as separate documents.
Result<void> enter(const std::string& folder, const SaveJob& job, const std::vector<MadeFile>& made,
                   GatheredWords words) {
    auto cabinet = Cabinet::open(folder);
    if (!cabinet) return std::unexpected(cabinet.error());
    PaperFile about;
    about.ticket = job.ticket.name;
    about.saved = std::chrono::floor<std::chrono::seconds>(std::chrono::system_clock::now());
    if (job.ticket.make.password) about.text_state = TextState::Protected;
    const auto own = std::ranges::count(made, made.front().format, &MadeFile::format);
    std::vector<std::filesystem::path> files;
    for (const MadeFile& file : std::span(made).first(made.front().pages == 1 ? static_cast<size_t>(own) : 1))
        files.push_back(std::filesystem::absolute(file.path).lexically_normal());
    const auto papers = papers_of_saved(files, std::move(words), common_paper_words(), about);
    const auto added = cabinet->add(papers);
    return added ? Result<void>() : std::unexpected(added.error());
}

}

int save_and_print(SaveJob job, const std::string& cabinet, const std::atomic<bool>& anything_left_out) {
    ReaderPool readers;
    GatheredWords words;
    if (!cabinet.empty()) job.on_text = [&](const PageText& text, double dpi) { words.add(text, dpi); };
    job.date = today();
    job.workers = static_cast<int>(std::max(1U, std::thread::hardware_concurrency()));
    ProgressLine& line = ProgressLine::of_standard_error();
    line.begin();
    line.show(0, job.page_count);
    job.progress = [&, count = job.page_count](double done) {
        line.show(static_cast<size_t>(std::lround(done * static_cast<double>(count))), count);
    };
    const auto made = save_document(job, readers, {});
    line.clear();
    if (!made) {
        complain(made.error());
        return exit_status(made.error());
    }
    for (const MadeFile& file : *made) {
        const nlohmann::json line{{"path", file.path.string()},
                                  {"format", format_key(file.format)},
                                  {"pages", file.pages},
                                  {"bytes", file.bytes}};
        print(line);
    }
    if (!cabinet.empty() && !job.add_to)
        if (auto entered = enter(cabinet, job, *made, std::move(words)); !entered) {
            complain(entered.error());
            return exit_status(entered.error());
        }
    return anything_left_out ? 1 : 0;
}

Result<std::shared_ptr<const PageFile>> OpenFiles::of(const std::string& file) {
    constexpr size_t most = 6; // Keeping a hundred PDFs open would take too many descriptors and too much memory.
    const std::scoped_lock lock(mutex_);
    const auto known = std::ranges::find(open_, file, [](const auto& each) { return each.first; });
    if (known != open_.end()) {
        open_.splice(open_.begin(), open_, known);
        return open_.front().second;
    }
    auto opened = PageFile::open(file);
    if (!opened) return std::unexpected(opened.error());
    open_.emplace_front(file, std::make_shared<const PageFile>(std::move(*opened)));
    if (open_.size() > most) open_.pop_back(); // Readers that still use the file share its ownership.
    return open_.front().second;
}

std::vector<InputPage> pages_of(const std::vector<std::string>& files, std::atomic<bool>& left_out) {
    std::vector<InputPage> pages;
    const auto open_files = std::make_shared<OpenFiles>();
    for (const std::string& file : files) {
        const auto opened = open_files->of(file);
        const std::optional<Error> wrong = opened ? (*opened)->missing_pages() : opened.error();
        if (wrong) {
            complain(*wrong);
            left_out = true;
        }
        if (!opened) continue;
        for (int i = 0; i < (*opened)->count(); ++i) pages.push_back({file, i, open_files});
    }
    return pages;
}

Result<LoadedPage> loaded(const InputPage& input, std::atomic<bool>& left_out) {
    const auto opened = input.opened();
    if (!opened) return std::unexpected(opened.error());
    auto page = (*opened)->page(input.index);
    if (page && !page->damage.empty()) {
        complain({ErrorKind::BadInput, page->damage, {}});
        left_out = true;
    }
    return page;
}

Result<void> can_read(const Ticket& ticket, ReaderPool& readers) {
    const auto languages = languages_for(ticket, ticket.read.languages);
    const bool in_others =
        std::ranges::any_of(ticket.make.also, [](const FurtherFile& also) { return takes_words(also.format); });
    if ((!takes_words(make_for(ticket.make, false)) && !in_others) || languages.empty()) return {};
    return readers.borrow()->can_read(languages);
}

namespace {

// Uses the text that the page brought along, if the recipe leaves it in a usable place; otherwise the text is
// recognised.
void take_words(FinishedPage& page, const std::optional<TextLayer>& words, const Recipe& recipe,
                const Raster& original) {
    const SizePx size{original.width_px(), original.height_px()};
    if (!words || !words_stay(read_as({}, *words), recipe, size, original.dpi)) return;
    page.text = carried_words(*words, {}, recipe, size, original.dpi);
    page.languages = std::vector<std::string>{std::string(own_words)};
}

// Whether the page is written as it is. A request for grey or black is no change if the page is already so.
bool leaves_alone(const Recipe& recipe, const Ticket& ticket, const Raster& original) {
    Recipe plain = recipe;
    if (!ticket.how.ink || *ticket.how.ink == original.ink) plain.ink.reset();
    return plain == Recipe{} && !ticket.dpi_given;
}

}

std::optional<FinishedPage> finished(Raster original, const Ticket& ticket, ReaderPool& readers,
                                     EmbeddedContent brought) {
    if (ticket.dpi_given && original.dpi > ticket.how.dpi) {
        const double by = ticket.how.dpi / original.dpi;
        original = at_resolution(original, ticket.how.dpi);
        if (brought.words) brought.words = scaled(as_it_was_read(*brought.words), by).layer;
    }
    const bool looks =
        ticket.pages.straighten || ticket.pages.turn_upright || ticket.pages.drop_blank || !ticket.how.ink;
    Recipe recipe = recipe_for({}, original, ticket);
    if (looks) {
        const Notices notices = noticed(original, ticket, readers);
        if (ticket.pages.drop_blank && notices.blank(ticket.pages.blank_limit_percent)) return std::nullopt;
        recipe = recipe_for(notices, original, ticket);
    }
    FinishedPage page{develop(original, recipe), std::nullopt};
    take_words(page, brought.words, recipe, original);
    if (page.text && leaves_alone(recipe, ticket, original)) page.drawing = std::move(brought.drawing);
    if (page.raster.ink == original.ink && leaves_alone(recipe, ticket, original))
        page.pictures = std::move(brought.pictures);
    return page;
}

namespace {

// Returns the file and the place in it that pages are added to, or nothing if a new file is made.
Result<std::optional<AddTo>> add_to_from(const MakeArguments& arguments, const Passwords& passwords) {
    if (arguments.add_to.empty()) return std::optional<AddTo>();
    const Secret& password = passwords.owner.empty() ? passwords.open : passwords.owner;
    AddTo to{arguments.add_to, std::nullopt, password, arguments.although_signed};
    if (arguments.at == "start") to.behind = 0;
    if (arguments.at == "start" || arguments.at == "end") return to;
    int page = 0;
    const auto [end, wrong] = std::from_chars(arguments.at.data(), arguments.at.data() + arguments.at.size(), page);
    if (wrong != std::errc() || end != arguments.at.data() + arguments.at.size() || page < 1)
        return fail(ErrorKind::Usage, fmt::format("--at is \"{}\"; use start, end or a page number.", arguments.at));
    to.behind = page;
    return to;
}

}

namespace {

int make_into(const std::filesystem::path& out, const Ticket& ticket, const Passwords& passwords,
              const std::optional<AddTo>& add_to, const TicketArguments& ticket_arguments,
              const MakeArguments& arguments) {
    std::atomic<bool> left_out = false;
    const std::vector<InputPage> pages = pages_of(arguments.inputs, left_out);
    if (pages.empty()) return 1;
    ReaderPool readers;
    if (auto can = can_read(ticket, readers); !can) {
        complain(can.error());
        return 1;
    }
    SaveJob job;
    job.page_count = pages.size();
    job.ticket = ticket;
    if (ticket.make.format == Format::Auto) job.ticket.make = make_for(ticket.make, all_photographs(pages));
    job.folder = out;
    job.absolute_folders = may_name_folders(ticket_arguments);
    job.passwords = passwords;
    job.add_to = add_to;
    job.leave_out = [&](size_t, const Error& error) {
        complain(error);
        return left_out = true;
    };
    job.page = [&](size_t index) -> Result<std::optional<FinishedPage>> {
        const InputPage& input = pages[index];
        auto page = loaded(input, left_out);
        if (!page) return std::unexpected(page.error());
        if (!page->resolution_known) {
            ProgressLine::of_standard_error().say(
                fmt::format("Note: {} has no resolution; {:.0f} dpi is assumed.", input.file, customary_dpi));
        }
        EmbeddedContent brought;
        const auto opened = input.opened();
        if (opened && page->damage.empty()) brought.pictures = (*opened)->pictures(input.index).value_or("");
        if (!arguments.read_anew && opened) {
            const cv::Size size(page->raster.width_px(), page->raster.height_px());
            brought.words = text_in_pdf(**opened, input.index, size, page->raster.dpi);
            if (brought.words) brought.drawing = (*opened)->drawing(input.index).value_or("");
        }
        return finished(std::move(page->raster), ticket, readers, std::move(brought));
    };
    return save_and_print(std::move(job), arguments.cabinet, left_out);
}

}

int run_make(const TicketArguments& ticket_arguments, const MakeArguments& arguments) {
    const auto ticket = ticket_from(ticket_arguments);
    const auto passwords = passwords_from(arguments.passwords);
    const auto add_to = passwords ? add_to_from(arguments, *passwords) : std::optional<AddTo>();
    for (const std::optional<Error>& error :
         {ticket ? std::optional<Error>() : ticket.error(), passwords ? std::optional<Error>() : passwords.error(),
          add_to ? std::optional<Error>() : add_to.error()}) {
        if (!error) continue;
        complain(*error);
        return exit_status(*error);
    }
    if (arguments.out.empty() && !*add_to) {
        complain({ErrorKind::Usage, "Give --out FOLDER for the files, or --add-to FILE.pdf.", {}});
        return 2;
    }
    const std::filesystem::path out =
        arguments.out.empty() ? std::filesystem::absolute((*add_to)->file).parent_path() : arguments.out;
    OutputFolder folder;
    if (auto there = folder.make(out); !there) {
        complain(there.error());
        return 1;
    }
    return make_into(out, *ticket, *passwords, *add_to, ticket_arguments, arguments);
}

}
