#include "app/errands/painting.h"

#include "app/models/tray/page_pictures.h"
#include "core/errands/print_layout.h"
#include "core/naming/file_name.h"
#include "core/saving/safe_file.h"

#include <QCoreApplication>
#include <QPainter>
#include <QPrinter>

namespace yelvin {

namespace {

struct PrintingText {
    Q_DECLARE_TR_FUNCTIONS(PrintingText)
};

void paint_page(QPainter& painter, const PrintedPage& page, QImage image, bool grey) {
    if (grey) image = image.convertToFormat(QImage::Format_Grayscale8);
    const RectMm& at = page.place;
    painter.save();
    painter.translate(at.x + at.width / 2, at.y + at.height / 2);
    if (page.turned) painter.rotate(90);
    const QSizeF lies = page.turned ? QSizeF(at.height, at.width) : QSizeF(at.width, at.height);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    painter.drawImage(QRectF(QPointF(-lies.width() / 2, -lies.height() / 2), lies), image);
    painter.restore();
}

}

Result<void> paint_sheets(QPrinter& printer, const PrintJob& job) {
    printer.setFullPage(true); // Coordinates count from the sheet's corner.
    printer.setDocName(job.title);
    printer.setColorMode(job.how.grey ? QPrinter::GrayScale : QPrinter::Color);
    printer.setDuplex(job.how.both_sides ? QPrinter::DuplexAuto : QPrinter::DuplexNone);
    const bool counts = printer.supportsMultipleCopies() && printer.outputFormat() == QPrinter::NativeFormat;
    if (counts) printer.setCopyCount(job.how.copies), printer.setCollateCopies(true);
    const QSizeF sheet = printer.pageLayout().pageSize().size(QPageSize::Millimeter);
    const QMarginsF margins = printer.pageLayout().margins(QPageLayout::Millimeter);
    const double margin = std::max({margins.left(), margins.top(), margins.right(), margins.bottom(), 4.0});
    const PrintLayout layout = print_layout(job.sizes, {sheet.width(), sheet.height()}, margin, job.how);
    QPainter painter;
    if (!painter.begin(&printer))
        return fail(
            ErrorKind::Device,
            PrintingText::tr("The printer %1 did not accept the pages; check that it is switched on, and print again.")
                .arg(printer.printerName())
                .toStdString());
    const double px_per_mm = printer.resolution() / mm_per_inch;
    bool first = true;
    for (int copy = 0; copy < (counts ? 1 : job.how.copies); ++copy) {
        for (size_t side = 0; side < layout.sides.size(); ++side) {
            if (!std::exchange(first, false)) printer.newPage();
            painter.resetTransform();
            painter.scale(px_per_mm, px_per_mm);
            for (const PrintedPage& page : layout.sides[side]) {
                const auto raster = job.raster(page.page);
                if (!raster) {
                    printer.abort();
                    return std::unexpected(raster.error());
                }
                paint_page(painter, page, to_image(*raster), job.how.grey);
            }
        }
        // The next copy begins on a new sheet.
        if (job.how.both_sides && !counts && copy + 1 < job.how.copies && layout.sides.size() % 2 == 1)
            printer.newPage();
    }
    if (painter.end()) return {};
    return fail(ErrorKind::Device,
                PrintingText::tr("The printer stopped before all pages were printed; print again.").toStdString());
}

Result<QString> print_to_pdf(const PrintJob& job, const QString& folder) {
    if (auto usable = check_folder(folder.toStdString()); !usable) return std::unexpected(usable.error());
    const std::string name = cleaned_name(job.title.toStdString());
    const auto saved = save_file(
        folder.toStdString(), [&](int attempt) { return numbered_name(name, attempt) + ".pdf"; },
        [&](const std::filesystem::path& growing) -> Result<void> {
            QPrinter printer(QPrinter::HighResolution);
            printer.setOutputFormat(QPrinter::PdfFormat);
            printer.setPageSize(QPageSize(QPageSize::A4));
            printer.setOutputFileName(QString::fromStdString(growing.string()));
            return paint_sheets(printer, job);
        });
    if (!saved) return std::unexpected(saved.error());
    return QString::fromStdString(saved->path.string());
}

}
