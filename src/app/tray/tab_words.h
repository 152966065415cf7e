// The words on a document's tab that can be clicked: what it waits for, proposed names, and the actions for its file
// with their outcomes.
#pragma once

#include "app/models/errands/errands.h"
#include "app/models/groups.h"
#include "core/naming/paper_name.h"
#include "core/tray/tray.h"

#include <QCoreApplication>
#include <QList>

namespace yelvin {

struct TabWord {
    enum class Is { Errand, Adds, Proposes, WaitsForFolder, WaitsForAnswer, Ticket, Grows } is = Is::Errand;
    QString words;
    ErrandState state = {}; // of Errand
    bool begun = false;     // whether the action was started
    int x = 0, width = 0;   // behind the tab's facts, px
    bool is_over() const;   // whether it ended, which a mark in front shows
};

class TabWords {
    Q_DECLARE_TR_FUNCTIONS(TabWords)

  public:
    static constexpr int between = 12, mark_width = 12; // px

    explicit TabWords(const TrayModels& models) : models_(models) {}

    // Returns the words of a document's tab. The current document's tab has all actions; others have only those that
    // run or failed.
    QList<TabWord> of(const QString& document_id) const;
    int width(const QString& document_id) const;
    // The actions that the user uses, and those that the ticket started; `why` is "-" if it was not started.
    QList<ErrandState> errands_on(const QString& document_id) const;
    std::vector<NameProposal> proposals_for(const QString& document_id) const; // other than its name
    // Returns the document if pages were added to it after they were saved into a PDF that exists; otherwise null.
    DocumentPtr growing(const QString& document_id) const;
    static QString growing_words(const Document& document);

  private:
    TrayModels models_;
    QString growth_words(const Document& document) const; // empty: it will be a new file
    QString ticket_words(const Document& document) const;
    bool contains_current(const Document& document) const;
};

}
