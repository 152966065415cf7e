// The text of the tray's pages as it stands now, and what a person says about it. Each of those is a step that can be
// undone.
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

// A page's text with its words numbered in the order of reading.
struct ShownText {
    PagePtr page;
    PageText text;
    std::vector<WordPlace> words;
    std::vector<size_t> doubtful; // of them; none in paragraphs that are left out

    const Word& word(size_t at) const { return text.at(words[at]); }
    std::vector<std::string> said; // by word: without a hyphen that only the line's end put there
};
using ShownTextPtr = std::shared_ptr<const ShownText>;

class PageTexts : public QObject {
    Q_OBJECT
  public:
    PageTexts(Messages& messages, OutTray& tray, DocumentTickets& tickets, Reading& reading, Looking& looking,
              Pools& pools, QObject* parent = nullptr);

    // Null: it was not read in the languages that it is to be read in, or has gone. A millisecond or two the first
    // time.
    ShownTextPtr of(const QString& page_id);
    int doubtful_left(const Document& document); // about as many, where a page has not been shown yet
    bool may_be_doubtful(const Page& page) const;

    // Words by their numbers. Ends with changed(), as the next.
    void put_right(const QString& page_id, size_t word, const QString& is); // the same as now: it is right
    void say_kind(const QString& page_id, size_t paragraph, ParagraphKind kind);
    void leave_out(const QString& page_id, size_t paragraph, bool out);
    void move_paragraph(const QString& page_id, size_t from, size_t to);
    void read_paragraph(const QString& page_id, size_t paragraph, const std::string& language); // in the background
    bool reads_paragraph() const { return paragraphs_under_way_ > 0; }

    // The whole page, in the background, which is later; None: as its ticket says.
    enum class Corrections { Keep, GiveUp };
    void read_again(const QString& page_id, const std::vector<std::string>& languages, Corrections corrections);

  signals:
    void changed(const QString& page_id); // its text

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
    int paragraphs_under_way_ = 0;

    void say(const PagePtr& page, TextEdits text, const QString& step);
    void forget_oldest();
    void follow_tray();
};

}
