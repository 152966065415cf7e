#include "app/models/tray/kept_originals.h"

#include "app/models/tray/choice.h"
#include "app/models/tray/out_tray.h"
#include "app/models/window/last_choices.h"
#include "app/models/window/messages.h"

#include <algorithm>
#include <utility>

namespace yelvin {

namespace {

constexpr const char* days_kept_as = "originals are kept, days";
constexpr const char* bytes_kept_as = "originals are kept, bytes";

}

KeptOriginals::KeptOriginals(Messages& messages, LastChoices& last, OutTray& tray, Choice& choice, QObject* parent)
    : QObject(parent), messages_(messages), last_(last), tray_(tray), choice_(choice) {
    rule_.longest = std::chrono::days(std::max(0L, last_.get<long>(days_kept_as, rule_.longest.count())));
    rule_.most_bytes = last_.get<std::uint64_t>(bytes_kept_as, rule_.most_bytes);
    soon_.setSingleShot(true);
    soon_.setInterval(300);
    again_.setInterval(std::chrono::hours(1));
    again_.start();
    connect(&soon_, &QTimer::timeout, this, &KeptOriginals::look);
    connect(&again_, &QTimer::timeout, this, &KeptOriginals::look);
    connect(&tray_, &OutTray::loaded, this, &KeptOriginals::look);
    // A saved document may have been removed or restored.
    connect(&tray_, &OutTray::changed, &soon_, qOverload<>(&QTimer::start));
}

void KeptOriginals::look() {
    tray_.tell_kept(rule_, [this](const std::vector<KeptDocument>& kept) {
        kept_ = kept;
        emit changed();
    });
}

void KeptOriginals::set_rule(const KeepingRule& rule) {
    if (rule == rule_) return;
    rule_ = rule;
    last_.set(days_kept_as, rule_.longest.count());
    last_.set(bytes_kept_as, rule_.most_bytes);
    emit changed();
    look();
}

std::size_t KeptOriginals::would_go(const KeepingRule& rule) const {
    const auto now = std::chrono::floor<std::chrono::seconds>(std::chrono::system_clock::now());
    return static_cast<std::size_t>(std::ranges::count(expired_by_rule(kept_, rule, now), true));
}

std::uint64_t KeptOriginals::bytes() const {
    std::uint64_t sum = 0;
    for (const KeptDocument& each : kept_) sum += each.bytes;
    return sum;
}

bool KeptOriginals::take_back(const std::string& document_id, const std::filesystem::path& file, std::size_t pages) {
    if (document_id.empty() || !tray_.is_loaded()) return false;
    const QString name = QString::fromStdString(file.stem().string());
    const Tray& now = tray_.tray();
    if (const DocumentPtr there = document_at(now, document_id)) {
        messages_.tell(tr("%1 is already in the tray.").arg(name));
        choice_.set_current(QString::fromStdString(there->pages.front()->id));
        return true;
    }
    const auto kept =
        std::ranges::find_if(kept_, [&](const KeptDocument& each) { return each.document->id == document_id; });
    // If the file has a different number of pages by now, it is imported as an ordinary file instead.
    if (kept == kept_.end() || kept->document->kept_pages().size() != pages) return false;
    Document document = *kept->document;
    document.saved_as = file.string();
    document.name = file.stem().string();
    Tray with = now;
    with.documents.push_back(std::make_shared<const Document>(std::move(document)));
    if (!contradiction_in(with).empty()) return false; // Some of its pages are elsewhere in the tray.
    const QString first = QString::fromStdString(with.documents.back()->pages.front()->id);
    tray_.edit(with, tr("return %1").arg(name));
    messages_.tell(tr("%1 is back in the tray with its originals; you can correct its pages.").arg(name));
    choice_.set_current(first);
    return true;
}

}
