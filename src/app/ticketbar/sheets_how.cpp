// The sheets about how a page is scanned: colour mode, resolution, and rarely needed choices.
#include "app/models/scanning/next_scan.h"
#include "app/models/scanning/scanners.h"
#include "app/models/tray/choice.h"
#include "app/theme/phrase_sheet.h"
#include "app/ticketbar/sheet_parts.h"
#include "app/ticketbar/ticket_bar.h"
#include "app/ticketbar/wording.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QSpinBox>

namespace yelvin::sheets {

namespace {

// Returns the size of all files of one scan with this resolution and colour mode.
double scan_bytes(const TicketModels& models, int dpi, const std::optional<Ink>& ink) {
    double bytes = 0;
    for (const Frame& frame : models.next_scan.frames())
        bytes += models.next_scan.page_bytes(frame.size(), dpi, ink, frame.photograph.value_or(false));
    return bytes;
}

QString learnt_words(const TicketModels& models) {
    return models.next_scan.bytes_are_learnt() ? SheetText::tr(" Sizes are estimated from this ticket's last pages.")
                                               : QString();
}

}

void fill_ink(PhraseSheet& sheet, const TicketModels& models) {
    const auto row = [&](std::optional<Ink> ink, const QString& advice) {
        sheet.add_row(wording::ink(ink), advice, models.tickets.ticket().how.ink == ink,
                      [&models, ink] { change(models, [&](Ticket& t) { t.how.ink = ink; }); });
    };
    const int dpi = models.next_scan.dpi();
    const auto size = [&](Ink ink) { return bytes_words(scan_bytes(models, dpi, ink)); };
    row(std::nullopt, SheetText::tr("grey where nothing on the page has colour"));
    row(Ink::Colour, SheetText::tr("always in colour · about %1").arg(size(Ink::Colour)));
    row(Ink::Grey, SheetText::tr("for text, pencil and stamps · about %1").arg(size(Ink::Grey)));
    row(Ink::Black, SheetText::tr("smallest; faint marks can be lost · about %1").arg(size(Ink::Black)));
    QString advice =
        SheetText::tr("A coloured stamp or a blue signature keeps a page in colour; yellowed paper does not.");
    if (const PagePtr page = models.choice.current(); page && page->noticed && !models.tickets.ticket().how.ink)
        advice += SheetText::tr(" The page in the view was %1.").arg(wording::why_ink(*page));
    sheet.add_advice(advice + learnt_words(models));
}

void fill_dpi(PhraseSheet& sheet, const TicketModels& models, const Doors& doors) {
    const Ticket& now = models.tickets.ticket();
    const auto set = [&models](int dpi) {
        change(models, [dpi](Ticket& t) {
            t.how.dpi = dpi;
            t.how.dpi_auto = false;
        });
    };
    sheet.add_row(SheetText::tr("automatic"), SheetText::tr("300 for text, 600 for small photographs"),
                  now.how.dpi_auto,
                  [&models] { change(models, [](Ticket& t) { t.how.dpi_auto = true, t.how.dpi = 300; }); });
    for (const int dpi : models.scanners.capabilities().resolutions) {
        const QString advice = dpi == 150   ? SheetText::tr("quick copies")
                               : dpi == 200 ? SheetText::tr("office paper, small files")
                               : dpi == 300 ? SheetText::tr("everyday choice")
                               : dpi == 600 ? SheetText::tr("photographs that matter")
                               : dpi < 150  ? SheetText::tr("coarse, for a quick look")
                               : dpi > 600  ? SheetText::tr("tiny details, slow")
                                            : SheetText::tr("small print");
        const QString size = bytes_words(scan_bytes(models, dpi, now.how.ink));
        sheet.add_row(SheetText::tr("%1 dpi").arg(dpi), QString("%1 · %2").arg(advice, size),
                      !now.how.dpi_auto && now.how.dpi == dpi, [set, dpi] { set(dpi); });
    }
    if (const auto& range = models.scanners.capabilities().range) {
        auto* box = new QWidget;
        auto* line = new QHBoxLayout(box);
        line->setContentsMargins(0, 0, 0, 0);
        line->addWidget(new QLabel(SheetText::tr("other"), box));
        auto* other = new QSpinBox(box);
        other->setObjectName("other-dpi");
        other->setAccessibleName(SheetText::tr("other resolution"));
        other->setRange(std::max(50, range->least), std::min(4800, range->most));
        other->setSuffix(SheetText::tr(" dpi"));
        other->setValue(now.how.dpi);
        other->setKeyboardTracking(false);
        line->addWidget(other);
        line->addStretch();
        QObject::connect(other, &QSpinBox::valueChanged, &sheet, set);
        sheet.add_widget(box);
    }
    if (models.scanners.chosen())
        sheet.add_row(SheetText::tr("make a test strip…"), SheetText::tr("shows one detail at several resolutions"),
                      false, doors.strip);
    const auto frames = static_cast<int>(models.next_scan.frames().size());
    const QString seconds = QString::number(std::max(1.0, models.next_scan.seconds(models.next_scan.dpi())), 'f', 0);
    const QString time = frames == 1
                             ? SheetText::tr("About %1 seconds at %2 dpi.").arg(seconds).arg(models.next_scan.dpi())
                             : SheetText::tr("About %1 seconds at %2 dpi for these %3 frames.")
                                   .arg(seconds)
                                   .arg(models.next_scan.dpi())
                                   .arg(frames);
    sheet.add_advice(time + SheetText::tr(" Twice the resolution means four times the pixels.") + learnt_words(models));
}

QWidget* quality_box(PhraseSheet& sheet, const TicketModels& models) {
    auto* quality = new QWidget;
    auto* line = new QHBoxLayout(quality);
    line->setContentsMargins(0, 0, 0, 0);
    line->addWidget(new QLabel(SheetText::tr("JPEG quality, also in PDFs"), quality));
    auto* spin = new QSpinBox(quality);
    spin->setObjectName("jpeg-quality");
    spin->setRange(1, 100);
    spin->setValue(shown(models).make.jpeg_quality);
    spin->setAccessibleName(SheetText::tr("JPEG quality"));
    line->addWidget(spin);
    line->addStretch();
    QObject::connect(spin, &QSpinBox::valueChanged, &sheet,
                     [&models](int value) { change(models, [value](Ticket& t) { t.make.jpeg_quality = value; }); });
    return quality;
}

void fill_quality(PhraseSheet& sheet, const TicketModels& models) {
    const auto row = [&](int quality, const QString& advice) {
        sheet.add_row(QString::number(quality), advice, shown(models).make.jpeg_quality == quality,
                      [&models, quality] { change(models, [quality](Ticket& t) { t.make.jpeg_quality = quality; }); });
    };
    row(60, SheetText::tr("small; visible traces around letters"));
    row(75, SheetText::tr("fair, for reading on a screen"));
    row(85, SheetText::tr("looks like the paper; the default"));
    row(92, SheetText::tr("for photographs that matter"));
    row(98, SheetText::tr("almost no loss, large"));
    sheet.add_widget(quality_box(sheet, models));
    sheet.add_advice(SheetText::tr("How exactly a JPEG shows the scan, in PDFs too. At 85 a page takes about %1.")
                         .arg(bytes_words([&] {
                             double bytes = 0;
                             for (const Frame& f : models.next_scan.frames())
                                 bytes += models.next_scan.page_bytes(f.size(), models.next_scan.dpi(),
                                                                      models.tickets.ticket().how.ink);
                             return bytes * std::pow(2.0, (85 - shown(models).make.jpeg_quality) / 12.0);
                         }())));
}

void fill_and(PhraseSheet& sheet, const TicketModels& models, const Doors& doors) {
    sheet.add_heading(SheetText::tr("More choices"));
    sheet.add_row(SheetText::tr("JPEG quality…"),
                  SheetText::tr("now %1; the default is 85").arg(shown(models).make.jpeg_quality), false,
                  doors.quality);
    sheet.add_row(SheetText::tr("then …"), SheetText::tr("what happens with a saved file"), false, doors.then);
    const auto own = models.scanners.capabilities().more.size();
    if (models.scanners.chosen() && own > 0)
        sheet.add_row(SheetText::tr("scanner settings…"),
                      own == 1 ? SheetText::tr("1 setting of this scanner")
                               : SheetText::tr("%1 settings of this scanner").arg(own),
                      false, doors.more);
    sheet.add_row(SheetText::tr("blank limit…"),
                  SheetText::tr("less than %1% ink").arg(models.tickets.ticket().pages.blank_limit_percent), false,
                  doors.blank);
    sheet.add_advice(SheetText::tr("What you set here appears in the sentence and is saved with the ticket."));
}

}
