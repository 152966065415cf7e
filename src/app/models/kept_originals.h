// Saved documents that left the tray, with their originals: how long they are kept, and how they come back.
#pragma once

#include "core/tray/tray_store.h"

#include <QObject>
#include <QTimer>

namespace yelvin {

class Choice;
class LastChoices;
class Messages;
class OutTray;

class KeptOriginals : public QObject {
    Q_OBJECT
  public:
    KeptOriginals(Messages& messages, LastChoices& last, OutTray& tray, Choice& choice, QObject* parent = nullptr);

    const KeepingRule& rule() const { return rule_; }
    void set_rule(const KeepingRule& rule);                        // what goes by it goes at once; ends with changed()
    std::size_t would_go(const KeepingRule& rule) const;           // documents
    const std::vector<KeptDocument>& all() const { return kept_; } // the one that left first stands first
    std::uint64_t bytes() const;

    // A document with this many pages, back into the tray at the end as it was saved; `file`: where its file is now.
    // Its first page is looked at then. False: it is not kept. One that is in the tray still is only told of.
    bool take_back(const std::string& document_id, const std::filesystem::path& file, std::size_t pages);

  signals:
    void changed();

  private:
    Messages& messages_;
    LastChoices& last_;
    OutTray& tray_;
    Choice& choice_;
    KeepingRule rule_;
    std::vector<KeptDocument> kept_;
    QTimer soon_, again_; // after the tray changed; as days go by

    void look();
};

}
