// Writes plain UTF-8 text: paragraphs in one line each, separated by empty lines, or lines as on the page.
#include "core/output/joined_writer.h"

namespace yelvin {

namespace {

class TextWriter : public JoinedWriter {
  public:
    explicit TextWriter(std::filesystem::path file) : JoinedWriter(std::move(file), Format::Text) {}

  private:
    std::string head(const EncodedPage&) override { return {}; }
    std::string page(const EncodedPage& page, int) override {
        const auto words = static_cast<size_t>(page.text.layer.word_count());
        if (words == 0) return {};
        const std::string between = std::exchange(any_, true) ? "\n" : "";
        return between +
               (page.make.lines_as_printed ? page.text.layer.text() : running_text(page.text, 0, words - 1) + "\n");
    }
    std::string tail() override { return {}; }
    Result<void> may_end() override {
        if (any_) return {};
        return fail(ErrorKind::BadInput,
                    "No text was found on these pages, so the text file would be empty. Choose another format.");
    }
    bool any_ = false;
};

}

std::unique_ptr<DocumentWriter> new_text_writer(const std::filesystem::path& file, const DocumentInfo&) {
    return std::make_unique<TextWriter>(file);
}

}
