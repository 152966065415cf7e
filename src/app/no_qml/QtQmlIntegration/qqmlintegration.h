// Qt's header for text-to-speech says by these that its class is for QML too. Where they are defined belongs to QML's
// development packages, thirty of them, which nothing here uses.
#pragma once

#define QML_ELEMENT
#define QML_UNCREATABLE(reason)
