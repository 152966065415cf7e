// Servers by their names: a list of them, and one with its test.
#pragma once

#include "app/models/groups.h"

#include <QRect>
#include <QString>

#include <functional>

class QWidget;

namespace yelvin {

// `chosen`: told of the one that was made or changed, by its name.
void open_server_sheet(const SendingModels& models, const QString& name, const QRect& anchor, QWidget* parent,
                       std::function<void(const QString&)> chosen);
// What is on its way, and what has arrived lately.
void open_sending_sheet(const SendingModels& models, const QRect& anchor, QWidget* parent);

}
