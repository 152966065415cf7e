// The actions for the selected documents, under the picture.
#pragma once

#include "app/models/errands/outside.h"

#include <QStringList>
#include <QWidget>

#include <vector>

class QHBoxLayout;
class QPushButton;

namespace yelvin {

class CabinetKeeper;
class CabinetSearch;
class Errands;
class Incoming;
class KeptOriginals;
class Messages;
class ResultList;
struct SearchResult;

struct CabinetModels {
    CabinetKeeper& keeper;
    CabinetSearch& search;
    Messages& messages;
    Errands& errands;
    Incoming& files;
    KeptOriginals& originals;
};

class PaperActions : public QWidget {
    Q_OBJECT
  public:
    PaperActions(const CabinetModels& models, ResultList& results, QWidget* parent);
    void refresh();
    void open_chosen();
    void put_away_chosen();
    void rename_current();

  signals:
    void taken_back(); // a document was returned to the tray

  private:
    CabinetModels models_;
    ResultList& results_;
    QPushButton *open_, *show_, *back_, *rename_, *move_, *mail_, *searchable_, *away_;

    QPushButton* link(QHBoxLayout* row, const QString& words, const char* name, const QString& tip);
    std::vector<const SearchResult*> chosen() const; // the selected documents whose files exist
    QStringList chosen_files() const;
    QStringList chosen_pictures() const; // the selected PDFs that were added, which may have no text
    Outside::Done complain();            // returns a callback that reports a failure
    void show_chosen();
    void take_back_chosen();
    void mail_chosen();
    void move_chosen();
    void make_searchable();
};

}
