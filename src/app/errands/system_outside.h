// Outside, implemented by the desktop's programs, file manager, e-mail program and printers. Used on the window's
// thread; programs are started and printers are asked in the Executor.
#pragma once

#include "app/models/errands/outside.h"
#include "jobs/executor.h"

#include <QDBusConnection>
#include <QObject>

namespace yelvin {

class SystemOutside : public QObject, public Outside {
    Q_OBJECT
  public:
    // `drafts`: folder for messages that no e-mail program takes; `pdfs`: folder for pages if there is no printer;
    // `copies`: folder for files that are only given away.
    struct Folders {
        QString drafts, pdfs, copies;
    };
    SystemOutside(Folders folders, Executor elsewhere, const QDBusConnection& bus = QDBusConnection::sessionBus());
    ~SystemOutside() override;

    void open(const std::string& program, const QStringList& files, Done done) override;
    void show(const QStringList& files, Done done) override;
    // Uses the desktop's portal, otherwise xdg-email, otherwise opens a draft.
    void mail(const MailDraft& draft, Done done) override;
    void list_printers(Printers then) override;
    // Without a printer, prints into a PDF and says so.
    void print(PrintJob job, Done done) override;
    void list_programs(const std::string& mime, Programs then) override;
    QString copies_folder() const override { return folders_.copies; }

  private:
    Folders folders_;
    QDBusConnection bus_;
    Executor elsewhere_, here_;

    void show_folder(const QString& folder, const Done& done);
    void mail_by_program(const MailDraft& draft, const Done& done);
    void open_draft(const MailDraft& draft, const Done& done);
    void start_all(const std::string& name, std::vector<std::vector<std::string>> commands, const Done& done);
};

}
