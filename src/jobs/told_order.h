// The thread sanitizer does not see how Qt and oneTBB pass work from thread to thread; it is told. Nothing in any other
// build.
#pragma once

#ifdef __SANITIZE_THREAD__
#include <sanitizer/tsan_interface.h>
#endif

namespace yelvin {

// What was done before a give() has happened for whoever calls take() afterwards.
class ToldOrder {
  public:
#ifdef __SANITIZE_THREAD__
    void give() const { __tsan_release(const_cast<ToldOrder*>(this)); }
    void take() const { __tsan_acquire(const_cast<ToldOrder*>(this)); }
#else
    void give() const {}
    void take() const {}
#endif
};

// Takes, and gives at its end: for what is called on one thread after another.
class InToldOrder {
  public:
    explicit InToldOrder(const ToldOrder& order) : order_(order) { order_.take(); }
    ~InToldOrder() { order_.give(); }
    InToldOrder(const InToldOrder&) = delete;
    InToldOrder& operator=(const InToldOrder&) = delete;

  private:
    const ToldOrder& order_;
};

}
