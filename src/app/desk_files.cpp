// The desk's other door: picture files and PDFs; and the blank sides of a stack.
#include "app/desk.h"

#include "core/raster/image_file.h"
#include "core/tray/stack.h"

#include <QFileInfo>

namespace yelvin {

// ---- files

void Desk::add_files(const QStringList& files) { take_in(files, 0); }

// `dpi_if_unknown` 0: pictures that do not say their resolution wait until somebody has said it.
void Desk::take_in(const QStringList& files, int dpi_if_unknown) {
    if (!store_ || files.isEmpty()) return;
    ++in_work_;
    emit busy_changed();
    pool_.start(
        [this, files, dpi_if_unknown, ticket = ticket_, folder = store_->folder(), stop = work_stop_.get_token()] {
            const auto say = [this](const Error& e) {
                on_desk([this, e] { emit trouble(QString::fromStdString(e.sentence)); });
            };
            const auto first = std::make_shared<bool>(true);
            for (const QString& file : files) {
                const auto path = std::filesystem::path(file.toStdString());
                const auto count = count_pages(path);
                if (!count) say(count.error());
                for (int i = 0; count && i < *count && !stop.stop_requested(); ++i) {
                    auto page = read_page(path, i);
                    if (!page) {
                        say(page.error());
                        continue;
                    }
                    if (!page->resolution_known && dpi_if_unknown == 0) {
                        const Unsized unsized{file, page->raster.width_px(), page->raster.height_px()};
                        on_desk([this, unsized] {
                            if (std::ranges::find(unsized_, unsized.file, &Unsized::file) == unsized_.end())
                                unsized_.append(unsized);
                            emit resolution_wanted();
                        });
                        break;
                    }
                    if (!page->resolution_known) page->raster.dpi = dpi_if_unknown;
                    const auto original = keep_original(folder, page->raster);
                    if (!original) {
                        say(original.error());
                        continue;
                    }
                    on_desk([this, original = *original, ticket, first] {
                        const bool starts = *first && next_page_starts_document();
                        add_page(Page{new_id(), original}, ticket, starts, std::exchange(*first, false));
                    });
                }
            }
            on_desk([this] {
                --in_work_;
                emit busy_changed();
            });
        });
}

void Desk::add_unsized(int dpi) {
    QStringList files;
    for (const Unsized& unsized : std::exchange(unsized_, {})) files.append(unsized.file);
    emit resolution_wanted();
    take_in(files, dpi);
}

void Desk::leave_unsized() {
    unsized_.clear();
    emit resolution_wanted();
}

// ---- blank sides

void Desk::drop_current() {
    const PagePtr page = current();
    if (!page) return;
    if (page->dropped != Dropped::No) return bring_back(current_);
    edit(with_page_dropped(tray_, page->id, Dropped::Blank), tr("drop page"));
    emit current_changed();
}

void Desk::bring_back(const QString& page_id) {
    const PagePtr page = page_at(tray_, page_id.toStdString());
    if (!page || page->dropped == Dropped::No) return;
    current_ = page_id;
    edit(with_page_dropped(tray_, page->id, Dropped::No), tr("bring back"));
    emit current_changed();
}

std::vector<PagePtr> Desk::judged_pages() const {
    std::vector<PagePtr> pages;
    for (const auto& document : tray_.documents) {
        if (!document->saved_as.empty()) continue;
        for (const auto& page : document->pages) {
            if (page->noticed && !page->dropped_by_hand && page->dropped != Dropped::Separator) pages.push_back(page);
        }
    }
    return pages;
}

void Desk::set_blank_limit(double percent) {
    Ticket ticket = ticket_;
    ticket.pages.drop_blank = true;
    ticket.pages.blank_limit_percent = percent;
    Tray now = tray_;
    for (const PagePtr& page : judged_pages()) {
        const Dropped dropped = page->notices.blank(percent) ? Dropped::Blank : Dropped::No;
        if (page->dropped == dropped) continue;
        Page changed = *page;
        changed.dropped = dropped;
        now = with_page(now, std::make_shared<const Page>(std::move(changed)));
    }
    if (run_) run_->ticket.pages = ticket.pages;
    for (Run& run : ended_runs_) run.ticket.pages = ticket.pages;
    edit(now, tr("blank limit"));
    set_ticket(ticket);
    emit current_changed();
}

}
