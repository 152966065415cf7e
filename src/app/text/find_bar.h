// The line under the text that finds words in the document.
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
    void begin(const QString& words); // what is chosen, to begin with

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
