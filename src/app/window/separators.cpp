#include "app/window/separators.h"

#include "core/naming/file_name.h"
#include "core/output/separator_sheet.h"
#include "core/saving/safe_file.h"

#include <QCoreApplication>
#include <QDir>
#include <QFileDialog>
#include <QInputDialog>

namespace yelvin {

namespace {
struct SeparatorText {
    Q_DECLARE_TR_FUNCTIONS(SeparatorText)
};
}

void ask_for_separators(QWidget* window,
                        const std::function<void(const QString& file, const QStringList& texts)>& then) {
    bool wanted = false;
    const QString typed = QInputDialog::getMultiLineText(
        window, SeparatorText::tr("Separator sheets"),
        SeparatorText::tr("One line for each sheet. Its text names the document after it; an empty line only "
                          "separates."),
        {}, &wanted);
    if (!wanted) return;
    const QString file =
        QFileDialog::getSaveFileName(window, SeparatorText::tr("Save the PDF to print"),
                                     QDir::homePath() + "/Separators.pdf", SeparatorText::tr("PDF (*.pdf)"));
    if (!file.isEmpty()) then(file, typed.split('\n'));
}

Result<std::filesystem::path> save_separators(const std::filesystem::path& file,
                                              const std::vector<std::string>& texts) {
    const auto saved = save_file(
        file.parent_path(), [&](int attempt) { return numbered_name(file.stem().string(), attempt) + ".pdf"; },
        [&](const std::filesystem::path& growing) { return write_separator_sheets(growing, texts); });
    if (!saved) return std::unexpected(saved.error());
    return saved->path;
}

}
