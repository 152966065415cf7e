// The choices as they were last, for the next start: a JSON file in the settings folder. Each model keeps its own under
// a key of its own.
#pragma once

#include <QString>
#include <nlohmann/json.hpp>

namespace yelvin {

class LastChoices {
  public:
    // A file that is not there or not to be read counts as empty.
    explicit LastChoices(const QString& settings_folder);

    // `otherwise` also where the kept value is of another type.
    template <class T>
    T get(const char* key, T otherwise) const {
        const auto at = values_.find(key);
        if (at == values_.end()) return otherwise;
        try {
            return at->template get<T>();
        } catch (const nlohmann::json::exception&) {
            return otherwise;
        }
    }
    nlohmann::json get(const char* key) const { return values_.value(key, nlohmann::json()); }
    void set(const char* key, nlohmann::json value); // writes the file, whole or not at all

  private:
    QString folder_;
    nlohmann::json values_ = nlohmann::json::object();
};

}
