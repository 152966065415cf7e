// A simulated e-mail program and printer, which write into a folder, so that every action can be tried. Used on the
// window's thread; files are written by the Executor.
#pragma once

#include "app/errands/system_outside.h"

namespace yelvin {

class StandInOutside : public SystemOutside {
    Q_OBJECT
  public:
    // Writes messages into `folder`/Sent and sheets into `folder`/Printed.
    StandInOutside(const QString& folder, const Executor& elsewhere);
    void mail(const MailDraft& draft, Done done) override;
    void list_printers(Printers then) override;
    void print(PrintJob job, Done done) override;

  private:
    QString folder_;
    Executor elsewhere_, here_;
};

}
