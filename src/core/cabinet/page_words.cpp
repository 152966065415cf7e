#include "core/cabinet/page_words.h"

#include "core/cabinet/small_numbers.h"
#include "core/cabinet/word_places.h"

#include <zdict.h>
#include <zstd.h>

namespace yelvin {

namespace {

std::string one_word(std::string text) {
    for (char& c : text)
        if (static_cast<unsigned char>(c) <= ' ') c = '_';
    return text.empty() ? "_" : text;
}

}

PageWords words_of_page(const PageText& text, double dpi) {
    const double mm = dpi > 0 ? 25.4 / dpi : 25.4 / 300;
    PageWords page{text.layer.width_px * mm, text.layer.height_px * mm, {}};
    for (const TextParagraph& paragraph : text.paragraphs)
        for (size_t i = paragraph.first; i < paragraph.first + paragraph.count; ++i) {
            const TextLine& line = text.layer.lines[i];
            PlacedLine placed{{}, line.language, paragraph.kind == ParagraphKind::Heading};
            for (const Word& word : line.words)
                placed.words.push_back(
                    {word.text, {word.box.x * mm, word.box.y * mm, word.box.width * mm, word.box.height * mm}});
            if (!placed.words.empty()) page.lines.push_back(std::move(placed));
        }
    return page;
}

std::string packed_text(const PageWords& page) {
    std::string text;
    for (const PlacedLine& line : page.lines) {
        if (line.heading) text += heading_mark;
        for (size_t i = 0; i < line.words.size(); ++i) {
            text += one_word(line.words[i].text);
            text += i + 1 < line.words.size() ? ' ' : '\n';
        }
    }
    if (!text.empty()) text.pop_back();
    return text;
}

struct WordPacker::Coding {
    // A compressor for one dictionary, whose tables are computed once.
    class Coder {
      public:
        explicit Coder(std::string dictionary) {
            ZSTD_CCtx_setParameter(packing_.get(), ZSTD_c_compressionLevel, level);
            ZSTD_CCtx_setParameter(packing_.get(), ZSTD_c_dictIDFlag, 0);
            if (dictionary.empty()) return;
            to_.reset(ZSTD_createCDict(dictionary.data(), dictionary.size(), level));
            from_.reset(ZSTD_createDDict(dictionary.data(), dictionary.size()));
            ZSTD_CCtx_refCDict(packing_.get(), to_.get());
        }
        std::string compressed(std::string_view bytes) {
            std::string out(ZSTD_compressBound(bytes.size()), '\0');
            const size_t size = ZSTD_compress2(packing_.get(), out.data(), out.size(), bytes.data(), bytes.size());
            if (ZSTD_isError(size)) throw std::runtime_error(ZSTD_getErrorName(size));
            out.resize(size);
            return out.substr(begin_of_all.size());
        }
        // Accepts data with and without the common first bytes of all frames. They can be told apart because the byte
        // after them is never 0x28 (RFC 8878, 3.1.1.1.1: one bit of it is always 0).
        std::string decompressed(std::string_view kept) {
            std::string bytes(kept.starts_with(begin_of_all) ? std::string_view() : begin_of_all);
            bytes += kept;
            const auto size = ZSTD_getFrameContentSize(bytes.data(), bytes.size());
            // Zstandard's two error codes are larger too.
            if (size > 64ULL << 20) throw std::runtime_error("no packed words");
            std::string out(size, '\0');
            const size_t got = ZSTD_decompress_usingDDict(unpacking_.get(), out.data(), out.size(), bytes.data(),
                                                          bytes.size(), from_.get());
            if (ZSTD_isError(got) || got != size) throw std::runtime_error("no packed words");
            return out;
        }

      private:
        static constexpr int level = 19;
        static constexpr std::string_view begin_of_all = "\x28\xB5\x2F\xFD"; // RFC 8878, 3.1.1
        std::unique_ptr<ZSTD_CCtx, decltype(&ZSTD_freeCCtx)> packing_{ZSTD_createCCtx(), ZSTD_freeCCtx};
        std::unique_ptr<ZSTD_DCtx, decltype(&ZSTD_freeDCtx)> unpacking_{ZSTD_createDCtx(), ZSTD_freeDCtx};
        std::unique_ptr<ZSTD_CDict, decltype(&ZSTD_freeCDict)> to_{nullptr, ZSTD_freeCDict};
        std::unique_ptr<ZSTD_DDict, decltype(&ZSTD_freeDDict)> from_{nullptr, ZSTD_freeDDict};
    };
    Coder text, places;
};

WordPacker::WordPacker(PackingDictionary dictionary)
    : coding_(new Coding{Coding::Coder(std::move(dictionary.text)), Coding::Coder(std::move(dictionary.places))}) {}
WordPacker::~WordPacker() = default;
WordPacker::WordPacker(WordPacker&&) noexcept = default;
WordPacker& WordPacker::operator=(WordPacker&&) noexcept = default;

std::string WordPacker::packed(const PageWords& page) {
    const std::string text = coding_->text.compressed(packed_text(page));
    std::string out;
    put(out, static_cast<std::uint32_t>(text.size()));
    return out + text + coding_->places.compressed(packed_places(page));
}

std::optional<PageWords> WordPacker::unpacked(std::string_view bytes) {
    try {
        Numbers parts(bytes);
        const std::string text = coding_->text.decompressed(parts.take_bytes(parts.take()));
        return page_of(text, coding_->places.decompressed(parts.take_bytes(parts.left())));
    } catch (const std::exception&) {
        return std::nullopt;
    }
}

std::optional<PageWords> WordPacker::unpacked_text(std::string_view bytes) {
    try {
        Numbers parts(bytes);
        const std::string text = coding_->text.decompressed(parts.take_bytes(parts.take()));
        PageWords page;
        if (text.empty()) return page;
        for (std::string_view each : parted(text, '\n')) {
            PlacedLine& line = page.lines.emplace_back();
            line.heading = each.starts_with(heading_mark);
            if (line.heading) each.remove_prefix(1);
            for (const std::string_view word : parted(each, ' ')) line.words.push_back({std::string(word), {}});
        }
        return page;
    } catch (const std::exception&) {
        return std::nullopt;
    }
}

namespace {

std::string trained(const std::vector<std::string>& samples, size_t most_bytes) {
    std::string all;
    std::vector<size_t> sizes;
    for (const std::string& sample : samples) {
        all += sample;
        sizes.push_back(sample.size());
    }
    std::string out(most_bytes, '\0');
    const size_t size =
        ZDICT_trainFromBuffer(out.data(), out.size(), all.data(), sizes.data(), static_cast<unsigned>(sizes.size()));
    if (ZDICT_isError(size)) return {};
    out.resize(size);
    return out;
}

}

PackingDictionary trained_dictionary(const std::vector<PageWords>& pages) {
    constexpr size_t text_bytes = 500'000, places_bytes = 16'000, fewest = 100;
    if (pages.size() < fewest) return {};
    std::vector<std::string> texts, places;
    for (const PageWords& page : pages) {
        texts.push_back(packed_text(page));
        places.push_back(packed_places(page));
    }
    PackingDictionary out{trained(texts, text_bytes), trained(places, places_bytes)};
    if (out.places.empty()) out.text.clear(); // A dictionary for texts is used only together with one for places.
    return out;
}

}
