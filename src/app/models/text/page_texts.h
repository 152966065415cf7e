// The text of the tray's pages with the user's corrections. Each correction is an undo step. Lives on the window's
// thread.
#pragma once

#include "core/tray/tray.h"
#include "jobs/executor.h"

#include <QHash>
#include <QObject>
#include <QStringList>

#include <memory>
#include <stop_token>

namespace yelvin {

class DocumentTickets;
class Looking;
class Messages;
class OutTray;
class Pools;
class Reading;

// A page's text with its words numbered in reading order. Immutable and shared.
struct ShownText {
    PagePtr page;
    PageText text;
    std::vector<WordPlace> words;
    std::vector<size_t> doubtful; // numbers of doubtful words, without those in paragraphs that are left out

    const Word& word(size_t at) const { return text.at(words[at]); }
    std::vector<std::string> said; // each word as it is read aloud, without a hyphen of the line's end
};
using ShownTextPtr = std::shared_ptr<const ShownText>;

class PageTexts : public QObject {
    Q_OBJECT
  public:
    PageTexts(Messages& messages, OutTray& tray, DocumentTickets& tickets, Reading& reading, Looking& looking,
              Pools& pools, QObject* parent = nullptr);

    // Returns the text, or null if the page is gone or was not read in its languages. Takes a millisecond or two the
    // first time.
    ShownTextPtr of(const QString& page_id);
    int doubtful_left(const Document& document); // an estimate for pages that were not shown yet
    bool may_be_doubtful(const Page& page) const;

    // Corrections of words, by their numbers, and of paragraphs. Each emits changed().
    void put_right(const QString& page_id, size_t word, const QString& is); // the word as it is: confirms it
    void say_kind(const QString& page_id, size_t paragraph, ParagraphKind kind);
    void leave_out(const QString& page_id, size_t paragraph, bool out);
    void move_paragraph(const QString& page_id, size_t from, size_t to);
    void read_paragraph(const QString& page_id, size_t paragraph, const std::string& language); // in the background

    // Reads the whole page again in the background; without languages, in those of its ticket.
    enum class Corrections { Keep, GiveUp };
    void read_again(const QString& page_id, const std::vector<std::string>& languages, Corrections corrections);

  signals:
    void changed(const QString& page_id); // the text of this page changed

  private:
    struct Kept {
        Recipe recipe;
        std::string languages;
        std::optional<TextLayer> read;
        ShownTextPtr shown;
        quint64 used = 0;
    };
    Messages& messages_;
    OutTray& tray_;
    DocumentTickets& tickets_;
    Reading& reading_;
    Looking& looking_;
    Executor background_, here_;
    std::stop_token stop_;
    QHash<QString, Kept> kept_;
    quint64 uses_ = 0;

    void say(const PagePtr& page, TextEdits text, const QString& step);
    void forget_oldest();
    void follow_tray();
};

}
