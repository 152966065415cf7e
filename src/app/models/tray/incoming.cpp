#include "app/models/tray/incoming.h"

#include "app/models/threads/pools.h"
#include "app/models/tickets/tickets.h"
#include "app/models/tray/choice.h"
#include "app/models/tray/document_tickets.h"
#include "app/models/tray/looking.h"
#include "app/models/tray/out_tray.h"
#include "app/models/window/messages.h"
#include "core/raster/image_file.h"
#include "core/storage/new_id.h"
#include "core/text/languages.h"
#include "core/text/pdf_text.h"
#include "core/tray/drawing_file.h"
#include "core/tray/originals.h"
#include "jobs/trouble.h"

namespace yelvin {

struct Incoming::Batch {
    std::filesystem::path store_folder;
    Ticket ticket;
    std::string goes_by;        // the id of the ticket, for a document that it begins
    int dpi_if_unknown = 0;     // 0: pictures that do not say their resolution wait
    std::string last_page = {}; // of it in the tray; empty: none yet
};

Incoming::Incoming(const Around& around, Pools& pools, QObject* parent)
    : QObject(parent), around_(around), background_(pools.pages()), here_(on_thread_of(this)),
      stop_(pools.stop_token()) {}

void Incoming::add(const QStringList& files) {
    around_.tray.when_loaded([this, files] { take_in(files, 0); });
}

void Incoming::take_in(const QStringList& files, int dpi_if_unknown) {
    if (files.isEmpty()) return;
    around_.looking.work_begins();
    const auto batch = std::make_shared<Batch>(Batch{around_.tray.store_folder(), around_.tickets.ticket(),
                                                     around_.document_tickets.of_next_scan(), dpi_if_unknown});
    background_([this, files, batch] {
        for (const QString& file : files) {
            const auto taken = caught("adding a file", [&] { take_in_file(file, batch); });
            if (!taken) here_([this, error = taken.error()] { around_.messages.complain(error); });
        }
        here_([this] { around_.looking.work_ends(); });
    });
}

// Runs on a background thread.
void Incoming::take_in_file(const QString& file, const std::shared_ptr<Batch>& batch) {
    const auto complain = [this](const Error& error) { here_([this, error] { around_.messages.complain(error); }); };
    const auto path = std::filesystem::path(file.toStdString());
    const auto opened = PageFile::open(path);
    if (!opened) return complain(opened.error());
    if (const auto missing = opened->missing_pages()) complain(*missing);
    for (int i = 0; i < opened->count() && !stop_.stop_requested(); ++i) {
        auto page = opened->page(i);
        if (!page) {
            complain(page.error());
            continue;
        }
        if (!page->resolution_known && batch->dpi_if_unknown == 0) {
            here_([this, unsized = Unsized{file, page->raster.width_px(), page->raster.height_px()}] {
                ask_for_resolution(unsized);
            });
            return;
        }
        if (!page->resolution_known) page->raster.dpi = batch->dpi_if_unknown;
        const cv::Size size(page->raster.width_px(), page->raster.height_px());
        const auto own = text_in_pdf(*opened, i, size, page->raster.dpi);
        const auto original = keep_original(batch->store_folder, page->raster);
        const auto drawing = own && original ? opened->drawing(i) : std::nullopt;
        // Without the drawing, the file contains a picture of the page, as for any other page.
        if (drawing) std::ignore = keep_drawing(batch->store_folder, *original, *drawing);
        const auto pictures = original && page->damage.empty() ? opened->pictures(i) : std::nullopt;
        if (pictures) std::ignore = keep_pictures(batch->store_folder, *original, *pictures);
        if (original)
            here_([this, original = *original, own, batch, incomplete = !page->damage.empty()] {
                put_into_tray(original, own, incomplete, *batch);
            });
        else
            complain(original.error());
    }
}

// Text that the page already has is stored as recognised text, until the user requests recognition.
void Incoming::put_into_tray(const Original& original, const std::optional<TextLayer>& own, bool incomplete,
                             Batch& batch) {
    const bool first = batch.last_page.empty();
    Page made{new_id(), original};
    made.incomplete = incomplete;
    if (own) made.text.languages = {std::string(own_words)};
    const auto page = std::make_shared<const Page>(std::move(made));
    around_.choice.look_next_at(page->id);
    around_.tray.add_page(page, {first && around_.tray.next_page_starts_document(),
                                 first ? OutTray::Step::New : OutTray::Step::SameAsBefore, tr("add files"),
                                 std::exchange(batch.last_page, page->id), batch.goes_by});
    if (own) around_.tray.keep_text(page, std::string(own_words), *own);
    around_.looking.look_at(page, batch.ticket);
    if (first) emit came_in();
}

// ---- pages without a resolution

void Incoming::ask_for_resolution(const Unsized& unsized) {
    if (std::ranges::find(unsized_, unsized.file, &Unsized::file) == unsized_.end()) unsized_.append(unsized);
    emit resolution_wanted();
}

void Incoming::add_unsized(int dpi) {
    QStringList files;
    for (const Unsized& unsized : std::exchange(unsized_, {})) files.append(unsized.file);
    emit resolution_wanted();
    take_in(files, dpi);
}

void Incoming::leave_unsized() {
    unsized_.clear();
    emit resolution_wanted();
}

}
