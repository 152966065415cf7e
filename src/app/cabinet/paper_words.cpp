#include "app/cabinet/paper_words.h"

#include <QCoreApplication>
#include <QDateTime>
#include <QLocale>

namespace yelvin {

namespace {
struct CabinetText {
    Q_DECLARE_TR_FUNCTIONS(CabinetText)
};
}

QString paper_name(const CabinetPaper& paper) { return QString::fromStdString(paper.file.stem().string()); }

bool is_unwell(const CabinetPaper& paper) { return paper.place != Place::Here; }

QString paper_facts(const CabinetPaper& paper) {
    QStringList facts{QString::fromStdString(paper.file.parent_path().filename().string())};
    facts.append(paper.pages == 1 ? CabinetText::tr("1 page") : CabinetText::tr("%1 pages").arg(paper.pages));
    if (paper.place == Place::Gone) return (facts << CabinetText::tr("file missing")).join(" · ");
    if (paper.place == Place::Away) return (facts << CabinetText::tr("folder missing")).join(" · ");
    const QDateTime when = QDateTime::fromSecsSinceEpoch(paper.saved.time_since_epoch().count());
    const QString day = QLocale::c().toString(when.date(), "d MMMM yyyy");
    facts.append(paper.ticket.empty() ? CabinetText::tr("file of %1").arg(day) : CabinetText::tr("saved %1").arg(day));
    if (paper.text_state == TextState::Missing) facts.append(CabinetText::tr("no text"));
    if (paper.text_state == TextState::Protected) facts.append(CabinetText::tr("its text is protected"));
    return facts.join(" · ");
}

QRectF on_picture(const cv::Rect2d& mm, const MarkedPage& page, const QRectF& picture) {
    if (page.width_mm <= 0 || page.height_mm <= 0) return {};
    const double across = picture.width() / page.width_mm, down = picture.height() / page.height_mm;
    return {picture.left() + mm.x * across, picture.top() + mm.y * down, mm.width * across, mm.height * down};
}

}
