// Sharing objects that many pages of a PDF contain separately, such as fonts. Not thread-safe.
#pragma once

#include <qpdf/QPDFObjectHandle.hh>

#include <functional>
#include <map>
#include <string>

namespace yelvin {

class SharedPdfObjects {
  public:
    // Moves the coded bytes of a stream out of memory and makes the stream read them from there. Throws if that is
    // impossible.
    using Store = std::function<void(QPDFObjectHandle stream, const std::string& bytes)>;
    explicit SharedPdfObjects(Store store) : store_(std::move(store)) {}

    // Replaces the objects in the page's resources by equal objects of earlier pages. All streams are stored; those
    // that are no longer needed release their memory. The page must be in the document that is being written.
    void share_resources(QPDFObjectHandle page);

  private:
    Store store_;
    std::map<QPDFObjGen, QPDFObjectHandle> done_;      // the shared object for each object that was visited
    std::map<std::string, QPDFObjectHandle> by_value_; // by the SHA-256 of their contents
    QPDFObjectHandle shared(QPDFObjectHandle object, int depth);
    void share_parts(QPDFObjectHandle& object, int depth);
};

}
