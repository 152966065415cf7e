// What is said of a paper of the cabinet, and where a place of its page is on a picture of it.
#pragma once

#include "core/cabinet/finding.h"

#include <QRectF>
#include <QString>

namespace yelvin {

QString paper_name(const CabinetPaper& paper);
QString paper_facts(const CabinetPaper& paper); // "Leases · 3 pages · saved 12 March 2026", or what is wrong with it
bool is_unwell(const CabinetPaper& paper);      // its file is not where it was
QRectF on_picture(const cv::Rect2d& mm, const MarkedPage& page, const QRectF& picture);

}
