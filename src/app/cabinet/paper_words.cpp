#include "app/cabinet/paper_words.h"

#include <QCoreApplication>
#include <QDateTime>
#include <QLocale>

namespace yelvin {

namespace {
QString in_words(const char* text) { return QCoreApplication::translate("Cabinet", text); }
}

QString paper_name(const CabinetPaper& paper) { return QString::fromStdString(paper.file.stem().string()); }

bool is_unwell(const CabinetPaper& paper) { return paper.place != Place::Here; }

QString paper_facts(const CabinetPaper& paper) {
    QStringList facts{QString::fromStdString(paper.file.parent_path().filename().string())};
    facts.append(paper.pages == 1 ? in_words("1 page") : in_words("%1 pages").arg(paper.pages));
    if (paper.place == Place::Gone) return (facts << in_words("file missing")).join(" · ");
    if (paper.place == Place::Away) return (facts << in_words("folder missing")).join(" · ");
    const QDateTime when = QDateTime::fromSecsSinceEpoch(paper.saved.time_since_epoch().count());
    const QString day = QLocale::c().toString(when.date(), "d MMMM yyyy");
    facts.append(paper.ticket.empty() ? in_words("file of %1").arg(day) : in_words("saved %1").arg(day));
    if (paper.text_state == TextState::Missing) facts.append(in_words("no text"));
    if (paper.text_state == TextState::Protected) facts.append(in_words("its text is protected"));
    return facts.join(" · ");
}

QRectF on_picture(const cv::Rect2d& mm, const MarkedPage& page, const QRectF& picture) {
    if (page.width_mm <= 0 || page.height_mm <= 0) return {};
    const double across = picture.width() / page.width_mm, down = picture.height() / page.height_mm;
    return {picture.left() + mm.x * across, picture.top() + mm.y * down, mm.width * across, mm.height * down};
}

}
