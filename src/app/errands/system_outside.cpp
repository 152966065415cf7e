#include "app/errands/system_outside.h"

#include "app/errands/painting.h"
#include "app/errands/portal_mail.h"
#include "app/errands/started.h"
#include "app/models/threads/pools.h"
#include "core/errands/programs.h"
#include "core/naming/file_name.h"
#include "core/private_files.h"
#include "core/saving/safe_file.h"

#include <QDBusConnection>
#include <QDBusMessage>
#include <QDBusPendingCallWatcher>
#include <QDir>
#include <QFileInfo>
#include <QPrinter>
#include <QPrinterInfo>
#include <QTimer>
#include <QUrl>

namespace yelvin {

namespace {

constexpr std::chrono::milliseconds to_fall{1500}, to_hand_over{20'000};

std::vector<std::filesystem::path> paths_of(const QStringList& files) {
    std::vector<std::filesystem::path> paths;
    for (const QString& file : files) paths.emplace_back(file.toStdString());
    return paths;
}

}

SystemOutside::SystemOutside(Folders folders, Executor elsewhere, const QDBusConnection& bus)
    : folders_(std::move(folders)), bus_(bus), elsewhere_(std::move(elsewhere)), here_(on_thread_of(this)) {}

SystemOutside::~SystemOutside() = default;

void SystemOutside::start_all(const std::string& name, std::vector<std::vector<std::string>> commands,
                              const Done& done) {
    if (commands.empty()) return done(QString());
    const std::vector<std::string> command = std::move(commands.front());
    commands.erase(commands.begin());
    Started::begin(
        command, to_fall,
        [this, name, commands, done](int status) {
            if (status == 0) return start_all(name, commands, done);
            done(fail(ErrorKind::Missing,
                      tr("%1 did not start or closed at once, so the file was not opened; choose another program.")
                          .arg(QString::fromStdString(name))
                          .toStdString()));
        },
        this);
}

void SystemOutside::open(const std::string& program, const QStringList& files, Done done) {
    elsewhere_([this, program, files, done = std::move(done)] { // the desktop's list is on the disk
        const auto with =
            program.empty() ? usual_program(mime_type_of(files.front().toStdString())) : program_named(program);
        here_([this, program, files, with, done] {
            if (with) return start_all(with->name, commands_of(*with, paths_of(files)), done);
            const QString ending = QFileInfo(files.front()).suffix().toUpper();
            done(fail(
                ErrorKind::Missing,
                (program.empty()
                     ? tr("No program was found that opens %1 files; choose or install one.").arg(ending)
                     : tr("The program %1 was not found; choose another one.").arg(QString::fromStdString(program)))
                    .toStdString()));
        });
    });
}

void SystemOutside::list_programs(const std::string& mime, Programs then) {
    elsewhere_(
        [this, mime, then = std::move(then)] { here_([then, programs = programs_for(mime)] { then(programs); }); });
}

void SystemOutside::show(const QStringList& files, Done done) {
    QStringList uris;
    for (const QString& file : files) uris.append(QUrl::fromLocalFile(file).toString(QUrl::FullyEncoded));
    QDBusMessage call = QDBusMessage::createMethodCall("org.freedesktop.FileManager1", "/org/freedesktop/FileManager1",
                                                       "org.freedesktop.FileManager1", "ShowItems");
    call.setArguments({uris, QString()});
    const QString folder = QFileInfo(files.front()).absolutePath();
    if (!bus_.isConnected()) return show_folder(folder, done);
    constexpr int patience_ms = 8000;
    auto* answer = new QDBusPendingCallWatcher(bus_.asyncCall(call, patience_ms), this);
    connect(answer, &QDBusPendingCallWatcher::finished, this, [this, answer, folder, done] {
        answer->deleteLater();
        if (!answer->isError()) return done(QString());
        show_folder(folder, done);
    });
}

// If the file cannot be selected, its folder is opened.
void SystemOutside::show_folder(const QString& folder, const Done& done) {
    if (const auto manager = program_made_for("inode/directory"))
        return start_all(manager->name, commands_of(*manager, {folder.toStdString()}), done);
    QTimer::singleShot(0, this, [folder, done] {
        done(fail(ErrorKind::Missing, tr("No file manager was found. The file is in %1.").arg(folder).toStdString()));
    });
}

void SystemOutside::mail(const MailDraft& draft, Done done) {
    compose_by_portal(draft, bus_, this, [this, draft, done](PortalSaid said) {
        if (said == PortalSaid::Composed) return done(QString());
        if (said == PortalSaid::GivenUp)
            return done(fail(ErrorKind::Stopped, tr("The e-mail was cancelled; the file is saved.").toStdString()));
        if (said == PortalSaid::FileGone)
            return done(
                fail(ErrorKind::Missing,
                     tr("A file of the e-mail “%1” cannot be read, so no e-mail was created; save the document again.")
                         .arg(QString::fromStdString(draft.subject))
                         .toStdString()));
        mail_by_program(draft, done);
    });
}

void SystemOutside::mail_by_program(const MailDraft& draft, const Done& done) {
    Started::begin(
        xdg_email_command(draft), to_hand_over,
        [this, draft, done](int status) {
            if (status == 0) return done(QString());
            open_draft(draft, done);
        },
        this);
}

void SystemOutside::open_draft(const MailDraft& draft, const Done& done) {
    elsewhere_([this, draft, done] {
        make_private_folder(folders_.drafts.toStdString());
        const std::string name = cleaned_name(draft.subject.empty() ? "E-mail" : draft.subject);
        const auto written = save_file(
            folders_.drafts.toStdString(), [&](int attempt) { return numbered_name(name, attempt) + ".eml"; },
            [&](const std::filesystem::path& growing) {
                make_private_file(growing); // The draft is readable by this user only until an e-mail program takes it.
                return write_mail_draft(draft, growing);
            });
        here_([this, written, done] {
            if (!written) return done(std::unexpected(written.error()));
            const auto program = program_made_for("message/rfc822");
            const QString file = QString::fromStdString(written->path.string());
            const auto kept = [file](const Result<QString>& how) -> Result<QString> {
                if (how) return how;
                return fail(ErrorKind::Missing,
                            tr("No e-mail program could open the message. It was saved as %1; open it "
                               "with an e-mail program, or install one.")
                                .arg(file)
                                .toStdString());
            };
            if (!program) return done(kept(std::unexpected(Error{})));
            start_all(program->name, commands_of(*program, {written->path}),
                      {this, [kept, done](const Result<QString>& how) { done(kept(how)); }});
        });
    });
}

void SystemOutside::list_printers(Printers then) {
    elsewhere_([this, then = std::move(then)] {
        std::vector<PrinterSaid> printers;
        for (const QPrinterInfo& each : QPrinterInfo::availablePrinters()) {
            const QSizeF sheet = each.defaultPageSize().size(QPageSize::Millimeter);
            const QString words = each.description().isEmpty() ? each.printerName() : each.description();
            printers.push_back({each.printerName(), words,
                                sheet.isEmpty() ? SizeMm{210, 297} : SizeMm{sheet.width(), sheet.height()}, 4,
                                each.isDefault()});
        }
        std::ranges::stable_sort(printers, std::ranges::greater{}, &PrinterSaid::usual);
        here_([then, printers] { then(printers); });
    });
}

void SystemOutside::print(PrintJob job, Done done) {
    elsewhere_([this, job = std::move(job), done = std::move(done)] {
        const QString wanted = QString::fromStdString(job.how.printer);
        const QPrinterInfo usual = QPrinterInfo::defaultPrinter(),
                           info = wanted.isEmpty() ? usual : QPrinterInfo::printerInfo(wanted);
        Result<QString> how = QString();
        if (!wanted.isEmpty() && info.isNull()) {
            how = fail(ErrorKind::Missing,
                       tr("The printer %1 was not found; choose another one.").arg(wanted).toStdString());
        } else if (info.isNull()) {
            how = print_to_pdf(job, folders_.pdfs);
            if (how) how = tr("No printer was found; the document was printed to the file %1.").arg(*how);
        } else {
            QPrinter printer(info, QPrinter::HighResolution);
            if (auto painted = paint_sheets(printer, job); !painted) how = std::unexpected(painted.error());
        }
        here_([how, done] { done(how); });
    });
}

}
