// Makes the demo's older documents as searchable PDF files, which its cabinet contains.
#include "app/demo.h"
#include "devices/simulated/originals.h"

#include <QDateTime>
#include <QDir>
#include <QFile>
#include <QTemporaryFile>

#include <cairo-pdf.h>

namespace yelvin::demo {

namespace {

struct OldPaper {
    const char *folder, *name, *original, *day;
    std::vector<std::pair<const char*, const char*>> instead; // words of the original, and what stands there
};

const std::vector<OldPaper>& old_papers() {
    static const std::vector<OldPaper> papers{
        {"leases",
         "2026-03-12 Mooring 009 Ashby",
         "lease-1.svg",
         "2026-03-12",
         {{"014", "009"}, {"Harriet", "Edmund"}, {"Quillfeather", "Ashby"}, {"9 Tanner Row", "3 Mill Lane"}}},
        {"leases",
         "2026-04-02 Mooring 022 Pettigrew",
         "lease-1.svg",
         "2026-04-02",
         {{"014", "022"}, {"Harriet", "Oriel"}, {"Quillfeather", "Pettigrew"}, {"1,284.50", "1,310.00"}}},
        {"leases",
         "2025-11-28 Mooring 017 Ormsby",
         "lease-1.svg",
         "2025-11-28",
         {{"014", "017"}, {"Harriet", "Walter"}, {"Quillfeather", "Ormsby"}, {"eighteen", "fourteen"}}},
        {"leases", "2024-12-01 Mooring 014 Quillfeather", "lease-1.svg", "2024-12-01", {{"1,284.50", "1,195.00"}}},
        {"leases", "2024-12-01 Mooring 014 conditions", "lease-2.svg", "2024-12-01", {}},
        {"bills",
         "2026-03-13 Penhallow Chandlery 20233",
         "invoice.svg",
         "2026-03-13",
         {{"20417", "20233"}, {"18 November 2026", "12 March 2026"}, {"673.20", "641.90"}}},
        {"bills",
         "2026-05-08 Penhallow Chandlery 20301",
         "invoice.svg",
         "2026-05-08",
         {{"20417", "20301"},
          {"18 November 2026", "7 May 2026"},
          {"Brass tiller pin, heron", "Brass tiller pin, swan"}}},
        {"bills",
         "2025-09-19 Penhallow Chandlery 19872",
         "invoice.svg",
         "2025-09-19",
         {{"20417", "19872"},
          {"18 November 2026", "18 September 2025"},
          {"Mooring rope, 18 mm", "Mooring rope, 24 mm"}}},
        {"bills",
         "2026-06-20 Lockside Larder",
         "till-receipt.svg",
         "2026-06-20",
         {{"20 November 2026", "20 June 2026"}}},
        {"post", "Log sheet week 11", "log-sheet.svg", "2026-03-16", {{"week 46", "week 11"}, {"Monday", "Sunday"}}},
        {"post",
         "Log sheet week 14",
         "log-sheet.svg",
         "2026-04-06",
         {{"week 46", "week 14"}, {"Lapwing", "Reed Bunting"}}},
        {"post", "Log sheet week 33", "log-sheet.svg", "2025-08-18", {{"week 46", "week 33"}}},
        {"post", "Minutes of the spring meeting", "minutes-punched.svg", "2026-04-17", {}},
        {"post", "Towpath form", "towpath-form.svg", "2025-07-03", {}},
    };
    return papers;
}

bool draw(const OldPaper& paper, const QString& file) {
    QFile original(originals_folder() + '/' + paper.original);
    if (!original.open(QIODevice::ReadOnly)) return false;
    QByteArray svg = original.readAll();
    for (const auto& [from, to] : paper.instead) svg.replace(from, to);
    QTemporaryFile changed(QDir::tempPath() + "/XXXXXX.svg");
    if (!changed.open() || changed.write(svg) != svg.size() || !changed.flush()) return false;
    const auto drawing = PaperOriginal::load(changed.fileName().toStdString());
    if (!drawing) return false;
    const SizeMm mm = drawing->size();
    cairo_surface_t* surface =
        cairo_pdf_surface_create(file.toUtf8().constData(), mm_to_pt(mm.width), mm_to_pt(mm.height));
    cairo_t* cairo = cairo_create(surface);
    cairo_scale(cairo, mm_to_pt(1), mm_to_pt(1));
    drawing->draw(cairo);
    cairo_destroy(cairo);
    cairo_surface_finish(surface);
    const bool drawn = cairo_surface_status(surface) == CAIRO_STATUS_SUCCESS;
    cairo_surface_destroy(surface);
    return drawn;
}

}

void fill_cabinet(Desk& desk, const QString& base) {
    for (const OldPaper& paper : old_papers()) {
        const QString folder = base + "/Archive/Old " + paper.folder;
        QDir().mkpath(folder);
        const QString file = folder + '/' + paper.name + ".pdf";
        if (QFile::exists(file) || !draw(paper, file)) continue;
        QFile written(file);
        if (written.open(QIODevice::ReadWrite))
            written.setFileTime(QDateTime::fromString(QString(paper.day) + "T10:00:00", Qt::ISODate),
                                QFileDevice::FileModificationTime);
    }
    desk.cabinet.watch_folder(base + "/Archive", WithoutText::Leave);
}

}
