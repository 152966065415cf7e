// Tells the thread sanitizer how Qt and oneTBB pass work from thread to thread, which it cannot see. Does nothing in
// other builds.
#pragma once

#ifdef __SANITIZE_THREAD__
#include <sanitizer/tsan_interface.h>
#endif

namespace yelvin {

// Everything before a give() happens before everything after a later take().
class TsanOrder {
  public:
#ifdef __SANITIZE_THREAD__
    void give() const { __tsan_release(const_cast<TsanOrder*>(this)); }
    void take() const { __tsan_acquire(const_cast<TsanOrder*>(this)); }
#else
    void give() const {}
    void take() const {}
#endif
};

// Calls take(), and give() at the end of the scope, for code that runs on one thread after another.
class TsanScope {
  public:
    explicit TsanScope(const TsanOrder& order) : order_(order) { order_.take(); }
    ~TsanScope() { order_.give(); }
    TsanScope(const TsanScope&) = delete;
    TsanScope& operator=(const TsanScope&) = delete;

  private:
    const TsanOrder& order_;
};

}
