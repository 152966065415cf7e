// The facts of the tray's documents, and the names proposed from them and from the naming history. Computed in the
// background once their pages were read. Lives on the window's thread.
#pragma once

#include "core/naming/paper_name.h"
#include "core/ticket/ticket.h"
#include "core/tray/tray.h"

#include <QObject>
#include <QRectF>
#include <QTimer>

#include <map>
#include <memory>

namespace yelvin {

class DocumentTickets;
class Messages;
class OutTray;
class Pools;

class Papers : public QObject {
    Q_OBJECT
  public:
    Papers(Messages& messages, OutTray& tray, DocumentTickets& tickets, Pools& pools, const QString& settings_folder,
           QObject* parent = nullptr);

    // Returns null if the document was not read yet.
    const PaperFacts* says_of(const Document& document) const;
    NameValues values_of(const Document& document, const Ticket& ticket) const;
    std::vector<NameProposal> proposals_for(const Document& document) const; // up to three
    unsigned revision() const { return revision_; } // increases whenever an answer may have changed
    bool is_reckoning() const { return under_way_ > 0 || settle_.isActive(); }
    // The words by which facts are recognised, including those of the user's file.
    std::shared_ptr<const PaperWords> words() const { return words_; }

    // Changes of the naming history. Each emits changed().
    void learn(const Document& document, const QString& file);
    void moved(const QString& from, const QString& to);
    void forget(const std::vector<long long>& ids);
    void forget_file(const QString& file); // saving it was undone
    void forget_all();
    size_t remembered() const { return before_ ? before_->size() : 0; }

    // The place on a page of the fact that is pointed at.
    struct Pointed {
        std::string page;
        std::vector<cv::Rect> boxes; // px of the page that was read
        SizePx read;                 // its size
    };
    void point_at(const Document& document, const std::vector<PaperFact>& facts); // empty: nothing is pointed at
    const std::vector<Pointed>& pointed() const { return pointed_; }

  signals:
    void changed();
    void pointing_changed();

  private:
    using Before = std::vector<SavedDocument>;
    struct Known {
        std::vector<PagePtr> pages; // the first pages when they were read
        std::vector<std::string> languages;
        size_t read = 0; // of them
        std::vector<std::shared_ptr<const TextLayer>> layers;
        PaperFacts says;
        DocumentTraits traits;
        std::vector<NameProposal> proposals;
    };
    Messages& messages_;
    OutTray& tray_;
    DocumentTickets& tickets_;
    Pools& pools_;
    std::filesystem::path file_;
    std::shared_ptr<const PaperWords> words_;
    std::shared_ptr<NamingHistory> store_; // used on the keeping executor only
    std::shared_ptr<const Before> before_;
    bool said_unkept_ = false;
    std::map<std::string, Known> known_;
    std::vector<Pointed> pointed_;
    QTimer settle_;
    int under_way_ = 0;
    unsigned revision_ = 0;
    void tell() {
        ++revision_;
        emit changed();
    }

    void see();
    void reckon(const DocumentPtr& document, Known known);
    void change_before(const std::function<Result<void>(NamingHistory&)>& how);
    std::optional<Known> to_reckon(const Document& document) const;
};

}
