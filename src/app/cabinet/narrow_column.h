// The column of filters: months, folders, senders and tickets of the results, each with its number of documents.
// Clicking one shows only those, clicking it again shows all.
#pragma once

#include <QAbstractButton>
#include <QWidget>

class QVBoxLayout;

namespace yelvin {

class CabinetSearch;

// A filter value and its count.
class CountRow : public QAbstractButton {
    Q_OBJECT
  public:
    CountRow(const QString& words, int count, QWidget* parent);
    QSize sizeHint() const override;

  protected:
    void paintEvent(QPaintEvent*) override;
    void keyPressEvent(QKeyEvent* event) override;

  private:
    int count_;
};

class NarrowColumn : public QWidget {
    Q_OBJECT
  public:
    NarrowColumn(CabinetSearch& search, QWidget* parent);

  private:
    CabinetSearch& search_;
    QVBoxLayout* rows_;
    bool all_months_ = false, all_folders_ = false, all_senders_ = false, all_tickets_ = false;
    void refresh();
    struct Entry {
        QString what, words, tip; // `what`: an identifier that does not depend on the language
        int count = 0;
        bool chosen = false;
        std::function<void()> press;
    };
    void section(const char* name, const QString& title, std::vector<Entry> entries, bool& all);
};

}
