// Where the next scanned page lands: said before it is scanned, and changed by one press. Lasts over restarts.
#pragma once

#include <QObject>
#include <QString>

#include <functional>

namespace yelvin {

class DocumentNames;
class LastChoices;
class OutTray;

class NextPage : public QObject {
    Q_OBJECT
  public:
    NextPage(LastChoices& last, OutTray& tray, const DocumentNames& names, QObject* parent = nullptr);

    // "page 3 of Lease 014", "a new document"; the document's name as `shortened` gives it, where there is one.
    QString words(const std::function<QString(const QString& name)>& shortened = {}) const;
    QString advice() const; // what a press does
    bool can_change() const;
    void change(); // from a new document to the last one, or back

  private:
    LastChoices& last_;
    OutTray& tray_;
    const DocumentNames& names_;

    QString title_of_last() const;
    void keep();
    void restore();
};

}
