// What stands on a document's tab behind its facts, each a word to press: what waits, names that are proposed, what can
// be done with its file and how that went.
#pragma once

#include "app/models/errands.h"
#include "app/models/groups.h"
#include "core/saving/paper_name.h"
#include "core/tray/tray.h"

#include <QCoreApplication>
#include <QList>

namespace yelvin {

struct TabWord {
    enum class Is { Errand, Adds, Proposes, WaitsForFolder, WaitsForAnswer, Ticket, Grows } is = Is::Errand;
    QString words;
    ErrandState state = {}; // of Errand …
    bool begun = false;     // … that was begun
    int x = 0, width = 0;   // behind the tab's facts, px
    bool is_over() const;   // with a mark in front
};

class TabWords {
    Q_DECLARE_TR_FUNCTIONS(TabWords)

  public:
    static constexpr int between = 12, mark_width = 12; // px

    explicit TabWords(const TrayModels& models) : models_(models) {}

    // What can be done with its file stands on the tab of the document that is looked at alone; on others only what is
    // under way or failed.
    QList<TabWord> of(const QString& document_id) const;
    int width(const QString& document_id) const;
    // Those that the person uses, and those that the ticket began; `why` of "-": it was not begun.
    QList<ErrandState> errands_on(const QString& document_id) const;
    std::vector<NameProposal> proposals_for(const QString& document_id) const; // other than its name
    // Returns the document if pages were added to it after they were saved into a PDF that exists; otherwise null.
    DocumentPtr growing(const QString& document_id) const;
    static QString growing_words(const Document& document);

  private:
    TrayModels models_;
    QString growth_words(const Document& document) const; // empty: it will be a file of its own
    QString ticket_words(const Document& document) const;
    bool contains_current(const Document& document) const;
};

}
