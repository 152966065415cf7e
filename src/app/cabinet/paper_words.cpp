#include "app/cabinet/paper_words.h"

#include <QCoreApplication>
#include <QDateTime>
#include <QLocale>

namespace yelvin {

namespace {
QString said(const char* text) { return QCoreApplication::translate("Cabinet", text); }
}

QString paper_name(const CabinetPaper& paper) { return QString::fromStdString(paper.file.stem().string()); }

bool is_unwell(const CabinetPaper& paper) { return paper.place != Place::Here; }

QString paper_facts(const CabinetPaper& paper) {
    QStringList facts{QString::fromStdString(paper.file.parent_path().filename().string())};
    facts.append(paper.pages == 1 ? said("1 page") : said("%1 pages").arg(paper.pages));
    if (paper.place == Place::Gone) return (facts << said("the file is gone")).join(" · ");
    if (paper.place == Place::Away) return (facts << said("its folder is not there now")).join(" · ");
    const QDateTime when = QDateTime::fromSecsSinceEpoch(paper.saved.time_since_epoch().count());
    const QString day = QLocale::c().toString(when.date(), "d MMMM yyyy");
    facts.append(paper.ticket.empty() ? said("of %1").arg(day) : said("saved %1").arg(day));
    if (paper.words_are == Words::Missing) facts.append(said("not read"));
    if (paper.words_are == Words::Protected) facts.append(said("its words are protected"));
    return facts.join(" · ");
}

QRectF on_picture(const cv::Rect2d& mm, const MarkedPage& page, const QRectF& picture) {
    if (page.width_mm <= 0 || page.height_mm <= 0) return {};
    const double across = picture.width() / page.width_mm, down = picture.height() / page.height_mm;
    return {picture.left() + mm.x * across, picture.top() + mm.y * down, mm.width * across, mm.height * down};
}

}
