// The last choices, stored for the next start in last.json in the settings folder. Each model stores its own under a
// key of its own. The file is written in the background, half a second after the last change. Used on the window's
// thread.
#pragma once

#include "jobs/executor.h"

#include <QString>
#include <QTimer>
#include <nlohmann/json.hpp>

namespace yelvin {

class LastChoices {
  public:
    // Reads the file; a missing or damaged one counts as empty. `writing` runs the writes one after another; without
    // it, the destructor writes.
    explicit LastChoices(const QString& settings_folder, Executor writing = {});
    ~LastChoices(); // writes what was not written yet
    LastChoices(const LastChoices&) = delete;
    LastChoices& operator=(const LastChoices&) = delete;

    // Returns the value of a key, or `otherwise` if there is none or it has another type.
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
    void set(const char* key, nlohmann::json value); // written half a second after the last call
    void keep_now();                                 // passes the present values to `writing` at once

  private:
    QString folder_;
    Executor writing_;
    nlohmann::json values_ = nlohmann::json::object();
    QTimer rest_;
    bool is_changed_ = false; // since the last write
};

}
