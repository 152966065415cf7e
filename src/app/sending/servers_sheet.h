// The sheets about servers: the list, one server with its test, and the queue of files.
#pragma once

#include "app/models/groups.h"

#include <QRect>
#include <QString>

#include <functional>

class QWidget;

namespace yelvin {

// Opens a server's sheet. `chosen` is called with the name of the server that was created or changed.
void open_server_sheet(const SendingModels& models, const QString& name, const QRect& anchor, QWidget* parent,
                       std::function<void(const QString&)> chosen);
// Opens the sheet with files that are being sent and that were sent lately.
void open_sending_sheet(const SendingModels& models, const QRect& anchor, QWidget* parent);

}
