// The table of the window's keys, from which shortcuts, tooltips and docs/handbook/keys.md are made. Constants and pure
// functions.
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
    ActualPixels,
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
    const char* keys; // in QKeySequence's notation; several are separated by spaces
    const char* says; // what they do, for docs/handbook/keys.md
    // Whether it is a shortcut of the whole window, or a key of a part of it or one that is held.
    enum class Reach { Window, Part } reach = Reach::Window;
};
std::span<const Key> all_keys();
const Key& key_of(Do what);

// "Save this document (Ctrl+S)"
QString with_key(const QString& words, Do what);
// Returns a Markdown table with a row for each key.
QString keys_as_markdown();

}
