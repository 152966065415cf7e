// The servers that this person has named, for every ticket.
#pragma once

#include "core/sending/server.h"

#include <QObject>

#include <optional>

namespace yelvin {

class LastChoices;

class Servers : public QObject {
    Q_OBJECT
  public:
    explicit Servers(LastChoices& last, QObject* parent = nullptr);
    const std::vector<Server>& all() const { return all_; } // by name
    std::optional<Server> named(const std::string& name) const;
    // Each ends with changed(). In place of the one called `before`; empty: a new one. A name is there once.
    void put(const Server& server, const std::string& before);
    void remove(const std::string& name);
    bool is_free(const std::string& name, const std::string& but) const;

  signals:
    void changed();

  private:
    LastChoices& last_;
    std::vector<Server> all_;
    void keep();
};

}
