#include "app/window/keeping_sheet.h"

#include "app/models/tray/kept_originals.h"
#include "app/ticketbar/phrase_sheet.h"
#include "app/ticketbar/ticket_bar.h"

#include <QCoreApplication>

namespace yelvin {

namespace {

QString keeping_said(const char* text) { return QCoreApplication::translate("KeepingSheet", text); }

struct Span {
    int days;
    const char* words;
};
constexpr Span spans[] = {{0, "never"}, {7, "7 days"}, {30, "30 days"}, {90, "90 days"}, {365, "1 year"}};

constexpr double gigabyte = 1e9;
constexpr double sizes_gb[] = {1, 10, 50};

QString documents_words(std::size_t count) {
    return count == 1 ? keeping_said("1 document") : keeping_said("%1 documents").arg(count);
}

// A sentence about what the rule would delete at once.
QString consequence(const KeptOriginals& originals, const KeepingRule& rule) {
    const std::size_t go = rule == originals.rule() ? 0 : originals.would_go(rule);
    return go == 0 ? QString() : keeping_said("deletes originals of %1").arg(documents_words(go));
}

}

QString keeping_words(const KeptOriginals& originals) {
    const auto days = originals.rule().longest.count();
    if (days == 0) return keeping_said("no originals kept");
    return days == 365 ? keeping_said("originals: 1 year") : keeping_said("originals: %1 days").arg(days);
}

void open_keeping_sheet(KeptOriginals& originals, const QRect& anchor, QWidget* parent) {
    auto* sheet = new PhraseSheet(parent);
    sheet->setObjectName("keeping-sheet");
    sheet->add_heading(keeping_said("Keep originals of documents cleared from the tray"));
    for (const Span& span : spans) {
        KeepingRule rule = originals.rule();
        rule.longest = std::chrono::days(span.days);
        sheet->add_row(keeping_said(span.words), consequence(originals, rule), rule == originals.rule(),
                       [&originals, rule] { originals.set_rule(rule); });
    }
    sheet->end_list();
    sheet->add_heading(keeping_said("and use at most"));
    for (const double size : sizes_gb) {
        KeepingRule rule = originals.rule();
        rule.most_bytes = static_cast<std::uint64_t>(size * gigabyte);
        sheet->add_row(keeping_said("%1 GB").arg(size), consequence(originals, rule), rule == originals.rule(),
                       [&originals, rule] { originals.set_rule(rule); });
    }
    sheet->end_list();
    const QString now = originals.all().empty() ? keeping_said("No originals are kept now.")
                                                : keeping_said("Originals of %1 are kept now, %2.")
                                                      .arg(documents_words(originals.all().size()),
                                                           bytes_words(static_cast<double>(originals.bytes())));
    sheet->add_advice(now + " " +
                      keeping_said("While they are kept, you can return a document from the cabinet to the tray, "
                                   "correct it and save it again. Saved files do not change."));
    sheet->open_under(anchor);
}

}
