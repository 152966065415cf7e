#include "core/output/pdf_shared.h"

#include <glib.h>
#include <qpdf/Buffer.hh>
#include <qpdf/QPDFPageObjectHelper.hh>

#include <memory>

namespace yelvin {

namespace {

constexpr int deepest = 40; // of objects within objects

std::string hash_of(const std::string& kind, const std::string& value) {
    const std::unique_ptr<GChecksum, decltype(&g_checksum_free)> sum(g_checksum_new(G_CHECKSUM_SHA256),
                                                                     g_checksum_free);
    for (const std::string* each : {&kind, &value})
        g_checksum_update(sum.get(), reinterpret_cast<const guchar*>(each->data()), static_cast<gssize>(each->size()));
    return g_checksum_get_string(sum.get());
}

std::string coded_bytes(QPDFObjectHandle& stream) {
    const auto buffer = stream.getRawStreamData();
    return {reinterpret_cast<const char*>(buffer->getBuffer()), buffer->getSize()};
}

// Whether the key refers back to a parent object.
bool leads_up(const std::string& key) { return key == "/Parent" || key == "/P" || key == "/StructParents"; }

}

void SharedPdfObjects::share_parts(QPDFObjectHandle& object, int depth) {
    if (object.isArray()) {
        for (int i = 0; i < object.getArrayNItems(); ++i)
            object.setArrayItem(i, shared(object.getArrayItem(i), depth + 1));
        return;
    }
    QPDFObjectHandle dictionary = object.isStream() ? object.getDict() : object;
    if (!dictionary.isDictionary()) return;
    for (const auto& [key, value] : dictionary.getDictAsMap())
        if (!leads_up(key)) dictionary.replaceKey(key, shared(value, depth + 1));
}

QPDFObjectHandle SharedPdfObjects::shared(QPDFObjectHandle object, int depth) {
    if (depth > deepest) return object;
    if (!object.isIndirect()) {
        share_parts(object, depth);
        return object;
    }
    const QPDFObjGen id = object.getObjGen();
    if (const auto [at, is_new] = done_.try_emplace(id, object); !is_new) return at->second; // also within a circle
    share_parts(object, depth);
    if (!object.isStream()) {
        const auto [at, is_new] = by_value_.try_emplace(hash_of("object", object.unparseResolved()), object);
        return done_[id] = at->second;
    }
    const std::string bytes = coded_bytes(object);
    const auto [at, is_new] = by_value_.try_emplace(hash_of(object.getDict().unparse(), bytes), object);
    if (is_new)
        store_(object, bytes);
    else
        object.replaceStreamData(std::string(), QPDFObjectHandle::newNull(), QPDFObjectHandle::newNull());
    return done_[id] = at->second;
}

void SharedPdfObjects::share_resources(QPDFObjectHandle page) {
    QPDFObjectHandle resources = QPDFPageObjectHelper(page).getAttribute("/Resources", false);
    if (!resources.isDictionary()) return;
    resources = resources.shallowCopy();
    for (auto& [kind, value] : resources.getDictAsMap()) {
        if (!value.isDictionary()) continue;
        QPDFObjectHandle named = value.shallowCopy();
        for (const auto& [name, object] : named.getDictAsMap()) named.replaceKey(name, shared(object, 0));
        resources.replaceKey(kind, named);
    }
    page.replaceKey("/Resources", resources);
}

}
