#include "app/models/errands/mailing.h"

#include "app/models/errands/errands.h"
#include "app/models/saving/saving.h"
#include "core/naming/file_name.h"

#include <deque>
#include <numeric>

namespace yelvin {

namespace {

constexpr double mega = 1e6;

std::uintmax_t mail_limit(const Ticket& ticket) {
    return static_cast<std::uintmax_t>(ticket.then.mail.limit_mb * mega);
}

std::uintmax_t mail_bytes(const SavedFiles& saved) {
    std::uintmax_t bytes = 0;
    for (const std::uintmax_t size : saved.bytes) bytes += bytes_in_mail(size);
    return bytes;
}

MailDraft draft_of(const SavedFiles& saved, const std::vector<size_t>& files, size_t number, size_t of) {
    const MailHow& how = saved.ticket.then.mail;
    const auto made = [&](const std::vector<NamePart>& parts) { return make_name(parts, today(), 1); };
    MailDraft draft{how.to,
                    how.subject.empty() ? saved.title.toStdString() : made(how.subject),
                    how.words.empty() ? std::string() : made(how.words),
                    {}};
    if (of > 1) draft.subject += Errands::tr(" (%1 of %2)").arg(number).arg(of).toStdString();
    for (const size_t each : files) draft.files.emplace_back(saved.files[static_cast<qsizetype>(each)].toStdString());
    return draft;
}

}

bool Mailing::fits(const SavedFiles& saved) { return mail_bytes(saved) <= mail_limit(saved.ticket); }

std::vector<std::vector<size_t>> Mailing::parted(const SavedFiles& saved) {
    return parted_into_mails(saved.bytes, mail_limit(saved.ticket));
}

std::optional<int> Mailing::lower_dpi(const SavedFiles& saved, double dpi) {
    if (is_made_of_words(saved.ticket.make.format)) return std::nullopt;
    const auto bytes = static_cast<double>(mail_bytes(saved));
    const auto limit = static_cast<double>(mail_limit(saved.ticket));
    for (const int fewer : {300, 200, 150, 100, 75}) {
        const double share = fewer / dpi;
        constexpr double worth_it = 0.9;
        if (share < worth_it && bytes * share * share <= limit) return fewer;
    }
    return std::nullopt;
}

void Mailing::send(const SavedFiles& saved, Mails mails, const Outside::Done& done) {
    std::vector<std::vector<size_t>> groups = parted(saved);
    if (mails == Mails::One || saved.bytes.size() != static_cast<size_t>(saved.files.size())) {
        groups.assign(1, std::vector<size_t>(static_cast<size_t>(saved.files.size())));
        std::iota(groups.front().begin(), groups.front().end(), size_t{0});
    }
    std::deque<MailDraft> drafts;
    for (size_t i = 0; i < groups.size(); ++i) drafts.push_back(draft_of(saved, groups[i], i + 1, groups.size()));
    send_next(std::make_shared<std::deque<MailDraft>>(std::move(drafts)), done);
}

void Mailing::send_next(const std::shared_ptr<std::deque<MailDraft>>& drafts, const Outside::Done& done) {
    if (drafts->empty()) return done(QString());
    const MailDraft draft = std::move(drafts->front());
    drafts->pop_front();
    outside_.mail(draft, {&owner_, [this, drafts, done](const Result<QString>& given) {
                              if (!given || drafts->empty()) return done(given);
                              send_next(drafts, done);
                          }});
}

void Mailing::send_at_lower_dpi(const std::string& document_id, const SavedFiles& saved, int dpi,
                                const Outside::Done& done) {
    const Saving::Aside aside{saved.ticket, outside_.copies_folder().toStdString(), saved.title.toStdString(), dpi};
    saving_.make_aside(document_id, aside, [this, saved, dpi, done](const Result<std::vector<MadeFile>>& made) {
        if (!made) return done(std::unexpected(made.error()));
        SavedFiles smaller{{}, saved.ticket, saved.title};
        for (const MadeFile& file : *made) {
            smaller.files.append(QString::fromStdString(file.path.string()));
            smaller.bytes.push_back(file.bytes);
        }
        if (fits(smaller)) return send(smaller, Mails::One, done);
        done(fail(
            ErrorKind::BadInput,
            Errands::tr(
                "%1 exceeds your e-mail limit of %2 MB even at %3 dpi; click “e-mail” on its tab to choose what to do.")
                .arg(saved.title)
                .arg(saved.ticket.then.mail.limit_mb)
                .arg(dpi)
                .toStdString()));
    });
}

}
