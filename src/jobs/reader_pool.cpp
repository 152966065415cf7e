#include "jobs/reader_pool.h"

namespace yelvin {

ReaderPool::Loan ReaderPool::borrow() {
    const std::scoped_lock lock(mutex_);
    if (idle_.empty()) return {*this, std::make_unique<Reader>()};
    auto reader = std::move(idle_.back());
    idle_.pop_back();
    return {*this, std::move(reader)};
}

void ReaderPool::give_back(std::unique_ptr<Reader> reader) {
    const std::scoped_lock lock(mutex_);
    idle_.push_back(std::move(reader));
}

}
