// The papers that were found, the best first: a small picture with the words marked on it, the name, where and when,
// and the line around the words.
#pragma once

#include "core/cabinet/finding.h"

#include <QListView>

namespace yelvin {

class CabinetSearch;

class ResultList : public QListView {
    Q_OBJECT
  public:
    ResultList(CabinetSearch& search, QWidget* parent);
    std::vector<long long> chosen() const; // the papers' ids, in the order of the list
    void step(int by);                     // to another paper

  signals:
    void open_wanted();
    void put_away_wanted();
    void typed(const QString& letters); // they are meant for the entry

  protected:
    void keyPressEvent(QKeyEvent* event) override;
    void scrollContentsBy(int dx, int dy) override;

  private:
    class Papers;
    class Row;
    CabinetSearch& search_;
    Papers* papers_;
    bool following_ = false;
    // What the rows were about when they were last shown.
    struct Shown {
        QString typed;
        Narrowing narrowing;
        std::vector<long long> papers;
    };
    Shown shown_;
    void refresh();
};

}
