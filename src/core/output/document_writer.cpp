#include "core/output/document_writer.h"

namespace yelvin {

Result<void> DocumentWriter::append(EncodedPage page) {
    ++pages_;
    return add(std::move(page));
}

Result<void> DocumentWriter::finish() {
    if (auto completed = complete(); !completed) return completed;
    return opens_again(file_, format_, pages_, password_);
}

}
