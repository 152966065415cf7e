#include "core/cabinet/cabinet_updater.h"

#include "core/cabinet/file_moves.h"

namespace fs = std::filesystem;

namespace yelvin {

Result<CabinetUpdater::Outcome> CabinetUpdater::take(const fs::path& file, const fs::path& taken_from) {
    const auto known = cabinet_.paper_at(file);
    if (!known) return std::unexpected(known.error());
    return *known ? update(**known) : add(file, taken_from);
}

Result<CabinetUpdater::Outcome> CabinetUpdater::add(const fs::path& file, const fs::path& taken_from) {
    const auto mark = mark_of(file);
    if (!mark) return std::unexpected(mark.error());
    const auto moved = came_from_elsewhere(file, *mark);
    if (!moved) return std::unexpected(moved.error());
    if (*moved) return Outcome::Moved;
    if (auto improved = improve(file); !improved) return std::unexpected(improved.error());
    auto paper = paper_of_file(file, words_, read_, stop_);
    if (!paper) return std::unexpected(paper.error());
    paper->taken_from = taken_from.string();
    const auto added = cabinet_.add_unless_known(*paper);
    if (!added) return std::unexpected(added.error());
    return *added ? Outcome::Added : Outcome::KnownAlready;
}

// Reads a known file again if its contents have changed, or if it can gain text.
Result<CabinetUpdater::Outcome> CabinetUpdater::update(const CabinetPaper& known) {
    const auto now = quick_mark_of(known.file);
    if (!now) return std::unexpected(now.error());
    const bool can_be_read = read_ && known.text_state == TextState::Missing;
    if (same_quick_mark(known.mark, *now) && !can_be_read && !can_improve(known.file))
        return known.place == Place::Here ? Outcome::KnownAlready : confirm(known, known.mark);
    if (auto improved = improve(known.file); !improved) return std::unexpected(improved.error());
    const auto mark = mark_of(known.file);
    if (!mark) return std::unexpected(mark.error());
    if (known.mark.contents == mark->contents && !can_be_read) return confirm(known, *mark);
    auto paper = paper_of_file(known.file, words_, read_, stop_);
    if (!paper) return std::unexpected(paper.error());
    // The choices that the document was saved with are kept.
    paper->ticket = known.ticket;
    paper->document = known.document;
    paper->taken_from = known.taken_from;
    if (!known.ticket.empty()) paper->saved = known.saved;
    const auto added = cabinet_.add(*paper);
    if (!added) return std::unexpected(added.error());
    return Outcome::ReadAgain;
}

Result<CabinetUpdater::Outcome> CabinetUpdater::confirm(const CabinetPaper& known, const FileMark& mark) {
    if (auto confirmed = cabinet_.found_at_place(known.id, mark, Place::Here); !confirmed)
        return std::unexpected(confirmed.error());
    return Outcome::KnownAlready;
}

// Whether a known file with the same contents is missing. Then its entry gets the new place.
Result<bool> CabinetUpdater::came_from_elsewhere(const fs::path& file, const FileMark& mark) {
    const auto same = cabinet_.with_contents(mark.contents);
    if (!same) return std::unexpected(same.error());
    for (const CabinetPaper& paper : *same) {
        if (paper.file == file || quick_mark_of(paper.file) || !may_have_moved(paper.file, file)) continue;
        if (auto moved = cabinet_.moved(paper.id, file, mark); !moved) return std::unexpected(moved.error());
        return true;
    }
    return false;
}

bool CabinetUpdater::can_improve(const fs::path& file) const { return improve_ && is_pdf_file(file); }

// Adds text to a PDF if that is wanted. Its failure is noted and does not keep the file from being added. Errors:
// Stopped.
Result<void> CabinetUpdater::improve(const fs::path& file) {
    if (!can_improve(file)) return {};
    const auto improved = improve_(file);
    if (improved) return {};
    if (improved.error().kind == ErrorKind::Stopped) return std::unexpected(improved.error());
    left_as_they_are_.push_back(improved.error());
    return {};
}

}
