// A mail program and a printer that are not there: they write into a folder, so that every errand can be tried.
#pragma once

#include "app/errands/system_outside.h"

namespace yelvin {

class StandInOutside : public SystemOutside {
    Q_OBJECT
  public:
    // Messages into `folder`/Sent, sheets into `folder`/Printed.
    StandInOutside(const QString& folder, const Executor& elsewhere);
    void mail(const MailDraft& draft, Done done) override;
    void list_printers(Printers then) override;
    void print(PrintJob job, Done done) override;

  private:
    QString folder_;
    Executor elsewhere_, here_;
};

}
