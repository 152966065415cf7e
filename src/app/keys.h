// The window's keys, in one table: from it come the shortcuts, the keys said in tooltips, and the README's list.
#pragma once

#include <QString>

#include <span>

namespace yelvin {

enum class Do {
    Scan,
    Preview,
    Stop,
    LookAtGlass,
    LookAtPage,
    LookAtText,
    LookAtStrip,
    FindPapers,
    InCabinet,
    ShowTickets,
    KeepTicketAs,
    ScanWithTicket,
    FoldSide,
    TrayRest,
    OnlyView,
    NextRegion,
    RegionBefore,
    TurnLeft,
    TurnRight,
    TiltLeft,
    TiltRight,
    NextDoubtful,
    CopyWords,
    MoveParagraph,
    SayOfParagraph,
    FindInText,
    ReadAloud,
    Divide,
    NextStarts,
    Rename,
    ProposedNames,
    Remove,
    ChooseAll,
    ChooseOthers,
    MovePageBack,
    MovePageOn,
    Stitch,
    Crop,
    Flatten,
    AtTheCorners,
    HoldOriginal,
    HoldLoupe,
    FitPage,
    FitWidth,
    TwoPages,
    DotByDot,
    Rulers,
    Grid,
    OnTheGlass,
    InTheTray,
    Undo,
    Redo,
    AddFiles,
    Save,
    SaveAll,
};

struct Key {
    Do what;
    const char* keys; // as QKeySequence reads them; several are separated by a space
    const char* says; // what they do, for the README
    // A shortcut of the whole window; else a key of a part of it, or one that is held.
    enum class Reach { Window, Part } reach = Reach::Window;
};
std::span<const Key> all_keys();
const Key& key_of(Do what);

// "Save this document (Ctrl+S)"
QString with_key(const QString& words, Do what);
// A Markdown table, a row a key.
QString keys_as_markdown();

}
