#include "app/models/tray/tray_folder.h"

#include <QDir>
#include <QFileInfo>

namespace yelvin {

namespace {
constexpr const char* key = "tray";
}

QString tray_folder(const QString& usual, const LastChoices& last) {
    const QString name = QString::fromStdString(last.get(key, std::string()));
    // The folder is always a neighbour of the usual one, whatever the file contains.
    if (name.isEmpty() || name.startsWith('.') || name.contains('/')) return usual;
    return QFileInfo(usual).path() + '/' + name;
}

void choose_fresh_tray(const QString& usual, LastChoices& last) {
    const QString name = QFileInfo(usual).fileName();
    int number = 2;
    while (QFileInfo::exists(QString("%1 %2").arg(usual).arg(number))) ++number;
    last.set(key, QString("%1 %2").arg(name).arg(number).toStdString());
}

}
