// What the papers in the tray say of themselves, and the names that follow from it and from what was saved before. All
// of it is worked out behind the window, once their pages were read.
#pragma once

#include "core/saving/paper_name.h"
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

    // Null: not read yet, or there is nothing to read.
    const PaperSays* says_of(const Document& document) const;
    NameValues values_of(const Document& document, const Ticket& ticket) const;
    std::vector<NameProposal> proposals_for(const Document& document) const; // up to three
    unsigned revision() const { return revision_; } // another one whenever something of this may be other
    bool is_reckoning() const { return under_way_ > 0 || settle_.isActive(); }
    // The words by which they are known; those of a person's file with them.
    std::shared_ptr<const PaperWords> words() const { return words_; }

    // What was saved before: learnt from, forgotten. Each ends with changed().
    void learn(const Document& document, const QString& file);
    void moved(const QString& from, const QString& to);
    void forget(const std::vector<long long>& ids);
    void forget_file(const QString& file); // it was taken back
    void forget_all();
    size_t remembered() const { return before_ ? before_->size() : 0; }

    // Where on a page something is said that is pointed at.
    struct Pointed {
        std::string page;
        std::vector<cv::Rect> dots; // of the page that was read
        SizePx read;                // its size
    };
    void point_at(const Document& document, const std::vector<PaperFact>& facts); // none: at nothing
    const std::vector<Pointed>& pointed() const { return pointed_; }

  signals:
    void changed();
    void pointing_changed();

  private:
    using Before = std::vector<SavedPaper>;
    struct Known {
        std::vector<PagePtr> pages; // the first, as they were
        std::vector<std::string> languages;
        size_t read = 0; // of them
        std::vector<std::shared_ptr<const TextLayer>> layers;
        PaperSays says;
        PaperLook look;
        std::vector<NameProposal> proposals;
    };
    Messages& messages_;
    OutTray& tray_;
    DocumentTickets& tickets_;
    Pools& pools_;
    std::filesystem::path file_;
    std::shared_ptr<const PaperWords> words_;
    std::shared_ptr<SavedBefore> store_; // on the keeping executor only
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
    void change_before(const std::function<Result<void>(SavedBefore&)>& how);
    std::optional<Known> to_reckon(const Document& document) const;
};

}
