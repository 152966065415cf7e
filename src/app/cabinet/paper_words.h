// Texts about documents of the cabinet, and mapping places of a page to a picture of it.
#pragma once

#include "core/cabinet/finding.h"

#include <QRectF>
#include <QString>

namespace yelvin {

QString paper_name(const CabinetPaper& paper);
QString paper_facts(const CabinetPaper& paper); // "Leases · 3 pages · saved 12 March 2026", or what is wrong
bool is_unwell(const CabinetPaper& paper);      // whether its file is missing or away
QRectF on_picture(const cv::Rect2d& mm, const MarkedPage& page, const QRectF& picture);

}
