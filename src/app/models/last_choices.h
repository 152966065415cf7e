// The choices as they were last, for the next start: a JSON file in the settings folder. Each model keeps its own under
// a key of its own. The file is written by somebody else than the window's thread, once nothing was changed for a
// while.
#pragma once

#include "jobs/executor.h"

#include <QString>
#include <QTimer>
#include <nlohmann/json.hpp>

namespace yelvin {

class LastChoices {
  public:
    // A file that is not there or not to be read counts as empty. `writing`: where it is written, one after the other;
    // none given: by whoever destroys this.
    explicit LastChoices(const QString& settings_folder, Executor writing = {});
    ~LastChoices(); // writes what is not written yet, after what was handed to `writing`
    LastChoices(const LastChoices&) = delete;
    LastChoices& operator=(const LastChoices&) = delete;

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
    void set(const char* key, nlohmann::json value); // written after half a second without another one
    void keep_now();                                 // what must not be forgotten is handed to `writing` at once

  private:
    QString folder_;
    Executor writing_;
    nlohmann::json values_ = nlohmann::json::object();
    QTimer rest_;
    bool is_changed_ = false; // since it was handed to `writing`
};

}
