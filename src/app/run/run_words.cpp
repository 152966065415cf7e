#include "app/run/run_words.h"

#include <QCoreApplication>

namespace yelvin {

namespace {

struct RunText {
    Q_DECLARE_TR_FUNCTIONS(RunText)
};

QString sheets_words(int count) { return count == 1 ? RunText::tr("1 sheet") : RunText::tr("%1 sheets").arg(count); }

QString fault_words(const Waiting& waiting) {
    if (waiting.can_keep)
        return RunText::tr(
                   "Sheet %1 is much longer than those before it: two sheets may have gone through at once. Put "
                   "both back on top of the stack and go on, or keep it if it is one long sheet.")
            .arg(waiting.sheet);
    const QString said = QString::fromStdString(waiting.fault.sentence);
    const bool of_disk = waiting.fault.kind == ErrorKind::DiskFull || waiting.fault.kind == ErrorKind::NotWritable;
    return of_disk
               ? RunText::tr("%1 Put sheet %2 back on top of the stack before going on.").arg(said).arg(waiting.sheet)
               : said;
}

}

QString words_of(const Waiting& waiting) {
    switch (waiting.what) {
    case Waiting::For::Fault:
        return fault_words(waiting);
    case Waiting::For::FirstSheet: {
        const int left = waiting.sheets_left.value_or(0);
        if (left <= 0) return RunText::tr("First sheet scanned. Check it, then scan the rest.");
        return left == 1 ? RunText::tr("First sheet scanned. Check it, then scan the remaining sheet.")
                         : RunText::tr("First sheet scanned. Check it, then scan the remaining %1 sheets.").arg(left);
    }
    case Waiting::For::NextSheet:
        return (waiting.from_stack ? RunText::tr("Sheet %1 scanned. Feed the next one.")
                                   : RunText::tr("Page %1 scanned. Lay the next one on the glass."))
            .arg(waiting.sheet);
    case Waiting::For::Backs:
        return RunText::tr(
                   "%1 scanned, fronts only. Turn the whole stack over without sorting it, put it back and scan the "
                   "backs. Yelvin puts them in order.")
            .arg(sheets_words(waiting.fronts));
    case Waiting::For::Counts:
        return (waiting.fronts > waiting.backs
                    ? RunText::tr("There are %1 fronts but %2 backs. Enter the sheet whose back "
                                  "is missing and check the tray, or scan the backs again.")
                    : RunText::tr("There are %1 fronts but %2 backs. Enter the sheet whose front "
                                  "is missing and check the tray, or scan the backs again."))
            .arg(waiting.fronts)
            .arg(waiting.backs);
    case Waiting::For::Nothing:
        break;
    }
    return {};
}

}
