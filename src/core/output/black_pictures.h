// The black-and-white pictures of a PDF, stored as JBIG2 (ISO 32000-1, 7.4.7): pages that follow each other share the
// letters that they have in common.
//
// A picture is encoded when thirty-two have come or the last one, so memory does not grow with the number of pages.
// Used by one thread at a time, together with its document.
#pragma once

#include "core/error.h"
#include "core/jbig2/jbig2_encoder.h"

#include <qpdf/QPDF.hh>
#include <qpdf/QPDFObjectHandle.hh>

#include <functional>
#include <string>
#include <vector>

namespace yelvin {

class BlackPictures {
  public:
    // Sets the data of a stream, its filter and the filter's parameters.
    using Store = std::function<Result<void>(QPDFObjectHandle stream, const std::string& bytes,
                                             const std::string& filter, QPDFObjectHandle parameters)>;
    // `pdf` must outlive this object.
    BlackPictures(QPDF& pdf, Store store) : pdf_(pdf), store_(std::move(store)) {}

    // Adds the picture of an image stream, which gets its data later. `g4` is the picture as encode_g4() returns it.
    // Errors: those of the Store.
    Result<void> add(const QPDFObjectHandle& image, std::string g4, cv::Size size, double dpi);
    // Stores the pictures that have no data yet. Errors: those of the Store.
    Result<void> finish();

  private:
    struct Waiting {
        QPDFObjectHandle image;
        std::string g4;
        cv::Size size;
    };
    QPDF& pdf_;
    Store store_;
    Jbig2Encoder encoder_;
    std::vector<Waiting> waiting_;

    Result<void> store_g4(const Waiting& picture);
};

// Returns the size of such a picture in a PDF of one page.
size_t bytes_of_black_picture(const std::string& g4, cv::Size size);

}
