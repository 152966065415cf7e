// The bar below the text for finding words in the document.
#pragma once

#include <QWidget>

class QLabel;
class QLineEdit;

namespace yelvin {

class TextSearch;

class FindBar : public QWidget {
    Q_OBJECT
  public:
    FindBar(TextSearch& search, QWidget* parent);
    void begin(const QString& words); // `words`: the selected ones, to begin with

  signals:
    void closed();

  protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    TextSearch& search_;
    QLineEdit* entry_;
    QLabel* count_;
    void say();
};

}
