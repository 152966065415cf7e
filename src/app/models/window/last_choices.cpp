#include "app/models/window/last_choices.h"

#include "core/json_text.h"
#include "core/private_files.h"
#include "jobs/trouble.h"

#include <QFile>

namespace yelvin {

namespace {

constexpr int rest_ms = 500;

void write_choices(const std::filesystem::path& folder, const nlohmann::json& values) {
    make_private_folder(folder);
    const std::string text = values.dump(2, ' ', false, nlohmann::json::error_handler_t::replace);
    if (const std::error_code failed = write_private_file(folder / "last.json", text))
        log_trouble("last.json was not written: " + failed.message());
}

}

LastChoices::LastChoices(const QString& settings_folder, Executor writing)
    : folder_(settings_folder), writing_(std::move(writing)) {
    rest_.setSingleShot(true);
    rest_.setInterval(rest_ms);
    rest_.callOnTimeout([this] { keep_now(); });
    QFile file(folder_ + "/last.json");
    if (!file.open(QIODevice::ReadOnly)) return;
    if (auto json = json_from_text(file.readAll().toStdString()); json && json->is_object()) values_ = std::move(*json);
}

LastChoices::~LastChoices() {
    if (is_changed_) write_choices(folder_.toStdString(), values_);
}

void LastChoices::set(const char* key, nlohmann::json value) {
    if (const auto at = values_.find(key); at != values_.end() && *at == value) return;
    values_[key] = std::move(value);
    is_changed_ = true;
    if (writing_) rest_.start();
}

void LastChoices::keep_now() {
    rest_.stop();
    if (!writing_ || !std::exchange(is_changed_, false)) return;
    writing_(
        [folder = std::filesystem::path(folder_.toStdString()), values = values_] { write_choices(folder, values); });
}

}
