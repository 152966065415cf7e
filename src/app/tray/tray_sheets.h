// The sheets of the out tray: selecting pages, and the actions for selected pages, for a document and for its file.
#pragma once

#include "app/models/groups.h"
#include "app/tray/tab_words.h"

#include <QObject>
#include <QRect>

class QWidget;

namespace yelvin {

class PhraseSheet;

// Anchors are in global coordinates.
class TraySheets : public QObject {
    Q_OBJECT
  public:
    TraySheets(const TrayModels& models, const TabWords& words, QWidget* parent);

    void open_choose(const QRect& anchor);
    // Opens the actions for the selected pages; `document` is that of the current page.
    void open_for_pages(const QString& document, const QRect& anchor);
    void open_names(const QString& document, const QRect& anchor); // opens the proposed names
    // Does what a word on the document's tab stands for; most open a sheet.
    void press(const QString& document, const TabWord& word, const QRect& anchor);

    // Opens what becomes of the document, or of all documents of the selected pages if it is among them.
    void open_ticket(const QString& document, const QRect& anchor);
    QStringList chosen_with(const QString& document) const; // these documents

  signals:
    void ticket_wanted(const QStringList& documents, const QRect& anchor);
    void rename_wanted(const QString& document);
    void stitch_wanted();   // the selected pages should be stitched
    void question_wanted(); // the card about a document should get the focus

  private:
    TrayModels models_;
    const TabWords& words_;
    QWidget* parent_;

    void add_file_rows(PhraseSheet& sheet, const QString& document, const QRect& anchor);
    void add_document_rows(PhraseSheet& sheet, const QString& document, const QRect& anchor);
    void add_joining_rows(PhraseSheet& sheet);
    void add_rows_of_one_page(PhraseSheet& sheet);
    void add_ticket_row(PhraseSheet& sheet, const QString& document, const QRect& anchor);
    void add_folder_rows(PhraseSheet& sheet, const QString& document);
    void add_waiting_rows(PhraseSheet& sheet, const QString& document); // none if it does not wait
    void open_folders(const QString& heading, const QString& document, const QRect& anchor);
    void open_growth(const QString& document, const QRect& anchor);
    void open_waits(const QString& document, const QRect& anchor);
    void open_mail(const std::string& document, const QRect& anchor);
    void add_to_file(const QString& document);
    void begin_errand(const QString& document, Errand errand, const QRect& anchor);
};

}
