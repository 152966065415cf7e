#include "app/errands/stand_in.h"

#include "app/errands/painting.h"
#include "app/models/threads/pools.h"
#include "core/naming/file_name.h"
#include "core/saving/safe_file.h"

#include <QDir>

namespace yelvin {

StandInOutside::StandInOutside(const QString& folder, const Executor& elsewhere)
    : SystemOutside({folder + "/Sent", folder + "/Printed", folder + "/Copies"}, elsewhere), folder_(folder),
      elsewhere_(elsewhere), here_(on_thread_of(this)) {}

void StandInOutside::mail(const MailDraft& draft, Done done) {
    QDir().mkpath(folder_ + "/Sent");
    elsewhere_([this, draft, done = std::move(done)] {
        const std::string name = cleaned_name(draft.subject.empty() ? "E-mail" : draft.subject);
        const auto written = save_file(
            (folder_ + "/Sent").toStdString(), [&](int attempt) { return numbered_name(name, attempt) + ".eml"; },
            [&](const std::filesystem::path& growing) { return write_mail_draft(draft, growing); });
        here_([written, done] {
            if (!written) return done(std::unexpected(written.error()));
            done(tr("The simulated e-mail program wrote %1.").arg(QString::fromStdString(written->path.string())));
        });
    });
}

void StandInOutside::list_printers(Printers then) {
    here_([then = std::move(then)] {
        then(std::vector<PrinterSaid>{{"bench-printer", tr("Simulated printer"), {210, 297}, 4, true}});
    });
}

void StandInOutside::print(PrintJob job, Done done) {
    QDir().mkpath(folder_ + "/Printed");
    elsewhere_([this, job = std::move(job), done = std::move(done)] {
        const Result<QString> file = print_to_pdf(job, folder_ + "/Printed");
        here_([file, done] {
            if (!file) return done(file);
            done(tr("The simulated printer wrote %1.").arg(*file));
        });
    });
}

}
