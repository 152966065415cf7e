// Where the next scanned page lands: shown before scanning, changed by one press, kept over restarts. Lives on the
// window's thread.
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

    // Returns "page 3 of Lease 014" or "a new document". `shortened` may shorten the document's name.
    QString words(const std::function<QString(const QString& name)>& shortened = {}) const;
    QString advice() const; // what change() would do
    bool can_change() const;
    void change(); // switches between a new document and the last one

  private:
    LastChoices& last_;
    OutTray& tray_;
    const DocumentNames& names_;

    QString title_of_last() const;
    void keep();
    void restore();
};

}
