#include "app/models/last_choices.h"

#include "core/json_text.h"
#include "core/private_files.h"

#include <QDir>
#include <QFile>
#include <QSaveFile>

namespace yelvin {

LastChoices::LastChoices(const QString& settings_folder) : folder_(settings_folder) {
    QFile file(folder_ + "/last.json");
    if (!file.open(QIODevice::ReadOnly)) return;
    if (auto json = json_from_text(file.readAll().toStdString()); json && json->is_object()) values_ = std::move(*json);
}

void LastChoices::set(const char* key, nlohmann::json value) {
    if (const auto at = values_.find(key); at != values_.end() && *at == value) return;
    values_[key] = std::move(value);
    make_private_folder(folder_.toStdString());
    make_private_file((folder_ + "/last.json").toStdString()); // QSaveFile keeps the mode of what it replaces
    QSaveFile file(folder_ + "/last.json");
    if (!file.open(QIODevice::WriteOnly)) return;
    file.write(QByteArray::fromStdString(values_.dump(2, ' ', false, nlohmann::json::error_handler_t::replace)));
    file.commit();
}

}
