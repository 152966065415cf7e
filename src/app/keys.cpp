#include "app/keys.h"

#include <QStringList>

#include <algorithm>

namespace yelvin {

namespace {

constexpr auto part = Key::Reach::Part;

constexpr Key table[] = {
    {Do::Scan, "Ctrl+Enter Ctrl+Return", "scan; go on with a run that waits"},
    {Do::Preview, "Ctrl+L", "preview the glass; from the feeder, try the first sheet"},
    {Do::Stop, "Esc", "stop what is running; end a run that waits; else leave the current tool"},
    {Do::LookAtGlass, "Alt+1", "Glass"},
    {Do::LookAtPage, "Alt+2", "Page"},
    {Do::LookAtText, "Alt+3", "Text"},
    {Do::LookAtStrip, "Alt+4", "Test strip"},
    {Do::FindPapers, "Ctrl+F", "the cabinet: find papers by what they say"},
    {Do::InCabinet, "Up Down PageUp PageDown Left Right Enter Delete",
     "in the cabinet: another paper; the match before, the next one (from the list: Left and Right); open it; put it "
     "away",
     part},
    {Do::ShowTickets, "Ctrl+T", "the tickets"},
    {Do::KeepTicketAs, "Ctrl+Shift+T", "save the choices as another ticket"},
    {Do::ScanWithTicket, "Ctrl+1 Ctrl+2 Ctrl+3 Ctrl+4 Ctrl+5", "scan with the ticket of that button"},
    {Do::OnTheGlass, "arrows Space D 1–9",
     "on the glass: nudge the chosen frame (Shift: 5 mm, Ctrl: 0.1 mm), choose the next, double it, give it that "
     "number",
     part},
    {Do::FoldSide, "F7", "fold the side column away, or back"},
    {Do::TrayRest, "F8", "the out tray slim, or with its pages"},
    {Do::OnlyView, "F11", "only the view; Esc brings the rest back"},
    {Do::NextRegion, "F6", "next region of the window; Tab walks inside it"},
    {Do::RegionBefore, "Shift+F6", "the region before"},
    {Do::TurnLeft, "[", "quarter turn left, of the page or the chosen frame"},
    {Do::TurnRight, "]", "quarter turn right"},
    {Do::TiltLeft, "Alt+,", "tilt to the left by a tenth of a degree"},
    {Do::TiltRight, "Alt+.", "tilt to the right"},
    {Do::Crop, "C", "cut the page by its corner mounts", part},
    {Do::Flatten, "F", "flatten a photographed page by its corners", part},
    {Do::AtTheCorners, "arrows Space",
     "while flattening: move the chosen corner by a millimetre (Shift: 5 mm, Ctrl: 0.1 mm), choose the next", part},
    {Do::HoldOriginal, "B", "while held: the page as it was scanned", part},
    {Do::HoldLoupe, "L", "while held: a loupe", part},
    {Do::FitPage, "0", "the whole page", part},
    {Do::FitWidth, "W", "as wide as the view", part},
    {Do::TwoPages, "2", "two pages beside each other, where there is room", part},
    {Do::DotByDot, "1", "actual pixels", part},
    {Do::Rulers, "R", "rulers", part},
    {Do::Grid, "G", "a grid", part},
    {Do::NextDoubtful, "Tab Enter",
     "in the text: the next doubtful word; it is right, or is what was typed (Up and Down: the word before or behind)",
     part},
    {Do::CopyWords, "Ctrl+C", "copy the chosen words (Ctrl+A: all of the page; Shift and the arrows: more)", part},
    {Do::MoveParagraph, "Alt+Up Alt+Down", "in the text: the chosen word's paragraph is read earlier, or later", part},
    {Do::SayOfParagraph, "Shift+F10", "in the text: leave that paragraph out, say what it is, read it again", part},
    {Do::FindInText, "Ctrl+Shift+F", "find words in the text of the document"},
    {Do::ReadAloud, "Ctrl+Shift+R", "read the text aloud from the chosen word on, or stop"},
    {Do::Divide, "Ctrl+D",
     "start a new document at this page, or join it to the one before; behind the last page: where the next one lands"},
    {Do::NextStarts, "Ctrl+Shift+D", "the next page begins a document, or goes on in the last one"},
    {Do::Rename, "F2", "rename the document; a saved one with its file"},
    {Do::ProposedNames, "Shift+F2", "the names that are proposed for the document"},
    {Do::Remove, "Delete", "remove the chosen pages", part},
    {Do::ChooseAll, "Ctrl+A", "choose all pages"},
    {Do::ChooseOthers, "Ctrl+I", "choose those that are not"},
    {Do::InTheTray, "Shift+arrows Space", "in the tray: choose several pages", part},
    {Do::MovePageBack, "Alt+Left", "move the chosen pages back"},
    {Do::MovePageOn, "Alt+Right", "move them on"},
    {Do::Stitch, "Ctrl+G", "stitch the chosen pages"},
    {Do::Undo, "Ctrl+Z", "undo"},
    {Do::Redo, "Ctrl+Shift+Z", "redo"},
    {Do::AddFiles, "Ctrl+O", "add picture files and PDFs"},
    {Do::Save, "Ctrl+S", "save this document"},
    {Do::SaveAll, "Ctrl+Shift+S", "save all"},
};

// Without the second name of the same key.
QString shown(const Key& key) { return QString::fromUtf8(key.keys).remove(" Ctrl+Return").replace(' ', ", "); }

}

std::span<const Key> all_keys() { return table; }

const Key& key_of(Do what) { return *std::ranges::find(table, what, &Key::what); }

QString with_key(const QString& words, Do what) { return QString("%1 (%2)").arg(words, shown(key_of(what))); }

QString keys_as_markdown() {
    QStringList lines{"| keys | do |", "|---|---|"};
    for (const Key& key : table) lines.append(QString("| %1 | %2 |").arg(shown(key), QString::fromUtf8(key.says)));
    return lines.join('\n') + '\n';
}

}
