#include "core/seeing/barcode.h"

#include <ZXing/BitMatrix.h>
#include <ZXing/MultiFormatWriter.h>
#include <ZXing/ReadBarcode.h>
#include <ZXing/TextUtfEncoding.h>

#include <exception>

namespace yelvin {

std::vector<std::string> barcodes(const Raster& page) {
    constexpr double work_dpi = 200;
    const Raster small = at_resolution(page, work_dpi);
    const cv::Mat grey = grey_pixels(small);
    const ZXing::ImageView view(grey.data, grey.cols, grey.rows, ZXing::ImageFormat::Lum, static_cast<int>(grey.step));
    std::vector<std::string> texts;
    try {
        for (const auto& found :
             ZXing::ReadBarcodes(view, ZXing::DecodeHints().setTryHarder(true).setTryRotate(true))) {
            if (found.isValid()) texts.push_back(ZXing::TextUtfEncoding::ToUtf8(found.text()));
        }
    } catch (const std::exception&) {
        return texts; // An exception of ZXing means that there is no readable barcode.
    }
    return texts;
}

cv::Mat qr_code(const std::string& text) {
    try {
        ZXing::MultiFormatWriter writer(ZXing::BarcodeFormat::QRCode);
        writer.setEncoding(ZXing::CharacterSet::UTF8).setMargin(4).setEccLevel(6); // the middle of L M Q H
        const ZXing::BitMatrix bits = writer.encode(ZXing::TextUtfEncoding::FromUtf8(text), 0, 0);
        cv::Mat code(bits.height(), bits.width(), CV_8UC1);
        for (int y = 0; y < code.rows; ++y) {
            for (int x = 0; x < code.cols; ++x) code.at<uchar>(y, x) = bits.get(x, y) ? 0 : 255;
        }
        return code;
    } catch (const std::exception&) {
        return {};
    }
}

}
