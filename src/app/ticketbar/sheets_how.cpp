// The sheets about how a page is scanned, ink and resolution, and the rarer choices.
#include "app/ticketbar/phrase_sheet.h"
#include "app/ticketbar/sheet_parts.h"
#include "app/ticketbar/ticket_bar.h"
#include "app/ticketbar/wording.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QSpinBox>

namespace yelvin::sheets {

namespace {

// The bytes of all that one scan would make, with this resolution and ink.
double scan_bytes(const TicketModels& models, int dpi, const std::optional<Ink>& ink) {
    double bytes = 0;
    for (const Frame& frame : models.next_scan.frames())
        bytes += models.next_scan.page_bytes(frame.size(), dpi, ink, frame.photograph.value_or(false));
    return bytes;
}

QString learnt_words(const TicketModels& models) {
    return models.next_scan.bytes_are_learnt() ? words(" Sizes are estimated from this ticket's last pages.")
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
    row(std::nullopt, words("grey where nothing on the page has colour"));
    row(Ink::Colour, words("always in colour · about %1").arg(size(Ink::Colour)));
    row(Ink::Grey, words("for text, pencil and stamps · about %1").arg(size(Ink::Grey)));
    row(Ink::Black, words("smallest; faint marks can be lost · about %1").arg(size(Ink::Black)));
    QString advice = words("A coloured stamp or a blue signature keeps a page in colour; yellowed paper does not.");
    if (const PagePtr page = models.choice.current(); page && page->noticed && !models.tickets.ticket().how.ink)
        advice += words(" The page in the view was %1.").arg(wording::why_ink(*page));
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
    sheet.add_row(words("automatic"), words("300 for text, 600 for small photographs"), now.how.dpi_auto,
                  [&models] { change(models, [](Ticket& t) { t.how.dpi_auto = true, t.how.dpi = 300; }); });
    for (const int dpi : models.scanners.capabilities().resolutions) {
        const QString advice = dpi == 150   ? words("quick copies")
                               : dpi == 200 ? words("office paper, small files")
                               : dpi == 300 ? words("everyday choice")
                               : dpi == 600 ? words("photographs that matter")
                               : dpi < 150  ? words("coarse, for a quick look")
                               : dpi > 600  ? words("tiny details, slow")
                                            : words("small print");
        const QString size = bytes_words(scan_bytes(models, dpi, now.how.ink));
        sheet.add_row(words("%1 dpi").arg(dpi), QString("%1 · %2").arg(advice, size),
                      !now.how.dpi_auto && now.how.dpi == dpi, [set, dpi] { set(dpi); });
    }
    if (const auto& range = models.scanners.capabilities().range) {
        auto* box = new QWidget;
        auto* line = new QHBoxLayout(box);
        line->setContentsMargins(0, 0, 0, 0);
        line->addWidget(new QLabel(words("other"), box));
        auto* other = new QSpinBox(box);
        other->setObjectName("other-dpi");
        other->setAccessibleName(words("other resolution"));
        other->setRange(std::max(50, range->least), std::min(4800, range->most));
        other->setSuffix(words(" dpi"));
        other->setValue(now.how.dpi);
        other->setKeyboardTracking(false);
        line->addWidget(other);
        line->addStretch();
        QObject::connect(other, &QSpinBox::valueChanged, &sheet, set);
        sheet.add_widget(box);
    }
    if (models.scanners.chosen())
        sheet.add_row(words("make a test strip…"), words("shows one detail at several resolutions"), false,
                      doors.strip);
    const auto frames = static_cast<int>(models.next_scan.frames().size());
    const QString seconds = QString::number(std::max(1.0, models.next_scan.seconds(models.next_scan.dpi())), 'f', 0);
    const QString time = frames == 1 ? words("About %1 seconds at %2 dpi.").arg(seconds).arg(models.next_scan.dpi())
                                     : words("About %1 seconds at %2 dpi for these %3 frames.")
                                           .arg(seconds)
                                           .arg(models.next_scan.dpi())
                                           .arg(frames);
    sheet.add_advice(time + words(" Twice the resolution means four times the pixels.") + learnt_words(models));
}

QWidget* quality_box(PhraseSheet& sheet, const TicketModels& models) {
    auto* quality = new QWidget;
    auto* line = new QHBoxLayout(quality);
    line->setContentsMargins(0, 0, 0, 0);
    line->addWidget(new QLabel(words("JPEG quality, also in PDFs"), quality));
    auto* spin = new QSpinBox(quality);
    spin->setObjectName("jpeg-quality");
    spin->setRange(1, 100);
    spin->setValue(shown(models).make.jpeg_quality);
    spin->setAccessibleName(words("JPEG quality"));
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
    row(60, words("small; visible traces around letters"));
    row(75, words("fair, for reading on a screen"));
    row(85, words("looks like the paper; the default"));
    row(92, words("for photographs that matter"));
    row(98, words("almost no loss, large"));
    sheet.add_widget(quality_box(sheet, models));
    sheet.add_advice(
        words("How exactly a JPEG shows the scan, in PDFs too. At 85 a page takes about %1.").arg(bytes_words([&] {
            double bytes = 0;
            for (const Frame& f : models.next_scan.frames())
                bytes += models.next_scan.page_bytes(f.size(), models.next_scan.dpi(), models.tickets.ticket().how.ink);
            return bytes * std::pow(2.0, (85 - shown(models).make.jpeg_quality) / 12.0);
        }())));
}

void fill_and(PhraseSheet& sheet, const TicketModels& models, const Doors& doors) {
    sheet.add_heading(words("More choices"));
    sheet.add_row(words("JPEG quality…"), words("now %1; the default is 85").arg(shown(models).make.jpeg_quality),
                  false, doors.quality);
    sheet.add_row(words("then …"), words("what happens with a saved file"), false, doors.then);
    const auto own = models.scanners.capabilities().more.size();
    if (models.scanners.chosen() && own > 0)
        sheet.add_row(words("scanner settings…"),
                      own == 1 ? words("1 setting of this scanner") : words("%1 settings of this scanner").arg(own),
                      false, doors.more);
    sheet.add_row(words("blank limit…"),
                  words("less than %1% ink").arg(models.tickets.ticket().pages.blank_limit_percent), false,
                  doors.blank);
    sheet.add_advice(words("What you set here appears in the sentence and is saved with the ticket."));
}

}
