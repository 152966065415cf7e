// The list of results, the best first: a thumbnail with the matches marked, the name, folder and date, and the excerpt.
#pragma once

#include "core/cabinet/finding.h"

#include <QListView>

namespace yelvin {

class CabinetSearch;

class ResultList : public QListView {
    Q_OBJECT
  public:
    ResultList(CabinetSearch& search, QWidget* parent);
    std::vector<long long> chosen() const; // ids of the selected documents, in the order of the list
    void step(int by);                     // goes to another result

  signals:
    void open_wanted();
    void put_away_wanted();
    void typed(const QString& letters); // letters typed here that belong to the entry

  protected:
    void keyPressEvent(QKeyEvent* event) override;
    void scrollContentsBy(int dx, int dy) override;

  private:
    class Papers;
    class Row;
    CabinetSearch& search_;
    Papers* papers_;
    bool following_ = false;
    // The state that the rows show.
    struct Shown {
        QString typed;
        SearchFilter narrowing;
        std::vector<long long> papers;
    };
    Shown shown_;
    void refresh();
};

}
