// The entry for a document's name on its tab. Esc cancels; Enter and a click elsewhere take the name.
#pragma once

#include <QKeyEvent>
#include <QLineEdit>

namespace yelvin {

class NameEntry : public QLineEdit {
    Q_OBJECT
  public:
    NameEntry(const QString& name, QWidget* parent) : QLineEdit(name, parent) {
        setObjectName("rename");
        setProperty("own_escape", true); // see Application
        selectAll();
    }

  signals:
    void given_up();

  protected:
    void keyPressEvent(QKeyEvent* event) override {
        if (event->key() == Qt::Key_Escape) return emit given_up();
        QLineEdit::keyPressEvent(event);
    }
};

}
