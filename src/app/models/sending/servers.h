// The servers that the user has entered. All tickets share them; they are stored in last.json.
#pragma once

#include "core/sending/server.h"

#include <QObject>

#include <optional>

namespace yelvin {

class LastChoices;

// Lives on the window's thread.
class Servers : public QObject {
    Q_OBJECT
  public:
    explicit Servers(LastChoices& last, QObject* parent = nullptr);
    const std::vector<Server>& all() const { return all_; } // by name
    std::optional<Server> named(const std::string& name) const;
    // Stores a server in place of the one called `before`, or as a new one if that is empty. Names are unique: see
    // is_free(). Emits changed().
    void put(const Server& server, const std::string& before);
    void remove(const std::string& name); // emits changed()
    // Whether no server but the one called `but` has this name.
    bool is_free(const std::string& name, const std::string& but) const;

  signals:
    void changed();

  private:
    LastChoices& last_;
    std::vector<Server> all_;
    void keep();
};

}
