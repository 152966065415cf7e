// The sheet that sets how long originals of saved documents are kept.
#pragma once

#include <QRect>
#include <QString>

class QWidget;

namespace yelvin {

class KeptOriginals;

QString keeping_words(const KeptOriginals& originals); // "originals: 30 days"
void open_keeping_sheet(KeptOriginals& originals, const QRect& anchor, QWidget* parent);

}
