// Objects that many pages of a PDF bring along each for itself, such as their fonts, kept once.
#pragma once

#include <qpdf/QPDFObjectHandle.hh>

#include <functional>
#include <map>
#include <string>

namespace yelvin {

class SharedPdfObjects {
  public:
    // Puts a stream's bytes, as they are coded, where they take no memory, and makes it read them from there. Throws
    // where that is not possible.
    using Store = std::function<void(QPDFObjectHandle stream, const std::string& bytes)>;
    explicit SharedPdfObjects(Store store) : store_(std::move(store)) {}

    // Makes the page's resources its own and everything in them shared with earlier pages that have the same. All
    // streams that are met are stored; those that are not needed any more give their memory back. The page has to be in
    // the document that is being written.
    void share_resources(QPDFObjectHandle page);

  private:
    Store store_;
    std::map<QPDFObjGen, QPDFObjectHandle> done_;      // what stands for each object that was looked at
    std::map<std::string, QPDFObjectHandle> by_value_; // SHA-256 of what it is
    QPDFObjectHandle shared(QPDFObjectHandle object, int depth);
    void share_parts(QPDFObjectHandle& object, int depth);
};

}
