#include "app/models/errands/closing.h"

#include "app/models/errands/renaming.h"
#include "app/models/saving/saving.h"

namespace yelvin {

Closing::Closing(Saving& saving, Renaming& renaming, QObject* parent)
    : QObject(parent), saving_(saving), renaming_(renaming) {
    patience_.setSingleShot(true);
    patience_.setInterval(patience);
    connect(&patience_, &QTimer::timeout, this, &Closing::ready);
    connect(&saving_, &Saving::changed, this, &Closing::see);
    connect(&saving_, &Saving::progress, this, &Closing::see);
    connect(&renaming_, &Renaming::changed, this, &Closing::see);
}

QString Closing::under_way() const {
    const int saved = saving_.documents_under_way();
    if (saved == 1) return tr("Saving a document");
    if (saved > 1) return tr("Saving %1 documents").arg(saved);
    return renaming_.at_work() ? tr("Renaming a file") : QString();
}

bool Closing::ask() {
    if (std::exchange(is_asked_for_, true) || under_way().isEmpty()) return true;
    patience_.start();
    emit changed();
    return false;
}

void Closing::stay() {
    if (!std::exchange(is_asked_for_, false)) return;
    patience_.stop();
    emit changed();
}

void Closing::see() {
    if (!is_asked_for_) return;
    emit changed();
    if (under_way().isEmpty()) emit ready();
}

}
