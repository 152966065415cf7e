#include "app/keys.h"

#include <QStringList>

#include <algorithm>

namespace yelvin {

namespace {

constexpr auto part = Key::Reach::Part;

constexpr Key table[] = {
    {Do::Scan, "Ctrl+Enter Ctrl+Return", "scan; go on with a waiting scan"},
    {Do::Preview, "Ctrl+L", "preview the glass; from the feeder, try the first sheet"},
    {Do::Stop, "Esc", "stop what is running; end a waiting scan; otherwise close the current tool"},
    {Do::LookAtGlass, "Alt+1", "Glass"},
    {Do::LookAtPage, "Alt+2", "Page"},
    {Do::LookAtText, "Alt+3", "Text"},
    {Do::LookAtStrip, "Alt+4", "Test strip"},
    {Do::FindPapers, "Ctrl+F", "the cabinet: find documents by their text"},
    {Do::InCabinet, "Up Down PageUp PageDown Left Right Enter Delete",
     "in the cabinet: another document; previous or next match (in the list: Left and Right); open it; remove it",
     part},
    {Do::ShowTickets, "Ctrl+T", "tickets"},
    {Do::KeepTicketAs, "Ctrl+Shift+T", "save the choices as a new ticket"},
    {Do::ScanWithTicket, "Ctrl+1 Ctrl+2 Ctrl+3 Ctrl+4 Ctrl+5", "scan with the ticket of that button"},
    {Do::OnTheGlass, "arrows Space D 1–9",
     "on the glass: move the selected frame (Shift: 5 mm, Ctrl: 0.1 mm), select the next, duplicate it, number it",
     part},
    {Do::FoldSide, "F7", "hide or show the side column"},
    {Do::TrayRest, "F8", "out tray slim or full"},
    {Do::OnlyView, "F11", "only the view; Esc shows everything"},
    {Do::NextRegion, "F6", "next region of the window; Tab moves within it"},
    {Do::RegionBefore, "Shift+F6", "previous region"},
    {Do::TurnLeft, "[", "quarter turn left, of the page or the selected frame"},
    {Do::TurnRight, "]", "quarter turn right"},
    {Do::TiltLeft, "Alt+,", "tilt left by 0.1°"},
    {Do::TiltRight, "Alt+.", "tilt right by 0.1°"},
    {Do::Crop, "C", "crop the page", part},
    {Do::Flatten, "F", "flatten a photographed page by its corners", part},
    {Do::AtTheCorners, "arrows Space",
     "while flattening: move the selected corner by 1 mm (Shift: 5 mm, Ctrl: 0.1 mm), select the next", part},
    {Do::HoldOriginal, "B", "while held: the page as scanned", part},
    {Do::HoldLoupe, "L", "while held: a loupe", part},
    {Do::FitPage, "0", "the whole page", part},
    {Do::FitWidth, "W", "as wide as the view", part},
    {Do::TwoPages, "2", "two pages side by side, if there is room", part},
    {Do::ActualPixels, "1", "actual pixels", part},
    {Do::Rulers, "R", "rulers", part},
    {Do::Grid, "G", "a grid", part},
    {Do::NextDoubtful, "Tab Enter",
     "in the text: next doubtful word; accept it or what you typed (Up, Down: previous, next word)", part},
    {Do::CopyWords, "Ctrl+C", "copy the selected text (Ctrl+A: the whole page; Shift with the arrow keys: more)", part},
    {Do::MoveParagraph, "Alt+Up Alt+Down", "in the text: move the selected word's paragraph up or down", part},
    {Do::SayOfParagraph, "Shift+F10", "in the text: options of that paragraph: leave out, type, read again", part},
    {Do::FindInText, "Ctrl+Shift+F", "find in the text of the document"},
    {Do::ReadAloud, "Ctrl+Shift+R", "read aloud from the selected word on, or stop"},
    {Do::Divide, "Ctrl+D",
     "start a document at this page, or join it to the previous one; after the last page: where the next one goes"},
    {Do::NextStarts, "Ctrl+Shift+D", "the next page starts a document, or goes to the last one"},
    {Do::Rename, "F2", "rename the document, and its file if saved"},
    {Do::ProposedNames, "Shift+F2", "names proposed for the document"},
    {Do::Remove, "Delete", "remove the selected pages", part},
    {Do::ChooseAll, "Ctrl+A", "select all pages"},
    {Do::ChooseOthers, "Ctrl+I", "invert the selection"},
    {Do::InTheTray, "Shift+arrows Space", "in the tray: select several pages", part},
    {Do::MovePageBack, "Alt+Left", "move the selected pages back"},
    {Do::MovePageOn, "Alt+Right", "move the selected pages forward"},
    {Do::Stitch, "Ctrl+G", "stitch the selected pages"},
    {Do::Undo, "Ctrl+Z", "undo"},
    {Do::Redo, "Ctrl+Shift+Z", "redo"},
    {Do::AddFiles, "Ctrl+O", "add picture files and PDFs"},
    {Do::Save, "Ctrl+S", "save this document"},
    {Do::SaveAll, "Ctrl+Shift+S", "save all"},
};

// Without the alternative name of the same key.
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
