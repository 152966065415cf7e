// How long originals of saved documents are kept, in a sheet under the tray's foot.
#pragma once

#include <QRect>
#include <QString>

class QWidget;

namespace yelvin {

class KeptOriginals;

QString keeping_words(const KeptOriginals& originals); // "originals: 30 days"
void open_keeping_sheet(KeptOriginals& originals, const QRect& anchor, QWidget* parent);

}
