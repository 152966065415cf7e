// Separator sheets to print: the texts and the file are asked for, and the PDF is saved.
#pragma once

#include "core/error.h"

#include <QStringList>
#include <QWidget>

#include <filesystem>
#include <functional>

namespace yelvin {

// Shows the two dialogs over `window`, and calls `then` with the file and the texts, unless the user cancels.
void ask_for_separators(QWidget* window,
                        const std::function<void(const QString& file, const QStringList& texts)>& then);

// Saves a sheet for each text beside `file`, under the next free number if that name exists, and returns the file.
// Blocks on the disk: never call it on the window's thread. Errors: those of save_file() and write_separator_sheets().
Result<std::filesystem::path> save_separators(const std::filesystem::path& file, const std::vector<std::string>& texts);

}
