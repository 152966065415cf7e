#include "app/run/run_words.h"

#include <QCoreApplication>

namespace yelvin {

namespace {

QString words(const char* text) { return QCoreApplication::translate("Run", text); }

QString sheets_words(int count) { return count == 1 ? words("1 sheet") : words("%1 sheets").arg(count); }

QString fault_words(const Waiting& waiting) {
    if (waiting.can_keep)
        return words("Sheet %1 is much longer than those before it: two sheets may have gone through at once. Put "
                     "both back on top of the stack and go on, or keep it if it is one long sheet.")
            .arg(waiting.sheet);
    const QString said = QString::fromStdString(waiting.fault.sentence);
    const bool of_disk = waiting.fault.kind == ErrorKind::DiskFull || waiting.fault.kind == ErrorKind::NotWritable;
    return of_disk ? said + words(" Put sheet %1 back on top of the stack before going on.").arg(waiting.sheet) : said;
}

}

QString words_of(const Waiting& waiting) {
    switch (waiting.what) {
    case Waiting::For::Fault:
        return fault_words(waiting);
    case Waiting::For::FirstSheet: {
        const int left = waiting.sheets_left.value_or(0);
        return words("The first sheet is in. Look at it; then scan the rest%1.")
            .arg(left > 0 ? words(" (%1)").arg(sheets_words(left)) : QString());
    }
    case Waiting::For::NextSheet:
        return (waiting.from_stack ? words("Sheet %1 is in. Feed the next one.")
                                   : words("Page %1 is in. Lay the next one on the glass."))
            .arg(waiting.sheet);
    case Waiting::For::Backs:
        return words("%1 are in, fronts only. Take the stack out, turn it over as a whole without sorting it, put "
                     "it back in, and scan the backs. They are put in their places by themselves.")
            .arg(sheets_words(waiting.fronts));
    case Waiting::For::Counts:
        return words("There are %1 fronts, but %2 backs. Say at which sheet a %3 is missing, and see the tray follow; "
                     "or scan the backs again.")
            .arg(waiting.fronts)
            .arg(waiting.backs)
            .arg(waiting.fronts > waiting.backs ? words("back") : words("front"));
    case Waiting::For::Nothing:
        break;
    }
    return {};
}

}
