// Writes an e-book (EPUB 3.3): one chapter per page, a table of contents from the headings, and the first page as
// cover.
#include "core/output/html_blocks.h"
#include "core/output/joined_writer.h"
#include "core/output/zip_file.h"
#include "core/xml_text.h"

#include <fmt/chrono.h>
#include <fmt/format.h>

#include <ctime>
#include <random>

namespace yelvin {

namespace {

// A random UUID (RFC 4122, section 4.4).
std::string new_uuid() {
    std::random_device random;
    const std::uint32_t a = random(), b = random(), c = random(), d = random();
    return fmt::format("{:08x}-{:04x}-4{:03x}-{:04x}-{:04x}{:08x}", a, b >> 16U, b & 0xFFFU,
                       (c >> 16U & 0x3FFFU) | 0x8000U, c & 0xFFFFU, d);
}

std::string xhtml(const std::string& title, const std::string& language, const std::string& body) {
    return fmt::format("<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<!DOCTYPE html>\n<html "
                       "xmlns=\"http://www.w3.org/1999/xhtml\" xmlns:epub=\"http://www.idpf.org/2007/ops\" "
                       "lang=\"{0}\" xml:lang=\"{0}\">\n<head>\n<title>{1}</title>\n<link rel=\"stylesheet\" "
                       "type=\"text/css\" href=\"style.css\" />\n</head>\n<body>\n{2}</body>\n</html>\n",
                       language, xml_text(title), body);
}

class EpubWriter : public DocumentWriter {
  public:
    EpubWriter(std::filesystem::path file, DocumentInfo info)
        : DocumentWriter(std::move(file), Format::Epub), info_(std::move(info)) {}

  private:
    Result<void> add(EncodedPage page) override {
        const int number = ++pages_;
        if (number == 1) {
            if (auto begun = begin(page); !begun) return begun;
        }
        std::string failed;
        HtmlHow how;
        how.page_language = language_;
        how.page = number;
        how.source_of = [&](const FlowPicture& picture) {
            std::string name = fmt::format("picture{}.{}", ++pictures_, picture.is_png ? "png" : "jpg");
            if (!put("EPUB/" + name, picture.bytes, ZipFile::Packed::No)) failed = name;
            manifest_ += fmt::format("<item id=\"picture{}\" href=\"{}\" media-type=\"image/{}\" />\n", pictures_, name,
                                     picture.is_png ? "png" : "jpeg");
            return name;
        };
        how.heading_id = [&](const FlowBlock& block) {
            std::string id = fmt::format("h{}", ++headings_);
            contents_ +=
                fmt::format("<li><a href=\"page{}.xhtml#{}\">{}</a></li>\n", number, id, xml_text(block.text()));
            return id;
        };
        const std::string body = fmt::format("<section epub:type=\"chapter\" aria-label=\"Page {}\">\n{}</section>\n",
                                             number, html_blocks(page.flow, how));
        const std::string name = fmt::format("page{}.xhtml", number);
        manifest_ +=
            fmt::format("<item id=\"page{}\" href=\"{}\" media-type=\"application/xhtml+xml\" />\n", number, name);
        spine_ += fmt::format("<itemref idref=\"page{}\" />\n", number);
        page_list_ += fmt::format("<li><a href=\"{}\">Page {}</a></li>\n", name, number);
        auto kept = put("EPUB/" + name, xhtml(fmt::format("Page {}", number), language_, body), ZipFile::Packed::Yes);
        return failed.empty() ? kept : spool_trouble_;
    }

    Result<void> begin(const EncodedPage& first) {
        const std::string tag = language_tag(first.text.layer.language);
        language_ = tag == "und" ? "en" : tag;
        // The first part of the container, not compressed (OCF 3.3).
        if (auto kept = zip_.add("mimetype", "application/epub+zip", ZipFile::Packed::No); !kept) return kept;
        if (auto kept = zip_.add("META-INF/container.xml",
                                 "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<container version=\"1.0\" "
                                 "xmlns=\"urn:oasis:names:tc:opendocument:xmlns:container\">\n<rootfiles>\n<rootfile "
                                 "full-path=\"EPUB/package.opf\" media-type=\"application/oebps-package+xml\" "
                                 "/>\n</rootfiles>\n</container>\n");
            !kept)
            return kept;
        if (auto kept = zip_.add("EPUB/style.css", html_style()); !kept) return kept;
        return put("EPUB/cover.jpg", first.cover, ZipFile::Packed::No);
    }

    Result<void> put(const std::string& name, std::string_view bytes, ZipFile::Packed packed) {
        auto kept = spooled(spool_, bytes);
        if (!kept) return spool_trouble_ = std::unexpected(kept.error());
        zip_.add(name, std::move(*kept), packed);
        return {};
    }

    Result<void> complete() override {
        const std::string package = fmt::format(
            "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<package xmlns=\"http://www.idpf.org/2007/opf\" "
            "version=\"3.0\" "
            "unique-identifier=\"id\" xml:lang=\"{0}\">\n<metadata "
            "xmlns:dc=\"http://purl.org/dc/elements/1.1/\">\n<dc:identifier id=\"id\">urn:uuid:{1}</dc:identifier>\n"
            "<dc:title>{2}</dc:title>\n{6}{7}{8}<dc:language>{0}</dc:language>\n<meta "
            "property=\"dcterms:modified\">{3:%Y-%m-%dT%H:%M:%SZ}</meta>\n</metadata>\n<manifest>\n<item id=\"nav\" "
            "href=\"nav.xhtml\" media-type=\"application/xhtml+xml\" properties=\"nav\" />\n<item id=\"style\" "
            "href=\"style.css\" media-type=\"text/css\" />\n<item id=\"cover\" href=\"cover.jpg\" "
            "media-type=\"image/jpeg\" properties=\"cover-image\" "
            "/>\n{4}</manifest>\n<spine>\n{5}</spine>\n</package>\n",
            language_, new_uuid(), xml_text(info_.title.empty() ? "Untitled" : info_.title),
            fmt::gmtime(std::time(nullptr)), manifest_, spine_, element_with("dc:creator", info_.author),
            element_with("dc:description", info_.subject), element_with("dc:subject", info_.keywords));
        const std::string nav =
            fmt::format("<nav epub:type=\"toc\" id=\"toc\">\n<ol>\n{}</ol>\n</nav>\n<nav epub:type=\"page-list\" "
                        "hidden=\"hidden\">\n<ol>\n{}</ol>\n</nav>\n",
                        contents_.empty() ? page_list_ : contents_, page_list_);
        if (auto kept = put("EPUB/nav.xhtml", xhtml(info_.title.empty() ? "Contents" : info_.title, language_, nav),
                            ZipFile::Packed::Yes);
            !kept)
            return kept;
        if (auto kept = put("EPUB/package.opf", package, ZipFile::Packed::Yes); !kept) return kept;
        return zip_.write(file());
    }

    DocumentInfo info_;
    std::string language_ = "en", manifest_, spine_, contents_, page_list_;
    std::shared_ptr<Spool> spool_ = std::make_shared<Spool>();
    ZipFile zip_;
    int pages_ = 0, pictures_ = 0, headings_ = 0;
    Result<void> spool_trouble_;
};

}

std::unique_ptr<DocumentWriter> new_epub_writer(const std::filesystem::path& file, const DocumentInfo& info) {
    return std::make_unique<EpubWriter>(file, info);
}

}
