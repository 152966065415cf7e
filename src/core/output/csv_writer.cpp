// Writes only the tables, separated by an empty line (RFC 4180: commas, lines ending with CR LF, quotes if needed).
#include "core/csv.h"
#include "core/output/joined_writer.h"

#include "core/text/tables.h"

#include <algorithm>

namespace yelvin {

namespace {

class CsvWriter : public JoinedWriter {
  public:
    explicit CsvWriter(std::filesystem::path file) : JoinedWriter(std::move(file), Format::Csv) {}

  private:
    std::string head(const EncodedPage&) override { return {}; }
    std::string page(const EncodedPage& page, int) override {
        std::string out;
        for (const TextParagraph& paragraph : page.text.paragraphs) {
            if (paragraph.kind != ParagraphKind::Table) continue;
            if (std::exchange(any_, true)) out += "\r\n";
            for (const auto& row : table_of(page.text, paragraph).rows) out += csv_line(row);
        }
        return out;
    }
    std::string tail() override { return {}; }
    Result<void> may_end() override {
        if (any_) return {};
        return fail(ErrorKind::BadInput,
                    "No table was found on these pages. Mark one in the Text view, or choose another format.");
    }
    bool any_ = false;
};

}

std::unique_ptr<DocumentWriter> new_csv_writer(const std::filesystem::path& file, const DocumentInfo&) {
    return std::make_unique<CsvWriter>(file);
}

}
