// Saved documents that were cleared from the tray, with their originals: how long they are kept, and returning them to
// the tray. Lives on the window's thread.
#pragma once

#include "core/tray/kept_documents.h"

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
    void set_rule(const KeepingRule& rule);              // deletes what the rule expires at once; emits changed()
    std::size_t would_go(const KeepingRule& rule) const; // number of documents that the rule would delete
    const std::vector<KeptDocument>& all() const { return kept_; } // the one that left first is first
    std::uint64_t bytes() const;

    // Returns a kept document to the end of the tray as it was saved and makes its first page the current one. `file`
    // is its present path, `pages` its number of pages. Returns false if it is not kept. A document that is still in
    // the tray is only reported.
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
    QTimer soon_, again_; // after changes of the tray; as days pass

    void look();
};

}
