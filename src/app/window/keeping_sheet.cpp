#include "app/window/keeping_sheet.h"

#include "app/models/tray/kept_originals.h"
#include "app/theme/phrase_sheet.h"
#include "app/ticketbar/ticket_bar.h"

#include <QCoreApplication>

namespace yelvin {

namespace {

struct KeepingSheetText {
    Q_DECLARE_TR_FUNCTIONS(KeepingSheetText)
};

struct Span {
    int days;
    const char* words;
};
constexpr Span spans[] = {{0, "never"}, {7, "7 days"}, {30, "30 days"}, {90, "90 days"}, {365, "1 year"}};

constexpr double gigabyte = 1e9;
constexpr double sizes_gb[] = {1, 10, 50};

QString documents_words(std::size_t count) {
    return count == 1 ? KeepingSheetText::tr("1 document") : KeepingSheetText::tr("%1 documents").arg(count);
}

// A sentence about what the rule would delete at once.
QString consequence(const KeptOriginals& originals, const KeepingRule& rule) {
    const std::size_t go = rule == originals.rule() ? 0 : originals.would_go(rule);
    return go == 0 ? QString() : KeepingSheetText::tr("deletes originals of %1").arg(documents_words(go));
}

}

QString keeping_words(const KeptOriginals& originals) {
    const auto days = originals.rule().longest.count();
    if (days == 0) return KeepingSheetText::tr("no originals kept");
    return days == 365 ? KeepingSheetText::tr("originals: 1 year")
                       : KeepingSheetText::tr("originals: %1 days").arg(days);
}

void open_keeping_sheet(KeptOriginals& originals, const QRect& anchor, QWidget* parent) {
    auto* sheet = new PhraseSheet(parent);
    sheet->setObjectName("keeping-sheet");
    sheet->add_heading(KeepingSheetText::tr("Keep originals of documents cleared from the tray"));
    for (const Span& span : spans) {
        KeepingRule rule = originals.rule();
        rule.longest = std::chrono::days(span.days);
        sheet->add_row(KeepingSheetText::tr(span.words), consequence(originals, rule), rule == originals.rule(),
                       [&originals, rule] { originals.set_rule(rule); });
    }
    sheet->end_list();
    sheet->add_heading(KeepingSheetText::tr("and use at most"));
    for (const double size : sizes_gb) {
        KeepingRule rule = originals.rule();
        rule.most_bytes = static_cast<std::uint64_t>(size * gigabyte);
        sheet->add_row(KeepingSheetText::tr("%1 GB").arg(size), consequence(originals, rule), rule == originals.rule(),
                       [&originals, rule] { originals.set_rule(rule); });
    }
    sheet->end_list();
    const QString now = originals.all().empty() ? KeepingSheetText::tr("No originals are kept now.")
                                                : KeepingSheetText::tr("Originals of %1 are kept now, %2.")
                                                      .arg(documents_words(originals.all().size()),
                                                           bytes_words(static_cast<double>(originals.bytes())));
    sheet->add_advice(
        now + " " +
        KeepingSheetText::tr("While they are kept, you can return a document from the cabinet to the tray, "
                             "correct it and save it again. Saved files do not change."));
    sheet->open_under(anchor);
}

}
